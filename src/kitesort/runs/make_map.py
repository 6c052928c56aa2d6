"""The run that makes a class map and keeps it: trained, computed, written, recorded; in the same
pass what tells how sure it is."""

import time
from dataclasses import dataclass

from pydantic import BaseModel

from kitesort.core.classify.conformal import LEVEL
from kitesort.core.classify.given import GivenClassifier, given_of
from kitesort.core.classify.operations.apply import ApplySettings
from kitesort.core.classify.operations.surety import Given, with_class_map
from kitesort.core.classify.raster import class_map_raster
from kitesort.core.classify.stored import StoredClassifier, write_classifier
from kitesort.core.classify.trained import make_classifier
from kitesort.core.classify.training import Training, collect_samples, require_enough_pixels
from kitesort.core.engine import Watch
from kitesort.core.raster.class_file import ClassMapResult, class_map_target
from kitesort.core.raster.keeping import keep
from kitesort.core.raster.protocol import Raster
from kitesort.core.raster.scene_file import scene_target
from kitesort.core.recipe import Node, open_recipe, parents_of, sentence_of, source_of
from kitesort.runs.keep_layer import scene_tags, tags_of, write_map
from kitesort.runs.reporter import watch_run
from kitesort.store.classifiers import keep_classifier, next_classifier_id
from kitesort.store.database import transaction
from kitesort.store.files import layer_path
from kitesort.store.layers import set_kept
from kitesort.store.records import Layer, Run
from kitesort.store.runs import finish_run
from kitesort.study.applying import add_surety, stored_classifier, surety_recipe
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


@dataclass(frozen=True)
class _Learnt:
    """The classifier behind a map, and what settings call it; ``is_new``: it was trained now."""

    stored: StoredClassifier
    given: GivenClassifier
    is_new: bool


@dataclass(frozen=True)
class _Made:
    """The map, remarks on its sites, and the classifier where one made it."""

    raster: Raster
    remarks: tuple[str, ...] = ()
    learnt: _Learnt | None = None


def make_map(run: Run) -> None:
    """What was trained is recorded with the map and the layers beside it, or none of them."""
    started = time.monotonic()
    task = MapTask.model_validate(run.task)
    recipe, watch = task.recipe, watch_run(run.id)
    training = training_in(recipe)
    made = _open(recipe) if training is None else _train(recipe, training, watch)
    learnt = made.learnt
    file, beside = f"class-map-run-{run.id}.tif", f"surety-run-{run.id}.tif"
    rest = watch.rest(TRAINING_SHARE if training else 0.0)
    if task.give and learnt is not None:
        result = _write_both(task, made, learnt, (file, beside), rest)
    else:
        result = write_map(recipe, made.raster, file, rest)
    seconds = time.monotonic() - started
    with transaction():
        areas = areas_of(result, seconds)
        layer = add_map(run.study_id, recipe, made.raster, file=file, areas=areas)
        if learnt is not None:
            given = _recorded(run, layer, learnt)
            if task.give:
                told = add_surety(run.study_id, recipe, given, task.give, task.level)
                set_kept(told.id, beside)
        said = [*made.remarks, f"Kept as “{layer.title}” after {seconds:.1f} s."]
        finish_run(run.id, said, layer.id)


def _recorded(run: Run, layer: Layer, learnt: _Learnt) -> GivenClassifier:
    """The classifier as layers name it from now on: one that was trained is kept under the map's
    name."""
    if not learnt.is_new:
        return learnt.given
    number, file = learnt.given.classifier_id, f"classifier-run-{run.id}.zip"
    keep_classifier(run.study_id, layer.title, learnt.stored, file, number)
    return learnt.given.model_copy(update={"name": layer.title})


def _open(recipe: Node) -> _Made:
    """A map that nothing is trained for."""
    source = source_of(recipe)
    settings = source.checked if isinstance(source, Node) else None
    learnt = None
    if isinstance(settings, ApplySettings):
        learnt = _Learnt(stored_classifier(settings.classifier), settings.classifier, is_new=False)
    return _Made(open_recipe(recipe, READER), learnt=learnt)


def _train(recipe: Node, training: Training, watch: Watch) -> _Made:
    (scene_id,) = parents_of(recipe)
    scene, title = open_layer(scene_id, "work"), layer_record(scene_id).title
    learning = watch.first(TRAINING_SHARE)
    samples, remarks = collect_samples(training, scene, watch=learning.first(SAMPLING_SHARE))
    require_enough_pixels(samples, training)
    stored = make_classifier(
        training, samples, scene, title, sentence_of(recipe), learning.rest(SAMPLING_SHARE)
    )
    given = given_of(next_classifier_id(), write_classifier(stored), title, stored.told)
    made = class_map_raster(scene, stored.model, training.legend)
    raster = opened_with(made, recipe)
    return _Made(raster, tuple(remarks), _Learnt(stored, given, is_new=True))


def _write_both(
    task: MapTask, made: _Made, learnt: _Learnt, files: tuple[str, str], watch: Watch
) -> ClassMapResult:
    """The map and the layers beside it, every block read and scored once."""
    recipe, (map_file, beside_file) = task.recipe, files
    legend = made.raster.bands[0].legend
    scene = open_layer(parents_of(recipe)[0], "work")
    both = opened_with(with_class_map(scene, learnt.stored, task.give, task.level, legend), recipe)
    beside = surety_recipe(recipe, learnt.given, task.give, task.level)
    tags = scene_tags(beside, layer_record(parents_of(recipe)[0]).acquired)
    of_map, areas = class_map_target(both.grid, legend, layer_path(map_file), tags_of(recipe))
    of_surety, _ = scene_target(both.bands[1:], layer_path(beside_file), tags, n_before=1)
    keep(both, [of_map, of_surety], watch=watch)
    return areas.result()
