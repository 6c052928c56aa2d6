"""Values along a line across a raster."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
import shapely

from kitesort.core.errors import BadSettingsError
from kitesort.core.geodesy import step_lengths_m
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.protocol import Raster

MAX_SAMPLES = 2000
CHUNK = 64  # samples read with one window: small whatever the line's direction
Float64 = npt.NDArray[np.float64]


@dataclass(frozen=True)
class LinePlaces:
    """Evenly spaced places along a line: coordinates (n,), distance from its start in metres."""

    x: Float64
    y: Float64
    distance_m: Float64


def place_along(vertices: Sequence[tuple[float, float]], crs: str, spacing: float) -> LinePlaces:
    """Places every ``spacing`` (CRS units) along a line, its ends included, at most 2000.

    Raises
    ------
    BadSettingsError : no line at all.
    """
    points = np.asarray(vertices, np.float64)
    if points.ndim != 2 or len(points) < 2 or not np.isfinite(points).all():
        raise BadSettingsError("A line needs two ends with coordinates.")
    line = shapely.linestrings(points)
    if line.length <= 0:
        raise BadSettingsError("The line has no length. Draw its ends apart.")
    n = min(MAX_SAMPLES, max(2, round(line.length / spacing) + 1))
    along = shapely.line_interpolate_point(line, np.linspace(0, line.length, n))
    x, y = shapely.get_coordinates(along).T
    return LinePlaces(x, y, _distances_m(x, y, crs))


def _distances_m(x: Float64, y: Float64, crs: str) -> Float64:
    """From the first place along the others, on the ellipsoid."""
    return np.concatenate([[0.0], np.cumsum(step_lengths_m(crs, x, y))])


def read_places(raster: Raster, x: Float64, y: Float64, roles: tuple[str, ...]) -> Float64:
    """Values (bands, n) of the pixels that hold the places (in the raster's CRS); not a number
    where there is no valid pixel."""
    values = np.full((len(roles), len(x)), np.nan)
    row, col, inside = _pixels_of(raster.grid, x, y)
    for start in range(0, len(x), CHUNK):
        chunk = slice(start, start + CHUNK)
        here = inside[chunk]
        if not here.any():
            continue
        rows, cols = row[chunk][here], col[chunk][here]
        window = Window(
            int(rows.min()), int(cols.min()), int(np.ptp(rows)) + 1, int(np.ptp(cols)) + 1
        )
        block = raster.read(window, roles)
        at = rows - window.row, cols - window.col
        found = np.where(block.valid[at], block.values[:, at[0], at[1]], np.nan)
        values[:, np.flatnonzero(here) + start] = found
    return values


def _pixels_of(
    grid: Grid, x: Float64, y: Float64
) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int64], npt.NDArray[np.bool_]]:
    col, row = ~grid.transform @ (x, y)
    row, col = (np.floor(np.nan_to_num(v, nan=-1.0)).astype(np.int64) for v in (row, col))
    inside = (row >= 0) & (row < grid.height) & (col >= 0) & (col < grid.width)
    return row, col, inside
