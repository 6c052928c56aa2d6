"""A kept class map held against the study's reference points."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from kitesort.core.assess.error_matrix import ErrorMatrix, build_error_matrix
from kitesort.core.errors import InputError
from kitesort.core.geometry import reproject_points
from kitesort.core.grid import Grid
from kitesort.core.legend import NODATA_CODE, UNCLASSIFIED, LegendEntry, same_named
from kitesort.store.records import Layer, ReferencePoint
from kitesort.store.scheme import list_classes
from kitesort.store.studies import list_points
from kitesort.study.maps import get_map
from kitesort.study.rasters import code_at, study_crs

STRANGERS = 1000  # beyond every code that a map can hold
Int64Array = npt.NDArray[np.int64]


@dataclass(frozen=True)
class CheckedPoint:
    """A reference point with what the map says there (0: no data), and the code that its class has
    in the matrix."""

    point: ReferencePoint
    mapped_code: int
    reference_code: int


@dataclass(frozen=True)
class Accuracy:
    """``n_without_map`` points lie where the map has no data and are not counted. ``entries``: the
    matrix's classes; ``unknown``: names of those that the map does not know, whose points are all
    errors."""

    matrix: ErrorMatrix
    points: list[CheckedPoint]
    n_without_map: int
    entries: list[LegendEntry]
    unknown: list[str]


def check_map(layer_id: int) -> Accuracy:
    """A map against the study's reference points; classes of a map made by breaks are those of
    the class scheme that have the same name. A point of a class that the map does not know is an
    error wherever the map has data.

    Raises
    ------
    NotFoundError. InputError : no class of the map is in the class scheme.
    """
    layer = get_map(layer_id)
    scheme = {c.code: LegendEntry(c.code, c.name, c.colour) for c in list_classes(layer.study_id)}
    points, crs = list_points(layer.study_id), study_crs(layer.study_id)
    code_of = _reference_codes(layer, {p.class_code for p in points})
    checked = [
        CheckedPoint(p, code_at(layer_id, p.x, p.y, crs), code_of[p.class_code]) for p in points
    ]
    counted = [c for c in checked if c.mapped_code != NODATA_CODE]
    mapped = np.array([c.mapped_code for c in counted], np.int64)
    reference = np.array([c.reference_code for c in counted], np.int64)
    present = set(mapped.tolist()) | set(reference.tolist())
    known = {entry.code: entry for entry in layer.map.legend}
    strangers = {
        code: scheme.get(c, LegendEntry(c, f"Class {c}", UNCLASSIFIED.colour))
        for c, code in code_of.items()
        if code not in known
    }
    entries = [
        LegendEntry(code, entry.name, entry.colour)
        for code, entry in (known | strangers).items()
        if code in present
    ]
    matrix = build_error_matrix(mapped, reference, tuple(e.code for e in entries))
    unknown = [e.name for e in entries if e.code not in known]
    return Accuracy(matrix, checked, len(points) - len(counted), entries, unknown)


@dataclass(frozen=True)
class PlacedPoints:
    """Reference points in the pixels (n,) of a grid, and the code (n,) that a map has for their
    class; one beyond every code where it does not know it."""

    rows: Int64Array
    cols: Int64Array
    codes: Int64Array


def placed_points(layer: Layer, grid: Grid) -> PlacedPoints:
    """The study's reference points that lie on a grid, for a map; none where no class of the map is
    in the class scheme."""
    points = list_points(layer.study_id)
    try:
        code_of = _reference_codes(layer, {p.class_code for p in points})
    except InputError:
        points, code_of = [], {}
    places = np.array([(p.x, p.y) for p in points], np.float64).reshape(-1, 2)
    there = reproject_points(places, study_crs(layer.study_id), grid.crs)
    found = [(grid.pixel_at(x, y), p) for (x, y), p in zip(there.tolist(), points, strict=True)]
    inside = [(*at, code_of[p.class_code]) for at, p in found if at]
    rows, cols, codes = np.array(inside, np.int64).reshape(-1, 3).T
    return PlacedPoints(rows, cols, codes)


def _reference_codes(layer: Layer, wanted: set[int]) -> dict[int, int]:
    """The matrix's code of each code in the class scheme; one beyond a byte for a class that the
    map does not know."""
    known = _known_codes(layer)
    return {code: known.get(code, STRANGERS + code) for code in wanted}


def _known_codes(layer: Layer) -> dict[int, int]:
    """The map's own code of each code in the class scheme that it knows."""
    known = [entry for entry in layer.map.legend if entry != UNCLASSIFIED]
    if layer.map.trained_on is not None:
        return {entry.code: entry.code for entry in known}
    scheme = (LegendEntry(c.code, c.name, c.colour) for c in list_classes(layer.study_id))
    found = same_named(scheme, known)
    if not found:
        raise InputError(
            "No class of this map has the name of one in the class scheme, so that reference "
            "points say nothing about it. Name its classes as in the scheme."
        )
    return found
