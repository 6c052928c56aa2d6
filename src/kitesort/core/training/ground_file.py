"""Ground that others have told of: outlines and points with their classes, made into sites."""

import json
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import date
from pathlib import PurePath
from typing import Any

import numpy as np
import numpy.typing as npt
import shapely
from shapely.geometry.base import BaseGeometry

from kitesort.core.crs_search import require_crs
from kitesort.core.errors import BadSettingsError, InputError
from kitesort.core.geometry import reproject_points, reproject_shape
from kitesort.core.grid import Grid, parse_crs
from kitesort.core.legend import is_class_code
from kitesort.core.outline import MAX_VERTICES
from kitesort.core.training.mending import areas_and_points, mended
from kitesort.core.training.point_table import read_point_table
from kitesort.core.vector_file import VectorTable, read_vector

MOST_FEATURES = 100_000
MOST_VERTICES = 4_000_000
TABLES = (".csv", ".tsv", ".txt")
CLASS_NAMES = ("class", "class_name", "cover", "landcover", "land_cover", "label", "name", "code")
LONGEST_VALUE = 80
Shapes = npt.NDArray[np.object_]


@dataclass(frozen=True)
class GroundOptions:
    """What the analyst said of a file: its CRS, the columns of a table that hold the place, and the
    attribute that tells the class. None: as found."""

    crs: str | None = None
    x: str | None = None
    y: str | None = None
    attribute: str | None = None


@dataclass(frozen=True)
class GroundColumn:
    """A column: how many different values it has, and the first of them."""

    name: str
    n_different: int
    examples: tuple[str, ...]


@dataclass(frozen=True)
class FoundSite:
    """A site to be: outline in the CRS asked for, what the attribute says, and what else is said of
    it in the words of our own files."""

    value: str
    outline: BaseGeometry
    note: str
    true_on: date | None


@dataclass(frozen=True)
class FoundGround:
    """What a file holds. Without ``crs`` nobody knows where, without a ``place`` nobody knows which
    columns of a table, and there are no sites yet. ``left_out``: features that are not taken, by
    reason; ``codes`` and ``colours``: of values, where the file tells them."""

    columns: tuple[GroundColumn, ...]
    is_table: bool
    place: tuple[str, str] | None
    crs: str | None
    attribute: str | None
    n_features: int
    sites: tuple[FoundSite, ...] = ()
    left_out: dict[str, int] = field(default_factory=dict)
    n_mended: int = 0
    codes: dict[str, int] = field(default_factory=dict)
    colours: dict[str, str] = field(default_factory=dict)

    @property
    def counts(self) -> dict[str, int]:
        """Sites by what the attribute says, most first."""
        return dict(Counter(site.value for site in self.sites).most_common())


def read_ground(
    content: bytes, file_name: str, grid: Grid, crs: str, options: GroundOptions
) -> FoundGround:
    """Sites of a file, in ``crs``: outlines as they are, points as single pixels of ``grid``.

    Raises
    ------
    UnreadableFileError, InputError : with a sentence that says what is wrong.
    """
    if PurePath(file_name).suffix.lower() in TABLES:
        told = read_point_table(content, file_name, MOST_FEATURES)
        place = (options.x, options.y) if options.x and options.y else told.guess_place()
        first, second = place or told.head[:2]
        table, is_table = told.at(first, second), True
    else:
        table, place, is_table = read_vector(content, file_name, MOST_FEATURES), None, False
    own = _known_crs(options.crs or table.crs, told_by_file=options.crs is None)
    attribute = _require_column(table, options.attribute) or _likely_attribute(table)
    found = FoundGround(_columns_of(table), is_table, place, own, attribute, len(table.shapes))
    if own is None or (is_table and place is None):
        return found
    _require_likely(table, own, file_name)
    return _with_sites(found, table, _Frame(own, grid, crs))


@dataclass(frozen=True)
class _Frame:
    """The CRS of a file, the grid whose pixels points are, and the CRS asked for."""

    own: str
    grid: Grid
    crs: str


