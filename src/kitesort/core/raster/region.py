"""Values of part of a raster: all of it, what a view shows, or an outline."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from affine import Affine
from rasterio.features import geometry_mask
from shapely.geometry import mapping
from shapely.geometry.base import BaseGeometry

from kitesort.core.errors import NoValidPixelsError, OutsideSceneError
from kitesort.core.raster.protocol import BoolArray, Raster
from kitesort.core.raster.sample import SAMPLE_SIDE, coarse_shape


@dataclass(frozen=True)
class RegionValues:
    """Valid values (bands, pixels) of a region, and how they came about.

    ``n_covered``: pixels of the region that were looked at. ``exact``: all there are; else they
    are a coarse view's.
    """

    values: npt.NDArray[np.float32]
    n_covered: int
    exact: bool

    @property
    def n_valid(self) -> int:
        return int(self.values.shape[1])


def read_region(
    raster: Raster,
    outline: BaseGeometry | None,
    roles: tuple[str, ...],
    side: int = SAMPLE_SIDE,
) -> RegionValues:
    """Values inside an outline in the raster's CRS (everywhere when None), from a view of at most
    ``side`` pixels a side.

    Raises
    ------
    OutsideSceneError : no part of it lies on the raster.
    NoValidPixelsError : it covers the centre of no pixel.
    """
    grid = raster.grid
    window = grid.whole if outline is None else grid.window_of_bounds(outline.bounds)
    if window is None:
        raise OutsideSceneError("The area lies outside the scene.")
    shape = coarse_shape(window.height, window.width, side)
    block = raster.read(window, roles, shape)
    inside: BoolArray = np.ones(shape, np.bool_)
    if outline is not None:
        scale = Affine.scale(window.width / shape[1], window.height / shape[0])
        transform = grid.sub_grid(window).transform @ scale
        inside = geometry_mask([mapping(outline)], shape, transform, invert=True)
    n_covered = int(inside.sum())
    if n_covered == 0:
        raise NoValidPixelsError("The area covers the centre of no pixel. Make it larger.")
    exact = shape == (window.height, window.width)
    return RegionValues(block.values[:, inside & block.valid], n_covered, exact)
