"""Runs that try things on the training sites and tell a table, row by row: methods, layers."""

from collections.abc import Sequence
from functools import partial

from pydantic import BaseModel

from kitesort.core.classify.first_check import Interval
from kitesort.core.classify.protocol import ClassifierSpec
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.classify.training import Training, collect_samples, train
from kitesort.core.classify.trial import layer_worth, try_method
from kitesort.core.engine import Watch
from kitesort.core.errors import CancelledError, KiteSortError
from kitesort.core.raster.protocol import Raster
from kitesort.core.training.samples import TrainingSamples
from kitesort.runs.reporter import watch_run
from kitesort.store.records import Run
from kitesort.store.runs import finish_run, report_rows
from kitesort.study.rasters import open_layer

METHODS_KIND = "try-methods"
LAYERS_KIND = "try-layers"


class TryTask(BaseModel):
    """Of methods each with its usual settings, but for the one in hand, whose training this is."""

    scene_id: int
    training: Training


class Limits(BaseModel):
    """A mean over folds and its 95 % limits; None where it is not known."""

    mean: float | None
    low: float | None
    high: float | None


class Tried(BaseModel):
    """Share told right, the class told worst; seconds to train and to tell the scene; bytes."""

    right: Limits
    weakest_code: int | None
    weakest: float | None
    train_seconds: float
    scene_seconds: float
    n_bytes: int


class MethodRow(BaseModel):
    """What came of a method, or why it cannot be tried."""

    method: str
    tried: Tried | None
    problem: str | None


class LayerRow(BaseModel):
    """What is lost of the share told right, with a layer shuffled and without it."""

    role: str
    shuffled: Limits
    left_out: Limits


def try_methods(run: Run) -> None:
    """One method after another, the quick ones first; one that cannot be trained says why."""
    task, watch = TryTask.model_validate(run.task), watch_run(run.id)
    scene, samples = _samples(task)
    order = sorted(CLASSIFIERS.values(), key=lambda spec: spec.slow)
    rows: list[MethodRow] = []
    for i, spec in enumerate(order):
        mine = watch.rest(i / len(order)).first(1 / (len(order) - i))
        rows.append(_row(spec, task.training, samples, scene, mine))
        _report(run, rows)
    finish_run(run.id, [f"{len(rows)} methods tried."])


def try_layers(run: Run) -> None:
    task, watch = TryTask.model_validate(run.task), watch_run(run.id)
    _, samples = _samples(task)
    fit = partial(train, task.training, watch=watch.silently())
    least = CLASSIFIERS[task.training.method].least_pixels(len(samples.roles))
    rows: list[LayerRow] = []
    for worth in layer_worth(samples, fit, least, watch=watch):
        shuffled, left_out = _limits(worth.shuffled), _limits(worth.left_out)
        rows.append(LayerRow(role=worth.role, shuffled=shuffled, left_out=left_out))
        _report(run, rows)
    finish_run(run.id, [f"{len(rows)} layers tried."])


def _samples(task: TryTask) -> tuple[Raster, TrainingSamples]:
    """Classes that have too few pixels are told by the methods themselves."""
    scene = open_layer(task.scene_id, "work")
    return scene, collect_samples(task.training, scene)[0]


def _report(run: Run, rows: Sequence[BaseModel]) -> None:
    report_rows(run.id, [row.model_dump(mode="json") for row in rows])


def _row(
    spec: ClassifierSpec, in_hand: Training, samples: TrainingSamples, scene: Raster, watch: Watch
) -> MethodRow:
    usual = {"method": spec.id, "method_version": spec.version, "settings": {}}
    training = in_hand if spec.id == in_hand.method else in_hand.model_copy(update=usual)
    fit = partial(train, training, watch=watch.silently())
    try:
        found = try_method(samples, scene, fit, spec.least_pixels(len(samples.roles)), watch)
    except CancelledError:
        raise
    except KiteSortError as error:
        return MethodRow(method=spec.id, tried=None, problem=error.sentence)
    code, share = found.weakest or (None, None)
    tried = Tried(
        right=_limits(found.overall),
        weakest_code=code,
        weakest=share,
        train_seconds=found.train_seconds,
        scene_seconds=found.scene_seconds,
        n_bytes=found.n_bytes,
    )
    return MethodRow(method=spec.id, tried=tried, problem=None)


def _limits(found: Interval) -> Limits:
    mean = None if found.mean != found.mean else found.mean  # not-a-number
    return Limits(mean=mean, low=found.low, high=found.high)
