"""Statistics of training pixels, per class and per site."""

from typing import Annotated

import numpy as np
from fastapi import Query

from kitesort.api.judging_schemas import ClassStatisticsOut, GroupStatisticsOut
from kitesort.api.routes import api_router
from kitesort.api.schemas import Id
from kitesort.api.training import RolesQuery, parse_roles
from kitesort.core.group_statistics import ClassStatistics, Float64Array, compute_statistics
from kitesort.store.layers import require_in_study
from kitesort.store.studies import get_study
from kitesort.study.judging import judge
from kitesort.study.training import training_state

router = api_router("training")


@router.get("/studies/{study_id}/class-statistics")
def get_class_statistics(
    study_id: Id,
    scene_id: Id,
    roles: RolesQuery = "",
    site_id: Annotated[Id | None, Query(description="of this site alone")] = None,
) -> ClassStatisticsOut:
    """Count, mean, spread, extremes, covariance and correlation of the training pixels of every
    class that has some, or of one site."""
    get_study(study_id)
    require_in_study(study_id, [scene_id])
    wanted = parse_roles(scene_id, roles)
    if site_id is None:
        state = training_state(study_id, scene_id, wanted)
        found = [_out(code, one) for code, one in state.statistics.items()]
        return ClassStatisticsOut(roles=list(wanted), groups=found)
    one, pixels = judge(study_id, scene_id, wanted).pixels_of(site_id)
    groups = [_out(one.figures.code, compute_statistics(pixels.values))]
    return ClassStatisticsOut(roles=list(wanted), groups=groups)


def _out(code: int, found: ClassStatistics) -> GroupStatisticsOut:
    return GroupStatisticsOut(
        code=code,
        n_pixels=found.n_pixels,
        mean=found.mean.tolist(),
        standard_deviation=found.standard_deviation.tolist(),
        minimum=found.minimum.tolist(),
        maximum=found.maximum.tolist(),
        covariance=found.covariance.tolist(),
        correlation=_known(found.correlation),
    )


def _known(matrix: Float64Array) -> list[list[float | None]]:
    return [[None if np.isnan(value) else float(value) for value in row] for row in matrix]
