"""A coarse view of a raster for statistics at once, and the same over every pixel as a run."""

import numpy as np
import numpy.typing as npt

from kitesort.core.grid import Grid, Window
from kitesort.core.raster.protocol import Block, Raster, Shape

SAMPLE_SIDE = 1024


def coarse_shape(height: int, width: int, side: int = SAMPLE_SIDE) -> Shape:
    """Rows and columns of a view of at most ``side`` pixels along the longer side."""
    factor = max(1.0, max(height, width) / side)
    return max(1, round(height / factor)), max(1, round(width / factor))


def read_coarse(
    raster: Raster, roles: tuple[str, ...] | None = None, side: int = SAMPLE_SIDE
) -> Block:
    """The whole raster in at most ``side`` pixels a side, nearest neighbour from overviews."""
    grid = raster.grid
    return raster.read(grid.whole, roles, coarse_shape(grid.height, grid.width, side))


def valid_values(block: Block) -> npt.NDArray[np.float32]:
    """Valid pixels of a block as (bands, pixels)."""
    return block.values[:, block.valid]


def spread_windows(grid: Grid, n: int = 4, side: int = 256) -> list[Window]:
    """At most ``n`` × ``n`` native windows of ``side`` pixels spread evenly over a grid, all of it
    where it is small: for statistics of neighbours, which no coarse view can give."""
    rows, cols = (_spread(length, n, side) for length in (grid.height, grid.width))
    return [Window(row, col, height, width) for row, height in rows for col, width in cols]


def _spread(length: int, n: int, side: int) -> list[tuple[int, int]]:
    """Starts and lengths along one axis, without overlap."""
    if length <= n * side:
        return [(at, min(side, length - at)) for at in range(0, length, side)]
    return [(round(i * (length - side) / (n - 1)), side) for i in range(n)]
