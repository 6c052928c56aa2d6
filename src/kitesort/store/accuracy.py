"""A kept class map held against the study's reference points."""

from dataclasses import dataclass

import numpy as np

from kitesort.core.assess.error_matrix import ErrorMatrix, build_error_matrix
from kitesort.core.derive.breaks_recipe import BreaksRecipe
from kitesort.core.errors import InputError
from kitesort.core.raster.cog import NODATA_CODE
from kitesort.store.layers import get_layer
from kitesort.store.rasters import code_at, study_crs
from kitesort.store.records import Layer, ReferencePoint
from kitesort.store.scheme import list_classes
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
    """A map against the study's reference points; classes of a map made by breaks are those of
    the class scheme that have the same name.

    Raises
    ------
    NotFoundError. InputError : no class of the map is in the class scheme.
    """
    layer = get_layer(layer_id)
    code_of = _reference_codes(layer)
    points, crs = list_points(layer.study_id), study_crs(layer.study_id)
    checked = [CheckedPoint(p, code_at(layer_id, p.x, p.y, crs)) for p in points]
    counted = [c for c in checked if c.mapped_code != NODATA_CODE]
    counted = [c for c in counted if c.point.class_code in code_of]
    mapped = np.array([c.mapped_code for c in counted], np.int64)
    reference = np.array([code_of[c.point.class_code] for c in counted], np.int64)
    present = set(mapped.tolist()) | set(reference.tolist())
    codes = tuple(e.code for e in layer.recipe.legend if e.code in present)
    matrix = build_error_matrix(mapped, reference, codes)
    return Accuracy(matrix, checked, len(points) - len(counted))


def _reference_codes(layer: Layer) -> dict[int, int]:
    """The map's code of each code in the class scheme."""
    recipe = layer.recipe
    if not isinstance(recipe, BreaksRecipe):
        return {entry.code: entry.code for entry in recipe.legend}
    by_name = {entry.name.casefold(): entry.code for entry in recipe.table.legend}
    found = {
        c.code: by_name[c.name.casefold()]
        for c in list_classes(layer.study_id)
        if c.name.casefold() in by_name
    }
    if not found:
        raise InputError(
            "No class of this map has the name of one in the class scheme, so that reference "
            "points say nothing about it. Name its classes as in the scheme."
        )
    return found
