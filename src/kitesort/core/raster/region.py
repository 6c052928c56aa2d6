"""Values of part of a raster: all of it, what a view shows, or an outline."""

from shapely.geometry.base import BaseGeometry

from kitesort.core.errors import NoValidPixelsError, OutsideSceneError
from kitesort.core.raster.protocol import Raster
from kitesort.core.raster.sample import MOST_PIXELS, Sample, sample_pixels


def read_region(
    raster: Raster,
    outline: BaseGeometry | None,
    roles: tuple[str, ...],
    most: int = MOST_PIXELS,
) -> Sample:
    """Native pixels inside an outline in the raster's CRS (everywhere when None).

    Raises
    ------
    OutsideSceneError : no part of it lies on the raster.
    NoValidPixelsError : it covers the centre of no pixel.
    """
    if outline is not None and raster.grid.window_of_bounds(outline.bounds) is None:
        raise OutsideSceneError("The area lies outside the scene.")
    found = sample_pixels(raster, roles, outline=outline, most=most)
    if found.n_covered == 0:
        raise NoValidPixelsError("The area covers the centre of no pixel. Make it larger.")
    return found
