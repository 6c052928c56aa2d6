"""From a drawn shape to the pixels whose centres it covers."""

import json
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt
from affine import Affine
from rasterio.features import geometry_mask
from shapely import get_coordinates, get_num_coordinates
from shapely.geometry import box, mapping
from shapely.geometry.base import BaseGeometry
from shapely.validation import explain_validity

from kitesort.core.errors import NoValidPixelsError, OutsideSceneError, SelfCrossingError, SiteError
from kitesort.core.geojson import shape_or_none
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.protocol import Block, Raster

MAX_SITE_PIXELS = 4_000_000
MAX_VERTICES = 20_000
RECTANGLE_CORNERS = 5  # the first one twice
NEAR_CENTRE = 1e-6  # pixels
WITHOUT_CENTRE = "The site covers the centre of no pixel. Draw it larger than a pixel."
TOGETHER_PX = 64  # side of the squares whose small sites are read together


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


def outline_text(geometry: Mapping[str, Any]) -> str:
    """A GeoJSON geometry as text, the same for the same outline."""
    return json.dumps(geometry, sort_keys=True)


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
    left, bottom, right, top = polygon.bounds
    west, south, east, north = grid.bounds
    if west <= left and right <= east and south <= bottom and top <= north:
        return 0.0
    return float(1 - polygon.intersection(box(*grid.bounds)).area / polygon.area)


def site_mask(polygon: BaseGeometry, grid: Grid) -> tuple[Window, npt.NDArray[np.bool_]]:
    """The window around a site and the pixels (row, col) whose centres lie inside it.

    Raises
    ------
    OutsideSceneError : no part lies on the grid.
    NoValidPixelsError : no pixel centre inside.
    """
    window = site_window(polygon, grid)
    inside = _inside(polygon, grid, window)
    if not inside.any():
        raise NoValidPixelsError(WITHOUT_CENTRE)
    return window, inside


def site_window(polygon: BaseGeometry, grid: Grid) -> Window:
    """Raises OutsideSceneError, SiteError : no part lies on the grid, or far too much of it."""
    window = grid.window_of_bounds(polygon.bounds)
    if window is None:
        raise OutsideSceneError("The site lies outside the scene. Draw it where there is imagery.")
    if window.n_pixels > MAX_SITE_PIXELS:
        raise SiteError("The site is too large to be one piece of ground. Draw smaller sites.")
    return window


def _inside(polygon: BaseGeometry, grid: Grid, window: Window) -> npt.NDArray[np.bool_]:
    """Pixels (row, col) of a window whose centres lie inside an outline."""
    transform = grid.sub_grid(window).transform
    plain = _inside_rectangle(polygon, window, transform)
    if plain is not None:
        return plain
    shape = (window.height, window.width)
    return np.asarray(geometry_mask([mapping(polygon)], shape, transform, invert=True))


def _inside_rectangle(
    polygon: BaseGeometry, window: Window, transform: Affine
) -> npt.NDArray[np.bool_] | None:
    """The same for upright rectangles, of which single pixels are many; None for other outlines,
    and where a centre lies so near to an edge that it is a matter of rounding."""
    left, bottom, right, top = polygon.bounds
    upright = polygon.geom_type == "Polygon" and get_num_coordinates(polygon) == RECTANGLE_CORNERS
    if not upright or not math.isclose(polygon.area, (right - left) * (top - bottom)):
        return None
    (first, last), (above, below) = (
        sorted((a - origin) / step for a in ends)
        for ends, origin, step in (
            ((left, right), transform.c, transform.a), ((bottom, top), transform.f, transform.e)
        )
    )  # fmt: skip
    cols, rows = np.arange(window.width) + 0.5, np.arange(window.height) + 0.5
    edges = np.array([first, last, above, below]) % 1
    if (np.abs(edges - 0.5) < NEAR_CENTRE).any():
        return None
    return ((rows > above) & (rows < below))[:, None] & ((cols > first) & (cols < last))


def site_pixels(raster: Raster, polygon: BaseGeometry, roles: tuple[str, ...]) -> SitePixels:
    """Valid pixels of a site in the bands named, in row order.

    Raises
    ------
    OutsideSceneError, NoValidPixelsError
    """
    window, inside = site_mask(polygon, raster.grid)
    return _pixels_of(raster.read(window, roles), window, inside)


def _pixels_of(block: Block, window: Window, inside: npt.NDArray[np.bool_]) -> SitePixels:
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


def many_site_pixels(
    raster: Raster, polygons: Sequence[BaseGeometry], roles: tuple[str, ...]
) -> list[SitePixels | SiteError]:
    """As ``site_pixels`` for each of them, or why there are none; small ones that lie together are
    read together, so that thousands of single pixels are no thousands of readings."""
    found: dict[int, SitePixels | SiteError] = {}
    together: dict[tuple[int, int], list[tuple[int, Window]]] = {}
    for i, polygon in enumerate(polygons):
        try:
            window = site_window(polygon, raster.grid)
        except SiteError as error:
            found[i] = error.with_traceback(None)
            continue
        small = max(window.height, window.width) <= TOGETHER_PX
        square = (window.row // TOGETHER_PX, window.col // TOGETHER_PX) if small else (-1 - i, 0)
        together.setdefault(square, []).append((i, window))
    for members in together.values():
        around = _around([window for _, window in members])
        block = raster.read(around, roles)
        for i, window in members:
            part = _part_of(block, around, window)
            try:
                inside = _inside(polygons[i], raster.grid, window)
                if not inside.any():
                    raise NoValidPixelsError(WITHOUT_CENTRE)
                found[i] = _pixels_of(part, window, inside)
            except SiteError as error:
                found[i] = error.with_traceback(None)
    return [found[i] for i in range(len(polygons))]


def _around(windows: list[Window]) -> Window:
    row, col = min(w.row for w in windows), min(w.col for w in windows)
    bottom = max(w.row + w.height for w in windows)
    right = max(w.col + w.width for w in windows)
    return Window(row, col, bottom - row, right - col)


def _part_of(block: Block, around: Window, window: Window) -> Block:
    row, col = window.row - around.row, window.col - around.col
    rows, cols = slice(row, row + window.height), slice(col, col + window.width)
    return Block(block.values[:, rows, cols], block.valid[rows, cols])
