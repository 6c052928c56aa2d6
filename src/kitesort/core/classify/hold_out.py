"""What is learnt of a classifier by holding whole sites out: its first check, how far its shares
can be trusted, and what ground is like the one that it knows."""

from dataclasses import dataclass

import numpy as np

from kitesort.core.classify.applicability import Applicability, measure_applicability
from kitesort.core.classify.conformal import Calibration, calibrate
from kitesort.core.classify.first_check import (
    CrossValidation,
    Fitting,
    fold_models,
    validation_of,
)
from kitesort.core.classify.protocol import ScoreKind
from kitesort.core.classify.shares import shares_of
from kitesort.core.engine import UNWATCHED, Watch
from kitesort.core.training.folds import UNTESTED, assign_folds, group_sites
from kitesort.core.training.samples import TrainingSamples

N_FOLDS = 5


@dataclass(frozen=True)
class HeldOut:
    """``calibration``, ``applicability``: None where no site could be held out."""

    validation: CrossValidation
    calibration: Calibration | None
    applicability: Applicability | None


def hold_out(
    samples: TrainingSamples,
    fit: Fitting,
    kind: ScoreKind,
    *,
    least_pixels: int = 1,
    seed: int = 0,
    watch: Watch = UNWATCHED,
) -> HeldOut:
    """Five folds of whole sites, each told by a classifier that was trained on the others.

    Raises
    ------
    CancelledError, TrainingError : the rest cannot be trained.
    """
    folds = assign_folds(group_sites(samples), N_FOLDS, least_pixels, seed)
    own_share = np.zeros(len(folds))
    told = []
    for tested, model in fold_models(samples, folds, fit, watch):
        part = samples.where(tested)
        shares = shares_of(model.scores(np.ascontiguousarray(part.values.T)), kind)
        place = np.searchsorted(model.codes, part.codes)
        own_share[tested] = shares[place, np.arange(len(place))]
        told.append((part, model))
    known = folds != UNTESTED
    return HeldOut(
        validation_of(samples, folds, told),
        calibrate(own_share[known], samples.sites[known]),
        measure_applicability(samples, folds),
    )
