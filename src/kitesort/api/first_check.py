"""The first check of a training set, before any map is made."""

from typing import Annotated

from fastapi import Query

from kitesort.api.judging_schemas import (
    CheckedClassOut,
    CurvePointOut,
    FirstCheckOut,
    IntervalOut,
    ToldOut,
)
from kitesort.api.routes import api_router
from kitesort.api.schemas import Id
from kitesort.api.training import MethodQuery, RolesQuery, parse_roles
from kitesort.core.classify.first_check import Interval, Told, curve_words
from kitesort.store.layers import require_in_study
from kitesort.study.first_check import CheckOrder, FirstCheck, first_check
from kitesort.study.method import parse_method

router = api_router("training")
MOST_METRES = 1e6


@router.get("/studies/{study_id}/first-check")
def get_first_check(
    study_id: Id,
    scene_id: Id,
    roles: RolesQuery = "",
    n_folds: Annotated[int, Query(ge=2, le=20)] = 5,
    together_m: Annotated[float, Query(ge=0, le=MOST_METRES, allow_inf_nan=False)] = 0,
    seed: Annotated[int, Query(ge=0, le=2**31 - 1)] = 0,
    method: MethodQuery = "",
) -> FirstCheckOut:
    """Training pixels told back, and told by folds of whole sites: of the sites, not of the
    ground."""
    require_in_study(study_id, [scene_id])
    order = CheckOrder(n_folds, together_m, seed)
    wanted = parse_roles(scene_id, roles)
    return _out(first_check(study_id, scene_id, wanted, order, parse_method(method)))


def _out(found: FirstCheck) -> FirstCheckOut:
    validation = found.validation
    codes = found.back.codes
    return FirstCheckOut(
        version=found.state.version,
        codes=list(codes),
        classes=[
            CheckedClassOut(
                code=code,
                back=_share(found.back.right[i]),
                folds=_interval(validation.of_class(code)),
                tested=code not in validation.untested,
            )
            for i, code in enumerate(codes)
        ],
        overall=_interval(validation.overall),
        n_folds=len(validation.folds),
        by_folds=_told(validation.told),
        aside=_told(found.aside) if found.aside else None,
        curve=[CurvePointOut.model_validate(one, from_attributes=True) for one in found.curve],
        curve_words=curve_words(found.curve),
    )


def _told(told: Told) -> ToldOut:
    return ToldOut(counts=told.counts.tolist(), mean_right=_share(told.mean_right))


def _interval(found: Interval) -> IntervalOut:
    return IntervalOut(mean=_share(found.mean), low=found.low, high=found.high)


def _share(value: float) -> float | None:
    return None if value != value else float(value)  # not-a-number