def _known_crs(text: str | None, told_by_file: bool) -> str | None:
    if text is None:
        return None
    try:
        return require_crs(text)
    except BadSettingsError:
        if told_by_file:
            return None  # to be asked for, since nobody knows what it means
        raise


def _require_likely(table: VectorTable, crs: str, file_name: str) -> None:
    """Degrees beyond the globe are none: the file is in another system than it says."""
    shapes = [shape for shape in table.shapes if shape is not None and not shape.is_empty]
    corners = shapely.get_coordinates(np.array(shapes, object)) if shapes else np.empty((0, 2))
    if len(corners) > MOST_VERTICES:
        raise InputError(
            f"{file_name} has {len(corners):,} corners; at most {MOST_VERTICES:,} are taken. "
            "Simplify its outlines, or leave out what is not needed."
        )
    if not len(corners) or not parse_crs(crs).is_geographic:
        return
    if np.abs(corners[:, 0]).max() > 360 or np.abs(corners[:, 1]).max() > 90:
        raise InputError(
            f"{file_name} is said to be in degrees, but has coordinates beyond the globe. Choose "
            "the coordinate system that it is in."
        )


def _require_column(table: VectorTable, name: str | None) -> str | None:
    if name is not None and name not in table.columns:
        raise InputError(f"There is no attribute “{name}” in the file.")
    return name


def _likely_attribute(table: VectorTable) -> str | None:
    """The attribute that is called as classes usually are, else the first of text."""
    named = {name.casefold(): name for name in table.columns}
    for wanted in CLASS_NAMES:
        if wanted in named:
            return named[wanted]
    texts = (n for n, values in table.columns.items() if any(isinstance(v, str) for v in values))
    return next(texts, next(iter(table.columns), None))


def _columns_of(table: VectorTable) -> tuple[GroundColumn, ...]:
    found = []
    for name, values in table.columns.items():
        different = dict.fromkeys(_words(value) for value in values if value is not None)
        found.append(GroundColumn(name, len(different), tuple(different)[:3]))
    return tuple(found)


def _words(value: Any) -> str:
    """A value as it is shown and mapped: whole numbers without a fraction, no stray blanks."""
    if isinstance(value, float) and value.is_integer():
        value = int(value)
    text = value if isinstance(value, str) else json.dumps(value, ensure_ascii=False, default=str)
    return " ".join(text.split())[:LONGEST_VALUE]


def _with_sites(found: FoundGround, table: VectorTable, frame: _Frame) -> FoundGround:
    left_out: Counter[str] = Counter()
    blank = (None,) * len(table.shapes)
    values = [
        "" if value is None else _words(value)
        for value in (table.columns[found.attribute] if found.attribute else blank)
    ]
    outlines, points = [], []
    for i, shape in enumerate(table.shapes):
        if not values[i]:
            left_out["without a class"] += 1
            continue
        areas, places = areas_and_points(shape)
        if areas:
            outlines.append((i, areas))
        points += [(i, place) for place in places]
        if not areas and not places:
            left_out["without an area or a point"] += 1
    made = [
        *_from_outlines(outlines, frame, left_out),
        *_from_points(points, values, frame, left_out),
    ]
    n_mended = sum(mended for _, _, mended in made)
    told = _Told(table)
    sites = tuple(
        FoundSite(values[i], outline, told.note(i), told.true_on(i))
        for i, outline, _ in sorted(made, key=lambda one: one[0])
    )
    return FoundGround(
        found.columns, found.is_table, found.place, found.crs, found.attribute, found.n_features,
        sites, dict(left_out.most_common()), n_mended, told.codes(values), told.colours(values),
    )  # fmt: skip


_Made = tuple[int, BaseGeometry, bool]


