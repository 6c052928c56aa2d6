"""A cloud of points circled in feature space: which pixels lie in it, how many, of what."""

from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt
import shapely
from shapely.geometry import box
from shapely.geometry.base import BaseGeometry

from kitesort.core.errors import BadSettingsError
from kitesort.core.geodesy import pixel_areas_ha
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.protocol import BoolArray, Raster
from kitesort.core.raster.sample import MOST_PIXELS, sampled_blocks

Floats = npt.NDArray[np.floating]
MAX_CORNERS = 500
MAX_TEXT = 15_000
PATTERN = r"^[-+0-9.eE, ]*$"
LARGEST = 1e18


def parse_cloud(text: str) -> shapely.Polygon:
    """A cloud drawn in feature space from ``x y, x y, …``.

    Raises
    ------
    BadSettingsError
    """
    try:
        corners = [[float(v) for v in pair.split()] for pair in text.split(",")]
        points = np.asarray(corners, np.float64)
    except ValueError as error:
        raise BadSettingsError("The drawn cloud has a corner without two numbers.") from error
    if points.ndim != 2 or points.shape[1] != 2 or not 3 <= len(points) <= MAX_CORNERS:
        raise BadSettingsError(f"A drawn cloud has 3 to {MAX_CORNERS} corners.")
    if not np.isfinite(points).all():
        raise BadSettingsError("The drawn cloud has a corner without two numbers.")
    within = np.clip(points, -LARGEST, LARGEST)  # beyond that, 32-bit values and areas overflow
    cloud = shapely.make_valid(shapely.polygons(within))
    if cloud.area <= 0:
        raise BadSettingsError("The drawn cloud encloses nothing.")
    shapely.prepare(cloud)
    return cloud


def in_cloud(cloud: shapely.Geometry, x: Floats, y: Floats) -> BoolArray:
    """Which pixels lie in a cloud; same shape as ``x`` and ``y``."""
    left, bottom, right, top = cloud.bounds
    near = (x >= left) & (x <= right) & (y >= bottom) & (y <= top)
    inside = np.zeros(x.shape, np.bool_)
    inside[near] = shapely.contains_xy(cloud, x[near], y[near])
    return inside


@dataclass
class CloudCount:
    """Of the pixels looked at (``n_covered``, ``n_valid`` of them with both values) those in a
    cloud, their area on the ellipsoid, and how many of them are of each class code. Not ``exact``:
    of pixels spread evenly over the region, the area in proportion."""

    exact: bool
    n_covered: int = 0
    n_valid: int = 0
    n_inside: int = 0
    area_ha: float = 0.0
    by_code: dict[int, int] = field(default_factory=dict)


def count_cloud(
    raster: Raster,
    cloud: shapely.Geometry,
    *,
    outline: BaseGeometry | None = None,
    codes: Raster | None = None,
    most: int = MOST_PIXELS,
) -> CloudCount:
    """What lies in a cloud of a raster whose two bands are the axes, in an outline in its CRS;
    ``codes``: class codes on the same grid.

    Raises
    ------
    GridMismatchError
    """
    if codes is not None:
        raster.grid.require_same_as(codes.grid)
    blocks, exact = sampled_blocks(raster, outline=outline, most=most)
    count = CloudCount(exact)
    for window, block, covered in blocks:
        usable = covered & block.valid
        inside = usable & in_cloud(cloud, block.values[0], block.values[1])
        count.n_covered += int(covered.sum())
        count.n_valid += int(usable.sum())
        count.n_inside += int(inside.sum())
        count.area_ha += float(pixel_areas_ha(raster.grid, window)[inside].sum())
        if codes is not None and inside.any():
            _add_codes(count, codes, window, inside)
    if not exact and count.n_covered > 0:
        count.area_ha *= _n_pixels(raster.grid, outline) / count.n_covered
    return count


def _n_pixels(grid: Grid, outline: BaseGeometry | None) -> float:
    if outline is None:
        return grid.whole.n_pixels
    width, height = grid.pixel_size
    return float(outline.intersection(box(*grid.bounds)).area / (width * height))


def _add_codes(count: CloudCount, codes: Raster, window: Window, inside: BoolArray) -> None:
    said = codes.read(window)
    found, n_each = np.unique(said.values[0][inside & said.valid], return_counts=True)
    for code, n in zip(found.astype(int).tolist(), n_each.tolist(), strict=True):
        count.by_code[code] = count.by_code.get(code, 0) + n
