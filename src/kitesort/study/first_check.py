"""The first check of a training set: told back, told by folds of whole sites, and told aside."""

from dataclasses import dataclass
from functools import partial

from kitesort.core.classify.first_check import (
    CrossValidation,
    CurvePoint,
    Told,
    cross_validate,
    learning_curve,
    told_back,
)
from kitesort.core.classify.protocol import TrainedClassifier
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.classify.training import DrawnSite, Training, train
from kitesort.core.geodesy import pixel_side_m
from kitesort.core.newest import Newest
from kitesort.core.training.folds import group_sites
from kitesort.core.training.samples import TrainingSamples
from kitesort.study.drawn_sites import drawn_sites
from kitesort.study.method import USUAL_METHOD, Method
from kitesort.study.rasters import open_layer
from kitesort.study.training import TrainingState, samples_of, training_state

KEPT_CHECKS = 16


@dataclass(frozen=True)
class CheckOrder:
    """How sites are put into folds; ``together_m``: sites of a class nearer than that, in metres on
    the ground, stay in one fold."""

    n_folds: int = 5
    together_m: float = 0.0
    seed: int = 0


@dataclass(frozen=True)
class FirstCheck:
    """Classes are those that are trained. ``aside``: what the classifier makes of the sites set
    aside, None where there are none."""

    state: TrainingState
    back: Told
    validation: CrossValidation
    curve: tuple[CurvePoint, ...]
    aside: Told | None


def first_check(
    study_id: int,
    scene_id: int,
    roles: tuple[str, ...],
    order: CheckOrder,
    method: Method = USUAL_METHOD,
) -> FirstCheck:
    """Of the training as it stands; remembered as long as nothing of it changes.

    Raises
    ------
    TrainingError : nothing can be trained yet. MissingRoleError
    """
    state = training_state(study_id, scene_id, roles, method)
    aside = drawn_sites(study_id, scene_id, aside=True)
    key = f"{state.version} {order} {[site.model_dump_json() for site in aside]}"
    return _checks.get(key, lambda: _check(state, order, aside))


def _check(state: TrainingState, order: CheckOrder, aside: tuple[DrawnSite, ...]) -> FirstCheck:
    training = state.training
    model, used = state.trained()
    fit = partial(train, training)
    grouped = group_sites(used, order.together_m / pixel_side_m(open_layer(state.scene_id).grid))
    least = CLASSIFIERS[training.method].least_pixels(len(training.roles))
    return FirstCheck(
        state,
        told_back(model, used, used.class_codes),
        cross_validate(grouped, fit, n_folds=order.n_folds, least_pixels=least, seed=order.seed),
        learning_curve(grouped, fit, least_pixels=least, seed=order.seed),
        _told_aside(state, model, used, aside),
    )


def _told_aside(
    state: TrainingState,
    model: TrainedClassifier,
    used: TrainingSamples,
    aside: tuple[DrawnSite, ...],
) -> Told | None:
    known = tuple(site for site in aside if site.code in used.class_codes)
    if not known:
        return None
    training: Training = state.training.model_copy(update={"sites": known})
    samples, _ = samples_of(state.scene_id, training)
    return told_back(model, samples, used.class_codes)


_checks: Newest[str, FirstCheck] = Newest(KEPT_CHECKS)