def _from_outlines(
    outlines: Sequence[tuple[int, list[BaseGeometry]]], frame: _Frame, left_out: Counter[str]
) -> Iterable[_Made]:
    """One site for each feature: its number, outline, and whether it was mended."""
    scene = shapely.box(*frame.grid.bounds)
    for i, areas in outlines:
        whole = areas[0] if len(areas) == 1 else shapely.MultiPolygon(areas)
        if shapely.get_num_coordinates(whole) > MAX_VERTICES:
            left_out[f"with more than {MAX_VERTICES:,} corners"] += 1
            continue
        good = mended(whole)
        if good is None:
            left_out["whose outline crosses itself"] += 1
            continue
        try:
            there = reproject_shape(good, frame.own, frame.grid.crs)
            back = reproject_shape(good, frame.own, frame.crs)
        except BadSettingsError:
            left_out["outside the scene"] += 1
            continue
        if there.intersects(scene):
            yield i, back, good is not whole
        else:
            left_out["outside the scene"] += 1


def _from_points(
    points: Sequence[tuple[int, BaseGeometry]],
    values: Sequence[str],
    frame: _Frame,
    left_out: Counter[str],
) -> Iterable[_Made]:
    """The pixel of each point; one for points of one class that share it."""
    if not points:
        return
    grid = frame.grid
    given = shapely.get_coordinates(np.array([point for _, point in points], object))
    places = reproject_points(given, frame.own, grid.crs)
    cols, rows = ~grid.transform @ (places[:, 0], places[:, 1])
    inside = (rows >= 0) & (rows < grid.height) & (cols >= 0) & (cols < grid.width)
    if not inside.all():
        left_out["outside the scene"] += int((~inside).sum())
    taken: set[tuple[int, int, str]] = set()
    kept: list[tuple[int, int, int]] = []
    for place in np.flatnonzero(inside).tolist():
        number = points[place][0]
        row, col = int(rows[place]), int(cols[place])
        if (row, col, values[number]) in taken:
            left_out["in a pixel that is taken already"] += 1
        else:
            taken.add((row, col, values[number]))
            kept.append((number, row, col))
    pixels = _pixel_squares(np.array([(row, col) for _, row, col in kept]).reshape(-1, 2), frame)
    for (number, _, _), outline in zip(kept, pixels, strict=True):
        yield number, outline, False


def _pixel_squares(at: npt.NDArray[np.int64], frame: _Frame) -> Shapes:
    """Outlines of pixels (n, row and column) in the CRS asked for."""
    rows, cols = at[:, 0], at[:, 1]
    left, top = frame.grid.transform @ (cols, rows)
    right, bottom = frame.grid.transform @ (cols + 1, rows + 1)
    squares = shapely.box(left, bottom, right, top)
    moved = shapely.transform(squares, lambda xy: reproject_points(xy, frame.grid.crs, frame.crs))
    return np.asarray(moved, object)


class _Told:
    """What files of ours say beside the class: note, date, code, colour."""

    def __init__(self, table: VectorTable) -> None:
        self._columns = {name.casefold(): values for name, values in table.columns.items()}

    def note(self, i: int) -> str:
        value = self._columns.get("note", ())
        return str(value[i])[:400] if value and value[i] is not None else ""

    def true_on(self, i: int) -> date | None:
        values = self._columns.get("true_on", ())
        try:
            return date.fromisoformat(str(values[i])[:10]) if values else None
        except ValueError:
            return None

    def codes(self, values: Sequence[str]) -> dict[str, int]:
        told = self._by_value("code", values)
        return {v: int(c) for v, c in told.items() if _is_code(c)}

    def colours(self, values: Sequence[str]) -> dict[str, str]:
        return {v: str(c) for v, c in self._by_value("colour", values).items()}

    def _by_value(self, column: str, values: Sequence[str]) -> dict[str, Any]:
        """What a column says of each value, where it always says the same."""
        found: dict[str, set[Any]] = {}
        for value, told in zip(values, self._columns.get(column, ()), strict=False):
            if value and told is not None:
                found.setdefault(value, set()).add(told)
        return {value: next(iter(told)) for value, told in found.items() if len(told) == 1}


def _is_code(told: object) -> bool:
    text = str(told)
    return text.isdecimal() and len(text) < 6 and is_class_code(int(text))
