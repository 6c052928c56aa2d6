"""A coarse view of a raster for statistics at once, and the same over every pixel as a run."""

import numpy as np
import numpy.typing as npt

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
