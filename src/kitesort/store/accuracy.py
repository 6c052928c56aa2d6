"""A kept class map held against the study's reference points."""

from dataclasses import dataclass

import numpy as np

from kitesort.core.assess.error_matrix import ErrorMatrix, build_error_matrix
from kitesort.core.raster.cog import NODATA_CODE
from kitesort.store.layers import get_layer
from kitesort.store.rasters import code_at, study_crs
from kitesort.store.records import ReferencePoint
from kitesort.store.studies import list_points


@dataclass(frozen=True)
class CheckedPoint:
    """A reference point with what the map says there (0: no data)."""

    point: ReferencePoint
    mapped_code: int


@dataclass(frozen=True)
class Accuracy:
    """``n_without_map`` points lie where the map has no data and are not counted."""

    matrix: ErrorMatrix
    points: list[CheckedPoint]
    n_without_map: int


def check_layer(layer_id: int) -> Accuracy:
    layer = get_layer(layer_id)
    points, crs = list_points(layer.study_id), study_crs(layer.study_id)
    checked = [CheckedPoint(p, code_at(layer_id, p.x, p.y, crs)) for p in points]
    counted = [c for c in checked if c.mapped_code != NODATA_CODE]
    known = {entry.code for entry in layer.recipe.legend}
    counted = [c for c in counted if c.point.class_code in known]
    mapped = np.array([c.mapped_code for c in counted], np.int64)
    reference = np.array([c.point.class_code for c in counted], np.int64)
    present = set(mapped.tolist()) | set(reference.tolist())
    codes = tuple(e.code for e in layer.recipe.legend if e.code in present)
    matrix = build_error_matrix(mapped, reference, codes)
    return Accuracy(matrix, checked, len(points) - len(counted))
