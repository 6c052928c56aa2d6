"""Class breaks: counts and remarks while they are set, the picture, and the map."""

from typing import Annotated

from fastapi import Query, Request, Response
from pydantic import ValidationError

from kitesort.api.derive_schemas import (
    BreakCountsOut,
    BreaksIn,
    BreakStartIn,
    ClassCountOut,
)
from kitesort.api.pictures import picture_response
from kitesort.api.routes import api_router
from kitesort.api.runs import run_out
from kitesort.api.scene_tiles import PNG
from kitesort.api.schemas import Id, RunOut
from kitesort.core.derive.breaks import BreakTable
from kitesort.core.display.tile import colours_of, render_classes
from kitesort.core.errors import BadSettingsError
from kitesort.core.outside_json import read_json
from kitesort.core.settings import describe_invalid
from kitesort.runs import make_map
from kitesort.runs.queue import RunQueue
from kitesort.study.breaks import (
    breaks_recipe,
    breaks_tile,
    count_in_layer,
    start_in_layer,
)
from kitesort.study.rasters import layer_record, open_layer

router = api_router("derive")


@router.post("/scenes/{scene_id}/breaks/counts")
def count_breaks(scene_id: Id, body: BreaksIn) -> BreakCountsOut:
    """Pixels per class, and gaps and values at limits in words."""
    found = count_in_layer(scene_id, body.role, body.table)
    return BreakCountsOut(
        classes=[
            ClassCountOut(code=code, pixels=n, percent=100 * n / max(found.n_valid, 1))
            for code, n in found.pixels.items()
        ],
        n_valid=found.n_valid,
        remarks=found.remarks,
    )


@router.post("/scenes/{scene_id}/breaks/start")
def start_breaks(scene_id: Id, body: BreakStartIn) -> BreakTable:
    """A table to start from."""
    return start_in_layer(scene_id, body.role, body.n_classes, body.start)


@router.get(
    "/scenes/{scene_id}/breaks/tiles/{level}/{row}/{col}.png",
    response_class=Response,
    responses=PNG,
)
def get_breaks_tile(
    request: Request,
    scene_id: Id,
    level: int,
    row: int,
    col: int,
    role: Annotated[str, Query(max_length=64)],
    table: Annotated[str, Query(max_length=5_000, description="a table of breaks as JSON")],
) -> Response:
    """The class map as the table stands, without a run."""
    parsed = _parse_table(table)
    raster = open_layer(scene_id)

    def make() -> bytes:
        block = breaks_tile(scene_id, role, parsed, level, row, col)
        return render_classes(block, colours_of(parsed.legend))

    key = f"{raster.fingerprint}|{level}|{row}|{col}|{role}|{parsed.model_dump_json()}"
    return picture_response(request, key, make)


def _parse_table(text: str) -> BreakTable:
    try:
        return BreakTable.model_validate(read_json(text))
    except ValidationError as error:
        raise BadSettingsError(f"The table cannot be used: {describe_invalid(error)}") from error
    except ValueError as error:
        raise BadSettingsError("The table is no JSON.") from error


@router.post("/scenes/{scene_id}/breaks/map", status_code=201)
def keep_breaks_map(request: Request, scene_id: Id, body: BreaksIn) -> RunOut:
    """Keep the class map, as a run."""
    recipe = breaks_recipe(scene_id, body.role, body.table)
    queue: RunQueue = request.app.state.queue
    scene = layer_record(scene_id)
    title = f"Class breaks of {body.role}, {scene.title}"
    return run_out(
        queue.submit(scene.study_id, title, make_map.KIND, make_map.MapTask(recipe=recipe))
    )
