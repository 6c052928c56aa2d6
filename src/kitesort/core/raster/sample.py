"""Native pixels for whatever becomes a number: all of them where there are few, else windows spread
evenly. Never overviews, whose averages shrink spreads and hide extremes."""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from affine import Affine
from rasterio.features import geometry_mask
from shapely.geometry import mapping
from shapely.geometry.base import BaseGeometry

from kitesort.core.grid import Grid, Window
from kitesort.core.raster.protocol import Block, BoolArray, Raster

MOST_PIXELS = 2**20
WINDOW_PX = 128  # side of the windows: a small part of a tile of the usual files


def valid_values(block: Block) -> npt.NDArray[np.float32]:
    """Valid pixels of a block as (bands, pixels)."""
    return block.values[:, block.valid]


@dataclass(frozen=True)
class Sample:
    """Native pixels that are valid in all bands asked for, (bands, pixels), in the order of their
    windows. ``n_covered`` were looked at; ``exact``: that is all there are."""

    values: npt.NDArray[np.float32]
    n_covered: int
    exact: bool

    @property
    def n_valid(self) -> int:
        return int(self.values.shape[1])


def sample_pixels(
    raster: Raster,
    roles: tuple[str, ...] | None = None,
    *,
    outline: BaseGeometry | None = None,
    most: int = MOST_PIXELS,
) -> Sample:
    """Pixels of a raster, inside an outline in its CRS where there is one, which lies on it."""
    blocks, exact = sampled_blocks(raster, roles, outline=outline, most=most)
    n_bands, n_covered = len(roles) if roles is not None else len(raster.bands), 0
    parts = [np.empty((n_bands, 0), np.float32)]
    for _, block, covered in blocks:
        parts.append(block.values[:, covered & block.valid])
        n_covered += int(covered.sum())
    return Sample(np.concatenate(parts, axis=1), n_covered, exact)


def sampled_blocks(
    raster: Raster,
    roles: tuple[str, ...] | None = None,
    *,
    outline: BaseGeometry | None = None,
    most: int = MOST_PIXELS,
) -> tuple[Iterator[tuple[Window, Block, BoolArray]], bool]:
    """The windows of a sample one after another, with the pixels (rows, columns) of each that lie
    inside the outline; and whether they are all there are."""
    plan = plan_sample(raster.grid, outline, most)

    def read() -> Iterator[tuple[Window, Block, BoolArray]]:
        for window in plan.windows:
            inside = inside_outline(raster.grid, window, outline)
            if inside.any():
                yield window, raster.read(window, roles), inside

    return read(), plan.exact


@dataclass(frozen=True)
class SamplePlan:
    """Windows that do not overlap, in row order; ``exact``: they hold every pixel."""

    windows: tuple[Window, ...]
    exact: bool


def plan_sample(
    grid: Grid, outline: BaseGeometry | None = None, most: int = MOST_PIXELS
) -> SamplePlan:
    """Which native pixels are read of a grid, or of the part of it that an outline touches: all
    when they are at most ``most``, else as many windows (eight by eight for a million), each on a
    corner that is a multiple of its side, so that it lies in one tile of a tiled file."""
    whole = grid.whole if outline is None else grid.window_of_bounds(outline.bounds)
    if whole is None:
        return SamplePlan((), True)
    if whole.n_pixels <= most:
        return SamplePlan((whole,), True)
    side = min(WINDOW_PX, math.isqrt(most))
    n_along = math.isqrt(most // (side * side))
    touched = _touched_blocks(grid, whole, outline, side)
    n_blocks = int(touched.sum())
    exact = n_blocks * side * side <= most
    rows = np.flatnonzero(touched.any(axis=1))
    windows = [
        _block(whole, row, col, side)
        for row in (rows if exact else _evenly(rows, n_along))
        for cols in [np.flatnonzero(touched[row])]
        for col in (cols if exact else _evenly(cols, n_along))
    ]
    return SamplePlan(tuple(windows), exact)


def spread_windows(grid: Grid, n: int = 4, side: int = 256) -> list[Window]:
    """At most ``n`` × ``n`` native windows of ``side`` pixels spread evenly over a grid, all of it
    where it is small: for statistics of neighbours."""
    rows, cols = (_spread(length, n, side) for length in (grid.height, grid.width))
    return [Window(row, col, height, width) for row, height in rows for col, width in cols]


def inside_outline(grid: Grid, window: Window, outline: BaseGeometry | None) -> BoolArray:
    """Pixels of a window whose centres lie inside an outline in the grid's CRS; all without one."""
    shape = (window.height, window.width)
    if outline is None:
        return np.ones(shape, np.bool_)
    transform = grid.sub_grid(window).transform
    return np.asarray(geometry_mask([mapping(outline)], shape, transform, invert=True))


def _touched_blocks(
    grid: Grid, whole: Window, outline: BaseGeometry | None, side: int
) -> BoolArray:
    """Of the blocks that tile the grid from its corner, those of a window that an outline touches;
    (block rows, block columns) of the window's own."""
    first_row, first_col = whole.row // side, whole.col // side
    shape = (
        (whole.row + whole.height - 1) // side - first_row + 1,
        (whole.col + whole.width - 1) // side - first_col + 1,
    )
    if outline is None:
        return np.ones(shape, np.bool_)
    corner = Affine.translation(first_col * side, first_row * side)
    transform = grid.transform @ corner @ Affine.scale(side)
    return np.asarray(
        geometry_mask([mapping(outline)], shape, transform, invert=True, all_touched=True)
    )


def _block(whole: Window, row: int, col: int, side: int) -> Window:
    top, left = (whole.row // side + int(row)) * side, (whole.col // side + int(col)) * side
    first_row, first_col = max(top, whole.row), max(left, whole.col)
    last_row = min(top + side, whole.row + whole.height)
    last_col = min(left + side, whole.col + whole.width)
    return Window(first_row, first_col, last_row - first_row, last_col - first_col)


def _evenly(positions: npt.NDArray[np.int64], most: int) -> npt.NDArray[np.int64]:
    """At most so many of them, the middle of each of as many equal parts."""
    n = min(most, len(positions))
    return positions[((np.arange(n) + 0.5) * len(positions) / n).astype(np.int64)]


def _spread(length: int, n: int, side: int) -> list[tuple[int, int]]:
    """Starts and lengths along one axis, without overlap."""
    if length <= n * side:
        return [(at, min(side, length - at)) for at in range(0, length, side)]
    return [(round(i * (length - side) / (n - 1)), side) for i in range(n)]
