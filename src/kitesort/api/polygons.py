"""Polygons of class maps: made by a run, taken away as a file."""

from typing import Annotated

from fastapi import Request
from fastapi.responses import FileResponse
from pydantic import Field

from kitesort.api.downloads import file_stem
from kitesort.api.routes import api_router
from kitesort.api.runs import run_out
from kitesort.api.schemas import Id, In, RunOut
from kitesort.core.errors import NotFoundError
from kitesort.core.objects.polygon_file import Form
from kitesort.core.operation import LayerRef
from kitesort.core.raster.protocol import band_positions, require_same_grid
from kitesort.runs import make_polygons
from kitesort.runs.queue import RunQueue
from kitesort.store.files import export_path
from kitesort.store.layers import get_layer
from kitesort.store.runs import get_run
from kitesort.study.maps import get_map
from kitesort.study.rasters import open_layer, require_own

router = api_router("polygons")
MEDIA: dict[Form, str] = {
    "gpkg": "application/geopackage+sqlite3",
    "geojson": "application/geo+json",
}


class PolygonsCreate(In):
    """``tolerance_m``: side in metres of the square that a corner is worth at least, 0 keeps all;
    ``measure``: a band of a layer on the same grid, whose mean each polygon tells."""

    tolerance_m: Annotated[float, Field(ge=0, le=100_000)] = 0.0
    form: Form = "gpkg"
    measure: LayerRef | None = None


@router.post("/maps/{layer_id}/polygons", status_code=201)
def create_polygons(request: Request, layer_id: Id, body: PolygonsCreate) -> RunOut:
    """Queue the polygons of a class map."""
    layer = get_map(layer_id)
    if body.measure is not None:
        require_own(layer.study_id, [body.measure.scene_id])
        measured = open_layer(body.measure.scene_id)
        band_positions(measured.bands, (body.measure.role,))
        require_same_grid(open_layer(layer_id, "work"), measured)
    queue: RunQueue = request.app.state.queue
    task = make_polygons.PolygonsTask(layer_id=layer_id, **body.model_dump())
    title = f"Polygons of {layer.title}"
    return run_out(queue.submit(layer.study_id, title, make_polygons.KIND, task))


@router.get("/runs/{run_id}/file", response_class=FileResponse)
def download_polygons(run_id: Id) -> FileResponse:
    """What a run has made to be taken away; there for a week."""
    run = get_run(run_id)
    made = make_polygons.row_of(run)
    if made is None or run.layer_id is None:
        raise NotFoundError("The run has made no file to be taken away.")
    path = export_path(make_polygons.PolygonsRow.model_validate(made).file)
    if not path.is_file():
        raise NotFoundError("The file was there for a week. Make the polygons again.")
    form = make_polygons.PolygonsTask.model_validate(run.task).form
    stem = file_stem(get_layer(run.layer_id).title)
    return FileResponse(path, media_type=MEDIA[form], filename=f"{stem}.{form}")
