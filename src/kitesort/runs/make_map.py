"""The run that makes a class map and keeps it: trained, computed, written, recorded."""

import time

from pydantic import BaseModel

from kitesort.core.classify.conformal import LEVEL
from kitesort.core.classify.given import GivenClassifier
from kitesort.core.classify.operations.apply import ApplySettings
from kitesort.core.classify.operations.surety import Given
from kitesort.core.classify.raster import class_map_raster
from kitesort.core.classify.stored import StoredClassifier
from kitesort.core.classify.trained import make_classifier
from kitesort.core.classify.training import Training, collect_samples, require_enough_pixels
from kitesort.core.engine import Watch
from kitesort.core.raster.protocol import Raster
from kitesort.core.recipe import Node, open_recipe, parents_of, sentence_of, source_of
from kitesort.runs.keep_layer import write_map
from kitesort.runs.reporter import watch_run
from kitesort.store.classifiers import keep_classifier
from kitesort.store.database import transaction
from kitesort.store.records import Layer, Run
from kitesort.store.runs import finish_run
from kitesort.study.applying import add_surety, given_classifier
from kitesort.study.maps import add_map, areas_of, training_in
from kitesort.study.rasters import READER, layer_record, open_layer
from kitesort.study.where import opened_with

KIND = "map"
TRAINING_SHARE = 0.3  # of a run's progress
SAMPLING_SHARE = 0.2  # of that


class MapTask(BaseModel):
    """``give``: what else is wanted to know of each pixel, as layers; ``level`` of what is still
    possible."""

    recipe: Node
    give: tuple[Given, ...] = ()
    level: float = LEVEL


# The map, remarks on its sites, and the classifier where one was trained.
_Made = tuple[Raster, list[str], StoredClassifier | None]


def make_map(run: Run) -> None:
    """What was trained is recorded with the map, or neither."""
    started = time.monotonic()
    task = MapTask.model_validate(run.task)
    recipe, watch = task.recipe, watch_run(run.id)
    training = training_in(recipe)
    made = _open(recipe) if training is None else _train(recipe, training, watch)
    raster, remarks, stored = made
    file = f"class-map-run-{run.id}.tif"
    rest = watch.rest(TRAINING_SHARE if training else 0.0)
    result = write_map(recipe, raster, file, rest)
    seconds = time.monotonic() - started
    with transaction():
        layer = add_map(run.study_id, recipe, raster, file=file, areas=areas_of(result, seconds))
        given = _given(run, layer, recipe, stored)
        if task.give and given is not None:
            add_surety(run.study_id, recipe, given, task.give, task.level)
        said = [*remarks, f"Kept as “{layer.title}” after {seconds:.1f} s."]
        finish_run(run.id, said, layer.id)


def _open(recipe: Node) -> _Made:
    """A map that nothing is trained for."""
    return open_recipe(recipe, READER), [], None


def _train(recipe: Node, training: Training, watch: Watch) -> _Made:
    (scene_id,) = parents_of(recipe)
    scene = open_layer(scene_id, "work")
    learning = watch.first(TRAINING_SHARE)
    samples, remarks = collect_samples(training, scene, watch=learning.first(SAMPLING_SHARE))
    require_enough_pixels(samples, training)
    stored = make_classifier(
        training, samples, scene, layer_record(scene_id).title, sentence_of(recipe),
        learning.rest(SAMPLING_SHARE),
    )  # fmt: skip
    made = class_map_raster(scene, stored.model, training.legend)
    return opened_with(made, recipe), remarks, stored


def _given(
    run: Run, layer: Layer, recipe: Node, stored: StoredClassifier | None
) -> GivenClassifier | None:
    """The classifier that made the map: the one that was trained, kept under the map's name, or the
    one that was given."""
    if stored is not None:
        kept = keep_classifier(run.study_id, layer.title, stored, f"classifier-run-{run.id}.zip")
        return given_classifier(kept)
    source = source_of(recipe)
    settings = source.checked if isinstance(source, Node) else None
    return settings.classifier if isinstance(settings, ApplySettings) else None
