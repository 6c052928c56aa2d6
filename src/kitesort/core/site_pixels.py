"""The pixels of training sites: which ones an outline covers, and their values."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import TypeVar

import numpy as np
import numpy.typing as npt
import shapely
from affine import Affine
from rasterio.features import rasterize
from shapely.geometry.base import BaseGeometry

from kitesort.core.engine import UNWATCHED, Watch, map_windows
from kitesort.core.errors import NoValidPixelsError, OutsideSceneError, SiteError
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.protocol import Block, Raster
from kitesort.core.raster.scattered import BLOCK_PX, SMALL_PX, plan_reading, window_around

MAX_SITE_PIXELS = 4_000_000
RECTANGLE_CORNERS = 5  # the first one twice
NEAR_CENTRE = 1e-6  # pixels
MOST_LAYERS = 16  # of outlines that meet one another: what is left is burnt one by one
IndexArray = npt.NDArray[np.int32]
ShapeArray = npt.NDArray[np.object_]
T = TypeVar("T")

OUTSIDE = "The site lies outside the scene. Draw it where there is imagery."
TOO_LARGE = "The site is too large to be one piece of ground. Draw smaller sites."
WITHOUT_CENTRE = "The site covers the centre of no pixel. Draw it larger than a pixel."
UNUSABLE = (
    "The site has no usable pixel: all of them are no data, cloud or cloud shadow. "
    "Draw it where the ground is seen."
)


@dataclass(frozen=True)
class SitePixels:
    """Valid pixels of a site: values (pixels, bands) float32, rows and cols (pixels,) in the
    raster, in row order; ``n_covered`` counts the others, too."""

    values: npt.NDArray[np.float32]
    n_covered: int
    rows: IndexArray
    cols: IndexArray

    @property
    def n_valid(self) -> int:
        return int(self.values.shape[0])


@dataclass(frozen=True)
class Footprint:
    """Pixels (n,) whose centres lie in an outline, in row order, and a window around them."""

    window: Window
    rows: IndexArray
    cols: IndexArray


def site_mask(polygon: BaseGeometry, grid: Grid) -> tuple[Window, npt.NDArray[np.bool_]]:
    """The window around a site and the pixels (row, col) whose centres lie inside it.

    Raises
    ------
    OutsideSceneError : no part lies on the grid.
    NoValidPixelsError : no pixel centre inside.
    """
    found = _or_raise(site_footprints([polygon], grid)[0])
    inside = np.zeros((found.window.height, found.window.width), np.bool_)
    inside[found.rows - found.window.row, found.cols - found.window.col] = True
    return found.window, inside


def site_pixels(raster: Raster, polygon: BaseGeometry, roles: tuple[str, ...]) -> SitePixels:
    """Valid pixels of a site in the bands named, in row order.

    Raises
    ------
    OutsideSceneError, NoValidPixelsError, SiteError
    """
    return _or_raise(many_site_pixels(raster, [polygon], roles)[0])


def _or_raise(found: T | SiteError) -> T:
    if isinstance(found, SiteError):
        raise found
    return found


def many_site_pixels(
    raster: Raster,
    polygons: Sequence[BaseGeometry],
    roles: tuple[str, ...],
    watch: Watch = UNWATCHED,
) -> list[SitePixels | SiteError]:
    """Pixels of many sites in one pass over the raster, block by block, or why a site has none.

    Raises
    ------
    CancelledError
    """
    places = site_footprints(polygons, raster.grid)
    found: list[SitePixels | SiteError] = [
        one if isinstance(one, SiteError) else SiteError(UNUSABLE) for one in places
    ]
    located = {i: one for i, one in enumerate(places) if isinstance(one, Footprint)}
    groups = plan_reading({i: one.window for i, one in located.items()})

    def read(window: Window) -> Block:
        return raster.read(window, roles)

    def consume(window: Window, block: Block) -> None:
        members = groups[window]
        pixels = _pixels_in(block, window, [located[i] for i in members])
        for i, one in zip(members, pixels, strict=True):
            found[i] = one

    map_windows(list(groups), read, consume, watch=watch)
    return found


def _pixels_in(
    block: Block, window: Window, places: Sequence[Footprint]
) -> Iterator[SitePixels | SiteError]:
    """Of sites that lie in a block: all are gathered at once, then parted."""
    n_covered = [len(one.rows) for one in places]
    rows = np.concatenate([one.rows for one in places])
    cols = np.concatenate([one.cols for one in places])
    usable = block.valid[rows - window.row, cols - window.col]
    ends = np.cumsum(n_covered)
    n_usable = np.diff(np.concatenate([[0], np.cumsum(usable)[ends - 1]])).tolist()
    rows, cols = rows[usable], cols[usable]
    picked = block.values[:, rows - window.row, cols - window.col]
    values = np.ascontiguousarray(picked.T)
    start = 0
    for covered, n in zip(n_covered, n_usable, strict=True):
        at = slice(start, start + n)
        start += n
        if n:
            yield SitePixels(values[at], covered, rows[at], cols[at])
        else:
            yield NoValidPixelsError(UNUSABLE)


def site_footprints(polygons: Sequence[BaseGeometry], grid: Grid) -> list[Footprint | SiteError]:
    """Which pixels of a grid each outline (in the grid's CRS) covers, or why it covers none.

    Outlines are carried into pixel coordinates of the whole grid first: which pixels they cover
    depends on no window that is read later.
    """
    shapes = _in_pixels(polygons, grid)
    windows = _windows_of(shapes, grid)
    found: dict[int, Footprint | SiteError] = {
        i: one for i, one in enumerate(windows) if isinstance(one, SiteError)
    }
    left = {i: one for i, one in enumerate(windows) if isinstance(one, Window)}
    found |= _rectangles(shapes, left)
    found |= _outlines(shapes, {i: one for i, one in left.items() if i not in found})
    return [found[i] for i in range(len(windows))]


def _in_pixels(polygons: Sequence[BaseGeometry], grid: Grid) -> ShapeArray:
    """The same shapes in columns and rows."""
    inverse = ~grid.transform

    def move(xy: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
        return np.column_stack(inverse @ (xy[:, 0], xy[:, 1]))

    shapes = np.empty(len(polygons), object)
    shapes[:] = polygons
    return np.asarray(shapely.transform(shapes, move), object)


def _windows_of(shapes: ShapeArray, grid: Grid) -> list[Window | SiteError]:
    """Windows of whole pixels around shapes in pixel coordinates, cut to the grid."""
    bounds = shapely.bounds(shapes).reshape(-1, 4)
    sides = (grid.width, grid.height)
    first_col, first_row = (np.clip(np.floor(bounds[:, k]), 0, sides[k]) for k in (0, 1))
    last_col, last_row = (np.clip(np.ceil(bounds[:, 2 + k]), 0, sides[k]) for k in (0, 1))
    table = np.column_stack([first_row, first_col, last_row - first_row, last_col - first_col])
    return [_window_or_error(*one) for one in table.astype(np.int64).tolist()]


def _window_or_error(row: int, col: int, height: int, width: int) -> Window | SiteError:
    if height <= 0 or width <= 0:
        return OutsideSceneError(OUTSIDE)
    if height * width > MAX_SITE_PIXELS:
        return SiteError(TOO_LARGE)
    return Window(row, col, height, width)


def _rectangles(shapes: ShapeArray, windows: dict[int, Window]) -> dict[int, Footprint | SiteError]:
    """Of upright rectangles, of which single pixels are many; not those with an edge so near to a
    centre that it is a matter of rounding."""
    places = np.array(list(windows), np.int64)
    some = shapes[places]
    bounds = shapely.bounds(some).reshape(-1, 4)
    sides = bounds[:, 2:] - bounds[:, :2]
    plain = (shapely.get_num_coordinates(some) == RECTANGLE_CORNERS) & np.isclose(
        shapely.area(some), sides.prod(axis=1), rtol=1e-9, atol=0.0
    )
    plain &= shapely.get_type_id(some) == shapely.GeometryType.POLYGON
    plain &= (np.abs(bounds % 1 - 0.5) >= NEAR_CENTRE).all(axis=1)
    # The first centre behind an edge, and the first one behind the opposite edge.
    edges = np.clip(np.ceil(bounds[plain] - 0.5), -1, np.iinfo(np.int32).max // 2).astype(np.int32)
    return {
        i: _rectangle(windows[i], (left, top, right, bottom), first)
        for i, (left, top, right, bottom), first in zip(
            places[plain].tolist(), edges.tolist(), edges[:, None, :2], strict=True
        )
    }


def _rectangle(
    window: Window, edges: tuple[int, int, int, int], first: IndexArray
) -> Footprint | SiteError:
    """Of the centres between left, top, right and bottom edges; ``first`` (1, 2): column and row of
    the first of them."""
    left, top, right, bottom = edges
    if edges == (window.col, window.row, window.col + 1, window.row + 1):
        return Footprint(window, first[:, 1], first[:, 0])
    rows = _within(top, bottom, window.row, window.height)
    cols = _within(left, right, window.col, window.width)
    if len(rows) and len(cols):
        return Footprint(window, rows.repeat(len(cols)), np.tile(cols, len(rows)))
    return NoValidPixelsError(WITHOUT_CENTRE)


def _within(first: int, end: int, start: int, length: int) -> IndexArray:
    return np.arange(max(first, start), min(end, start + length), dtype=np.int32)


def _outlines(shapes: ShapeArray, windows: dict[int, Window]) -> dict[int, Footprint | SiteError]:
    """Of any outlines: those whose windows do not meet are burnt into one raster of numbers."""
    found: dict[int, Footprint | SiteError] = {}
    for members in _apart(windows):
        around = window_around([windows[i] for i in members])
        numbers = rasterize(
            ((shapes[i], number) for number, i in enumerate(members, start=1)),
            (around.height, around.width), dtype="int32",
            transform=Affine.translation(around.col, around.row),
        )  # fmt: skip
        at = np.nonzero(numbers)
        number = numbers[at]
        order = np.argsort(number, kind="stable")
        rows = (at[0][order] + around.row).astype(np.int32)
        cols = (at[1][order] + around.col).astype(np.int32)
        ends = np.searchsorted(number[order], np.arange(len(members) + 1), side="right").tolist()
        for i, start, end in zip(members, ends, ends[1:], strict=False):
            found[i] = (
                Footprint(windows[i], rows[start:end], cols[start:end])
                if end > start
                else NoValidPixelsError(WITHOUT_CENTRE)
            )
    return found


def _apart(windows: dict[int, Window]) -> Iterator[list[int]]:
    """Sites in groups whose windows do not meet: small ones that begin in the same block, large
    ones by themselves."""
    of_block: dict[tuple[int, int], list[int]] = {}
    for i, window in windows.items():
        if max(window.height, window.width) > SMALL_PX:
            yield [i]
        else:
            block = window.row // BLOCK_PX, window.col // BLOCK_PX
            of_block.setdefault(block, []).append(i)
    for waiting in of_block.values():
        for _ in range(MOST_LAYERS):
            if waiting:
                together, waiting = _first_apart(waiting, windows)
                yield together
        yield from ([i] for i in waiting)


def _first_apart(waiting: list[int], windows: dict[int, Window]) -> tuple[list[int], list[int]]:
    """Those that meet none before them, and the others."""
    around = window_around([windows[i] for i in waiting])
    taken = np.zeros((around.height, around.width), np.bool_)
    together, left = [], []
    for i in waiting:
        window = windows[i]
        row, col = window.row - around.row, window.col - around.col
        here = taken[row : row + window.height, col : col + window.width]
        if here.any():
            left.append(i)
        else:
            here[...] = True
            together.append(i)
    return together, left
