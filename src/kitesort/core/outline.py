"""From a drawn shape to the pixels whose centres it covers."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt
from rasterio.features import geometry_mask
from shapely import get_coordinates
from shapely.geometry import box, mapping
from shapely.geometry.base import BaseGeometry
from shapely.validation import explain_validity

from kitesort.core.errors import NoValidPixelsError, OutsideSceneError, SelfCrossingError, SiteError
from kitesort.core.geojson import shape_or_none
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.protocol import Raster

MAX_SITE_PIXELS = 4_000_000
MAX_VERTICES = 20_000


@dataclass(frozen=True)
class SitePixels:
    """Values (pixels, bands) float32 of a site's valid pixels, how many it covers in all, and where
    in the raster the valid ones lie."""

    values: npt.NDArray[np.float32]
    n_covered: int
    rows: npt.NDArray[np.int32]
    cols: npt.NDArray[np.int32]

    @property
    def n_valid(self) -> int:
        return int(self.values.shape[0])


def parse_site(geometry: Mapping[str, Any]) -> BaseGeometry:
    """A polygon from its GeoJSON, in the scene's CRS.

    Raises
    ------
    SelfCrossingError, SiteError
    """
    if geometry.get("type") not in ("Polygon", "MultiPolygon"):
        raise SiteError("A training site is a polygon. Draw an outline that encloses an area.")
    polygon = shape_or_none(geometry)
    if polygon is None:
        raise SiteError("The outline is incomplete: a polygon needs at least three corners.")
    corners = get_coordinates(polygon)
    if len(corners) > MAX_VERTICES:
        raise SiteError(
            f"The outline has {len(corners):,} corners; at most {MAX_VERTICES:,} are taken."
        )
    if polygon.is_empty or not np.isfinite(corners).all():
        raise SiteError("The outline is empty or has a corner without coordinates.")
    if not polygon.is_valid:
        reason = explain_validity(polygon)
        if "elf-intersection" not in reason:
            raise SiteError(f"The outline encloses no proper area ({reason}). Draw it again.")
        raise SelfCrossingError(
            f"The outline crosses itself ({reason}). "
            "Move the corner there so that the edges do not cross."
        )
    if polygon.area <= 0:
        raise SiteError("The outline encloses no area. Draw at least three corners apart.")
    return polygon


def share_outside(polygon: BaseGeometry, grid: Grid) -> float:
    """Share of an outline's area that lies outside of the grid, 0 to 1."""
    return float(1 - polygon.intersection(box(*grid.bounds)).area / polygon.area)


def site_mask(polygon: BaseGeometry, grid: Grid) -> tuple[Window, npt.NDArray[np.bool_]]:
    """The window around a site and the pixels (row, col) whose centres lie inside it.

    Raises
    ------
    OutsideSceneError : no part lies on the grid.
    NoValidPixelsError : no pixel centre inside.
    """
    window = grid.window_of_bounds(polygon.bounds)
    if window is None:
        raise OutsideSceneError("The site lies outside the scene. Draw it where there is imagery.")
    if window.n_pixels > MAX_SITE_PIXELS:
        raise SiteError("The site is too large to be one piece of ground. Draw smaller sites.")
    sub = grid.sub_grid(window)
    inside = geometry_mask(
        [mapping(polygon)], (window.height, window.width), sub.transform, invert=True
    )
    if not inside.any():
        raise NoValidPixelsError(
            "The site covers the centre of no pixel. Draw it larger than a pixel."
        )
    return window, inside


def site_pixels(raster: Raster, polygon: BaseGeometry, roles: tuple[str, ...]) -> SitePixels:
    """Valid pixels of a site in the bands named, in row order.

    Raises
    ------
    OutsideSceneError, NoValidPixelsError
    """
    window, inside = site_mask(polygon, raster.grid)
    block = raster.read(window, roles)
    use = inside & block.valid
    if not use.any():
        raise NoValidPixelsError(
            "The site has no usable pixel: all of them are no data, cloud or cloud shadow. "
            "Draw it where the ground is seen."
        )
    rows, cols = np.nonzero(use)
    return SitePixels(
        np.ascontiguousarray(block.values[:, use].T),
        int(inside.sum()),
        (rows + window.row).astype(np.int32),
        (cols + window.col).astype(np.int32),
    )
