"""What is done with any layer, scene or class map: renamed, removed, kept, taken away."""

import json

from fastapi import Request, Response
from fastapi.responses import FileResponse

from kitesort.api.downloads import file_stem
from kitesort.api.routes import api_router
from kitesort.api.runs import run_out
from kitesort.api.schemas import DependantOut, Id, LayerPatch, NamedLayerOut, RunOut
from kitesort.core.recipe import portable
from kitesort.runs import keep_layer
from kitesort.runs.queue import RunQueue
from kitesort.store import layers

router = api_router("layers")


@router.patch("/layers/{layer_id}")
def rename_layer(layer_id: Id, body: LayerPatch) -> NamedLayerOut:
    renamed = layers.rename_layer(layer_id, body.title)
    return NamedLayerOut(id=renamed.id, kind=renamed.kind, title=renamed.title)


@router.delete("/layers/{layer_id}", status_code=204)
def remove_layer(layer_id: Id) -> None:
    layers.remove_layer(layer_id)


@router.get("/layers/{layer_id}/dependants")
def get_dependants(layer_id: Id) -> list[DependantOut]:
    """Layers that are made of this one."""
    return [DependantOut(id=s.id, title=s.title) for s in layers.dependants_of(layer_id)]


@router.post("/layers/{layer_id}/keep", status_code=201)
def keep(request: Request, layer_id: Id) -> RunOut:
    """Write the layer to disk, as a run."""
    layer = layers.get_layer(layer_id)
    queue: RunQueue = request.app.state.queue
    task = keep_layer.KeepTask(layer_id=layer_id)
    return run_out(queue.submit(layer.study_id, f"Keeping {layer.title}", keep_layer.KIND, task))


@router.get("/layers/{layer_id}/file", response_class=FileResponse)
def download_layer(layer_id: Id) -> FileResponse:
    """A kept layer as Cloud Optimized GeoTIFF."""
    layer = layers.get_layer(layer_id)
    return FileResponse(
        layers.kept_file(layer),
        media_type="image/tiff",
        filename=f"{file_stem(layer.title)}.tif",
    )


@router.get("/layers/{layer_id}/recipe", response_class=Response)
def download_recipe(layer_id: Id) -> Response:
    """The layer's recipe as JSON."""
    told = json.loads(portable(layers.recipe_of(layer_id)))
    return Response(
        json.dumps(told, indent=1, ensure_ascii=False),
        media_type="application/json",
        headers={"Content-Disposition": 'attachment; filename="recipe.json"'},
    )
