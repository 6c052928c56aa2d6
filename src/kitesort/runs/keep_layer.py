"""The keep run: write a layer's pixels to disk, each kind as it is kept."""

import time
from datetime import date

from pydantic import BaseModel

from kitesort.core.engine import Watch
from kitesort.core.raster.class_file import ClassMapResult, write_class_map
from kitesort.core.raster.protocol import Raster
from kitesort.core.raster.scene_file import write_scene
from kitesort.core.recipe import Recipe, portable, sentence_of
from kitesort.runs.reporter import watch_run
from kitesort.store.database import transaction
from kitesort.store.files import layer_path, remove_kept
from kitesort.store.layers import get_layer, recipe_of, set_kept
from kitesort.store.records import Layer, Run
from kitesort.store.runs import finish_run
from kitesort.study.maps import areas_of
from kitesort.study.rasters import open_layer

KIND = "keep"


class KeepTask(BaseModel):
    layer_id: int


def keep_layer(run: Run) -> None:
    layer = get_layer(KeepTask.model_validate(run.task).layer_id)
    if layer.kind == "classes":
        _keep_map(run, layer)
    else:
        _keep_scene(run, layer)


def _keep_scene(run: Run, layer: Layer) -> None:
    started = time.monotonic()
    name = f"scene-{layer.id}-run-{run.id}.tif"
    kept = write_scene(
        open_layer(layer.id),
        layer_path(name),
        tags=scene_tags(recipe_of(layer.id), layer.acquired),
        watch=watch_run(run.id),
    )
    share = 100 * kept.n_valid / kept.n_pixels
    with transaction():
        before = set_kept(layer.id, name)
        seconds = time.monotonic() - started
        said = f"Kept “{layer.title}” after {seconds:.1f} s; {share:.1f} % of its pixels usable."
        finish_run(run.id, [said], layer.id)
    remove_kept(before)


def _keep_map(run: Run, layer: Layer) -> None:
    started = time.monotonic()
    name = f"class-map-{layer.id}-run-{run.id}.tif"
    raster = open_layer(layer.id)
    result = write_map(recipe_of(layer.id), raster, name, watch_run(run.id))
    with transaction():
        seconds = time.monotonic() - started
        before = set_kept(layer.id, name, areas_of(result, seconds))
        finish_run(run.id, [f"Kept “{layer.title}” after {seconds:.1f} s."], layer.id)
    remove_kept(before)


def write_map(recipe: Recipe, raster: Raster, name: str, watch: Watch) -> ClassMapResult:
    """The file of a class map among the kept layers.

    Raises
    ------
    DiskFullError, StorageError, CancelledError
    """
    return write_class_map(
        raster,
        raster.bands[0].legend,
        layer_path(name),
        tags=tags_of(recipe),
        watch=watch,
    )


def scene_tags(recipe: Recipe, acquired: date | None) -> dict[str, str]:
    return tags_of(recipe) | ({"acquired": acquired.isoformat()} if acquired else {})


def tags_of(recipe: Recipe) -> dict[str, str]:
    """What a file says of how it came to be."""
    return {"recipe": portable(recipe), "recipe_in_words": sentence_of(recipe)}
