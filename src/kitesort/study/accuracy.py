"""A kept class map held against the study's reference points."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt

from kitesort.core.assess.error_matrix import ErrorMatrix, build_error_matrix
from kitesort.core.errors import InputError
from kitesort.core.geometry import reproject_points
from kitesort.core.grid import Grid
from kitesort.core.legend import N_CODES, NODATA_CODE, UNCLASSIFIED, LegendEntry, same_named
from kitesort.store.records import Layer, ReferencePoint
from kitesort.store.scheme import list_classes
from kitesort.store.studies import list_points
from kitesort.study.maps import get_map
from kitesort.study.rasters import codes_at, study_crs
from kitesort.study.upper_level import codes_above

STRANGERS = N_CODES  # beyond every code that a map can hold
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

    @property
    def own_codes(self) -> list[int]:
        """Of the matrix's classes: the map's, or the scheme's of a class that the map has not."""
        return [code % STRANGERS for code in self.matrix.codes]


def check_map(layer_id: int, upper: bool = False) -> Accuracy:
    """A map against the study's reference points; classes of a map made by breaks are those of
    the class scheme that have the same name. A point of a class that the map does not know is an
    error wherever the map has data. At the ``upper`` level of the scheme classes that belong to the
    same one are not confused.

    Raises
    ------
    NotFoundError. InputError : no class of the map is in the class scheme.
    """
    layer = get_map(layer_id)
    names = _CodesOf.in_map(layer, upper)
    points, crs = list_points(layer.study_id), study_crs(layer.study_id)
    mapped_codes = codes_at(layer_id, _places_of(points), crs).tolist()
    checked = [
        CheckedPoint(p, names.of_map(code), names.of(p.class_code))
        for p, code in zip(points, mapped_codes, strict=True)
    ]
    counted = [c for c in checked if c.mapped_code != NODATA_CODE]
    mapped = np.array([c.mapped_code for c in counted], np.int64)
    reference = np.array([c.reference_code for c in counted], np.int64)
    present = set(mapped.tolist()) | set(reference.tolist())
    known = {entry.code: entry for entry in layer.map.legend}
    strangers = names.strangers({p.class_code for p in points})
    entries = [
        LegendEntry(code, entry.name, entry.colour)
        for code, entry in (known | strangers).items()
        if code in present
    ]
    matrix = build_error_matrix(mapped, reference, tuple(e.code for e in entries))
    unknown = [e.name for e in entries if e.code not in known and not names.is_told(e.code)]
    return Accuracy(matrix, checked, len(points) - len(counted), entries, unknown)


@dataclass(frozen=True)
class _CodesOf:
    """Codes in the matrix of a map: the map's own, and one beyond all codes for a class of the
    scheme that it does not know. ``own``: the map's of each in the scheme; ``above``: under which
    class of the scheme each is reported, empty where it is reported as it is."""

    own: dict[int, int]
    above: dict[int, int]
    scheme: dict[int, LegendEntry]

    @classmethod
    def in_map(cls, layer: Layer, upper: bool = False) -> "_CodesOf":
        """Raises InputError : no class of the map is in the class scheme."""
        classes = list_classes(layer.study_id)
        scheme = {c.code: LegendEntry(c.code, c.name, c.colour) for c in classes}
        above = codes_above(classes) if upper else {}
        return cls(_known_codes(layer, scheme), above, scheme)

    def of(self, scheme_code: int) -> int:
        code = self.above.get(scheme_code, scheme_code)
        return self.own.get(code, STRANGERS + code)

    def of_map(self, map_code: int) -> int:
        return self._of_map.get(map_code, map_code)

    @cached_property
    def _of_map(self) -> dict[int, int]:
        return {mine: self.of(code) for code, mine in self.own.items()}

    def is_told(self, code: int) -> bool:
        """Whether the map says so anywhere."""
        return code in self._of_map.values()

    def strangers(self, reference_codes: Iterable[int]) -> dict[int, LegendEntry]:
        """What stands for classes that the map has not itself, by code in the matrix."""
        codes = {self.above.get(code, code) for code in (*reference_codes, *self.own)}
        return {
            STRANGERS + code: self.scheme.get(
                code, LegendEntry(code, f"Class {code}", UNCLASSIFIED.colour)
            )
            for code in codes
            if code not in self.own
        }


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
    try:
        names, points = _CodesOf.in_map(layer), list_points(layer.study_id)
    except InputError:
        points = []
    there = reproject_points(_places_of(points), study_crs(layer.study_id), grid.crs)
    rows, cols, inside = grid.pixels_at(there)
    codes = np.array([names.of(p.class_code) for p in points], np.int64)
    return PlacedPoints(rows[inside], cols[inside], codes[inside])


def _places_of(points: Sequence[ReferencePoint]) -> npt.NDArray[np.float64]:
    return np.array([(p.x, p.y) for p in points], np.float64).reshape(-1, 2)


def _known_codes(layer: Layer, scheme: Mapping[int, LegendEntry]) -> dict[int, int]:
    """The map's own code of each code in the class scheme that it knows: of the same name, since a
    class keeps it when its code is changed; else, of a map that was trained, of the same code."""
    known = [entry for entry in layer.map.legend if entry != UNCLASSIFIED]
    found = same_named(scheme.values(), known)
    if layer.map.trained_on is not None:
        taken = set(found.values())
        left = [e.code for e in known if e.code not in taken and e.code not in found]
        return found | {code: code for code in left}
    if not found:
        raise InputError(
            "No class of this map has the name of one in the class scheme, so that reference "
            "points say nothing about it. Name its classes as in the scheme."
        )
    return found
