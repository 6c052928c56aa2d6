"""The run that makes a class map and keeps it: trained, computed, written, recorded."""

import time
from collections.abc import Callable

from pydantic import BaseModel

from kitesort.core.classify.raster import class_map_raster
from kitesort.core.classify.stored import StoredClassifier, ToldClass, ToldClassifier
from kitesort.core.classify.training import (
    Training,
    collect_samples,
    require_enough_pixels,
    train,
)
from kitesort.core.engine import Watch
from kitesort.core.raster.protocol import Raster
from kitesort.core.recipe import Node, open_recipe, sentence_of
from kitesort.runs.keep_layer import write_map
from kitesort.runs.reporter import watch_run
from kitesort.store.classifiers import keep_classifier
from kitesort.store.database import transaction
from kitesort.store.records import Layer, Run
from kitesort.store.runs import finish_run
from kitesort.study.maps import add_map, areas_of, training_in
from kitesort.study.rasters import READER, open_layer

KIND = "map"
SAMPLING_SHARE = 0.1  # of a run's progress


class MapTask(BaseModel):
    recipe: Node


def make_map(run: Run) -> None:
    """The trained classifier is recorded with the map, or neither."""
    started = time.monotonic()
    recipe = MapTask.model_validate(run.task).recipe
    watch = watch_run(run.id)
    training = training_in(recipe)
    made = _open(recipe) if training is None else _train(run, recipe, training, watch)
    raster, remarks, also = made
    file = f"class-map-run-{run.id}.tif"
    rest = watch.rest(SAMPLING_SHARE if training else 0.0)
    result = write_map(recipe, raster, file, rest)
    seconds = time.monotonic() - started
    with transaction():
        layer = add_map(run.study_id, recipe, raster, file=file, areas=areas_of(result, seconds))
        also(layer)
        said = [*remarks, f"Kept as “{layer.title}” after {seconds:.1f} s."]
        finish_run(run.id, said, layer.id)


# The map, remarks on its sites, and what else is recorded with it.
_Made = tuple[Raster, list[str], Callable[[Layer], None]]


def _open(recipe: Node) -> _Made:
    """A map that nothing is trained for."""
    return open_recipe(recipe, READER), [], lambda _: None


def _train(run: Run, recipe: Node, training: Training, watch: Watch) -> _Made:
    (scene_id,) = (leaf.layer_id for leaf in recipe.inputs if leaf.kind == "layer")
    scene = open_layer(scene_id, "work")
    samples, remarks = collect_samples(training, scene, watch=watch.first(SAMPLING_SHARE))
    require_enough_pixels(samples, training)
    model = train(training, samples, watch.silently())
    stored = StoredClassifier(_tell(recipe, training, scene), model)

    def also(layer: Layer) -> None:
        keep_classifier(run.study_id, layer.title, stored, f"classifier-run-{run.id}.zip")

    return class_map_raster(scene, model, training.legend), remarks, also


def _tell(recipe: Node, training: Training, scene: Raster) -> ToldClassifier:
    """The classes that were trained, the bands by what they see and what their values mean."""
    trained = {site.code for site in training.sites}
    means = {band.role: band.quantity for band in scene.bands}
    return ToldClassifier(
        method=training.method,
        method_version=training.method_version,
        settings=training.settings,
        seed=training.seed,
        roles=training.roles,
        quantities=tuple(means[role] for role in training.roles),
        classes=tuple(
            ToldClass(code=c.code, name=c.name, colour=c.colour)
            for c in training.classes
            if c.code in trained
        ),
        trained_on=training.sites_fingerprint,
        sentence=sentence_of(recipe),
    )
