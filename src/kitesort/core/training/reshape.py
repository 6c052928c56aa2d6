"""Acts on outlines of training sites: shrink, cut, join, and part by their pixels."""

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt
import shapely
from rasterio.features import shapes
from shapely.geometry import LineString, shape
from shapely.geometry.base import BaseGeometry
from shapely.ops import split

from kitesort.core.errors import SiteError
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.protocol import BoolArray


def shrunk(outline: BaseGeometry, by: float) -> BaseGeometry:
    """An outline moved inwards, in the units of its CRS.

    Raises
    ------
    SiteError : nothing would be left.
    """
    left = outline.buffer(-by, join_style="mitre")
    if left.is_empty or left.area == 0:
        raise SiteError("The site is too small to be shrunk: nothing would be left of it.")
    return left


def cut(outline: BaseGeometry, line: LineString) -> tuple[BaseGeometry, BaseGeometry]:
    """The parts of an outline on either side of a line that crosses it, the larger one first.

    Raises
    ------
    SiteError : the line leaves it whole.
    """
    parts = shapely.get_parts(outline)
    pieces = [piece for part in parts for piece in shapely.get_parts(split(part, line))]
    left = [piece for piece in pieces if _is_left_of(piece, line)]
    right = [piece for piece in pieces if not _is_left_of(piece, line)]
    if len(pieces) == len(parts) or not left or not right:
        raise SiteError("The line does not cut the site in two. Draw it right across.")
    first, second = sorted((joined(left), joined(right)), key=lambda side: -side.area)
    return first, second


def _is_left_of(piece: BaseGeometry, line: LineString) -> bool:
    """Of the part of the line that is nearest to the middle of a piece."""
    inside = piece.representative_point()
    at, step = line.project(inside), line.length * 1e-6
    start = line.interpolate(max(at - step, 0))
    end = line.interpolate(min(at + step, line.length))
    along = end.x - start.x, end.y - start.y
    return bool(along[0] * (inside.y - start.y) - along[1] * (inside.x - start.x) > 0)


def joined(outlines: Sequence[BaseGeometry]) -> BaseGeometry:
    """All of them as one site, which may be of several pieces."""
    return shapely.union_all(np.array(outlines, object))


def outline_of_pixels(
    rows: npt.NDArray[np.int32], cols: npt.NDArray[np.int32], grid: Grid
) -> BaseGeometry:
    """The outline of pixels (n,) of a grid, along their edges, in its CRS; it covers their centres
    and no others."""
    window = Window(int(rows.min()), int(cols.min()), int(np.ptp(rows)) + 1, int(np.ptp(cols)) + 1)
    mask = np.zeros((window.height, window.width), np.uint8)
    mask[rows - window.row, cols - window.col] = 1
    transform = grid.sub_grid(window).transform
    found = shapes(mask, mask=mask > 0, connectivity=4, transform=transform)
    return joined([shape(outline) for outline, _ in found])


def parted(
    rows: npt.NDArray[np.int32], cols: npt.NDArray[np.int32], second: BoolArray, grid: Grid
) -> tuple[BaseGeometry, BaseGeometry]:
    """Outlines of the pixels (n,) that are not of the second kind, and of those that are.

    Raises
    ------
    SiteError : all are of one kind.
    """
    if second.all() or not second.any():
        raise SiteError("All pixels of the site are of one kind: there is nothing to split.")
    return (
        outline_of_pixels(rows[~second], cols[~second], grid),
        outline_of_pixels(rows[second], cols[second], grid),
    )
