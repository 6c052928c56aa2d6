"""Methods tried on the same sites, and layers tried within a method: what each is worth over folds
of whole sites. Of the sites, not of the ground."""

import time
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from kitesort.core.classify.first_check import (
    Fitting,
    Interval,
    cross_validate,
    fold_models,
    interval,
    told_back,
)
from kitesort.core.classify.protocol import TrainedClassifier
from kitesort.core.engine import UNWATCHED, Watch, steps
from kitesort.core.raster.protocol import Raster
from kitesort.core.raster.sample import sample_pixels
from kitesort.core.training.folds import assign_folds, group_sites
from kitesort.core.training.samples import TrainingSamples

N_FOLDS = 5
TIMED_PIXELS = 2**17
N_SHUFFLES = 3
WHOLE_SHARE = 0.2  # of the time that all layers take: training with all of them


@dataclass(frozen=True)
class Trial:
    """Mean share of the classes' pixels told right, and the class told worst with its share (None
    where nothing could be held out); seconds to train and to tell a whole scene; bytes of what was
    learnt."""

    overall: Interval
    weakest: tuple[int, float] | None
    train_seconds: float
    scene_seconds: float
    n_bytes: int


def try_method(
    samples: TrainingSamples,
    scene: Raster,
    fit: Fitting,
    least_pixels: int,
    watch: Watch = UNWATCHED,
) -> Trial:
    """Train, hold out, and time.

    Raises
    ------
    TrainingError, CancelledError
    """
    started = time.perf_counter()
    model = fit(samples)
    trained = time.perf_counter() - started
    grouped = group_sites(samples)
    found = cross_validate(grouped, fit, n_folds=N_FOLDS, least_pixels=least_pixels, watch=watch)
    shares = [(code, found.of_class(code).mean) for code in found.told.codes]
    known = [(share, code) for code, share in shares if share == share]
    worst = min(known, default=None)
    return Trial(
        found.overall,
        (worst[1], worst[0]) if worst else None,
        trained,
        _scene_seconds(model, scene),
        sum(array.nbytes for array in model.arrays().values()),
    )


def _scene_seconds(model: TrainedClassifier, scene: Raster) -> float:
    """By the time that a sample of the scene takes in one thread; reading is not counted."""
    pixels = sample_pixels(scene, model.roles, most=TIMED_PIXELS).values
    if pixels.shape[1] == 0:
        return 0.0
    model.classify(np.ascontiguousarray(pixels[:, :64]))
    started = time.perf_counter()
    model.classify(np.ascontiguousarray(pixels))
    each = (time.perf_counter() - started) / pixels.shape[1]
    return each * scene.grid.width * scene.grid.height


@dataclass(frozen=True)
class Worth:
    """How much of the mean share told right is lost when a layer's values are shuffled among the
    pixels that are told, and when the layer is left out of training and telling altogether; over
    the folds. Two layers that say the same lose much by the first and nothing by the second."""

    role: str
    shuffled: Interval
    left_out: Interval


def layer_worth(
    samples: TrainingSamples,
    fit: Fitting,
    least_pixels: int,
    seed: int = 0,
    watch: Watch = UNWATCHED,
) -> Iterator[Worth]:
    """One layer after another.

    Shuffling: L. Breiman 2001, Machine Learning 45:5-32, section 10. Values are exchanged between
    all held-out pixels of a fold: within a site they are nearly the same, and nothing would change.

    Raises
    ------
    TrainingError, CancelledError
    """
    folds = assign_folds(group_sites(samples), N_FOLDS, least_pixels, seed)
    codes = samples.class_codes
    models = list(fold_models(samples, folds, fit, watch.first(WHOLE_SHARE)))
    whole = [_right(model, samples.where(tested), codes) for tested, model in models]
    rng = np.random.default_rng(seed)
    for band, role in enumerate(steps(samples.roles, watch.rest(WHOLE_SHARE))):
        shuffled = [
            np.mean([_right(model, _shuffle(samples.where(tested), band, rng), codes)
                     for _ in range(N_SHUFFLES)])
            for tested, model in models
        ]  # fmt: skip
        losses = [float(a - b) for a, b in zip(whole, shuffled, strict=True)]
        without = _left_out(samples, band, folds, fit)
        yield Worth(
            role,
            interval(losses),
            interval([a - b for a, b in zip(whole, without, strict=False)]),
        )


def _right(model: TrainedClassifier, part: TrainingSamples, codes: tuple[int, ...]) -> float:
    return told_back(model, part, codes).mean_right


def _shuffle(part: TrainingSamples, band: int, rng: np.random.Generator) -> TrainingSamples:
    values = part.values.copy()
    values[:, band] = rng.permutation(values[:, band])
    return replace(part, values=values)


def _left_out(
    samples: TrainingSamples,
    band: int,
    folds: np.ndarray,
    fit: Fitting,
) -> list[float]:
    """Share told right in each fold without a layer; nothing of a single layer."""
    if len(samples.roles) < 2:
        return []
    fewer = replace(
        samples,
        values=np.ascontiguousarray(np.delete(samples.values, band, axis=1)),
        roles=tuple(role for i, role in enumerate(samples.roles) if i != band),
    )
    models = fold_models(fewer, folds, fit)
    return [_right(model, fewer.where(tested), samples.class_codes) for tested, model in models]
