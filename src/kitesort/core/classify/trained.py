"""A classifier as it is kept: trained, held out against whole sites, told."""

from functools import partial

import numpy as np

from kitesort.core.classify.hold_out import HeldOut, hold_out
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.classify.stored import (
    DissimilarityInfo,
    StoredClassifier,
    ToldCheck,
    ToldClass,
    ToldClassifier,
    ToldScene,
    ToldShare,
)
from kitesort.core.classify.training import Training, train
from kitesort.core.engine import Watch
from kitesort.core.errors import TrainingError
from kitesort.core.raster.protocol import Raster
from kitesort.core.raster.sample import sample_pixels
from kitesort.core.training.samples import TrainingSamples

TRAINING_SHARE = 0.4  # of the time that training and holding out take together


def make_classifier(
    training: Training,
    samples: TrainingSamples,
    scene: Raster,
    scene_title: str,
    sentence: str,
    watch: Watch,
) -> StoredClassifier:
    """Trained on all samples, and told by folds of whole sites what that is worth.

    Raises
    ------
    TrainingError, BadSettingsError, CancelledError
    """
    model = train(training, samples, watch.first(TRAINING_SHARE))
    held = _held_out(training, samples, watch.rest(TRAINING_SHARE))
    means = {band.role: band.quantity for band in scene.bands}
    told = ToldClassifier(
        method=training.method,
        method_version=training.method_version,
        settings=training.settings,
        seed=training.seed,
        roles=training.roles,
        quantities=tuple(means[role] for role in training.roles),
        classes=tuple(
            ToldClass(code=c.code, name=c.name, colour=c.colour)
            for c in training.classes
            if c.code in samples.class_codes
        ),
        trained_on=training.sites_fingerprint,
        sentence=sentence,
        check=_check(held) if held else None,
        dissimilarity=_dissimilarity(held),
        scene=ToldScene(title=scene_title, medians=medians(scene, training.roles)),
    )
    if held is None:
        return StoredClassifier(told, model)
    return StoredClassifier(told, model, held.calibration, held.applicability)


def _dissimilarity(held: HeldOut | None) -> DissimilarityInfo | None:
    if held is None or held.applicability is None:
        return None
    like = held.applicability
    return DissimilarityInfo(
        n_compared=len(like.points), error=like.error, threshold=like.threshold
    )


def _held_out(training: Training, samples: TrainingSamples, watch: Watch) -> HeldOut | None:
    """None where what is left without a fold cannot be trained: the map can be made all the same,
    and nothing is said of what it is worth."""
    spec = CLASSIFIERS[training.method]
    try:
        return hold_out(
            samples,
            partial(train, training, watch=watch.silently()),
            spec.scores,
            least_pixels=spec.least_pixels(len(training.roles)),
            watch=watch,
        )
    except TrainingError:
        return None


def medians(scene: Raster, roles: tuple[str, ...]) -> tuple[float, ...]:
    """Of each band, over usable native pixels spread over the scene; empty without any."""
    found = sample_pixels(scene, roles).values
    return tuple(np.median(found, axis=1).astype(float).tolist()) if found.shape[1] else ()


def _check(held: HeldOut) -> ToldCheck | None:
    validation = held.validation
    if not validation.folds:
        return None
    overall = validation.overall
    means = {c: validation.of_class(c).mean for c in validation.told.codes}
    return ToldCheck(
        n_folds=len(validation.folds),
        mean=_known(overall.mean),
        low=overall.low,
        high=overall.high,
        classes=tuple(
            ToldShare(code=code, share=mean) for code, mean in means.items() if mean == mean
        ),
    )


def _known(value: float) -> float | None:
    return None if value != value else value  # not-a-number
