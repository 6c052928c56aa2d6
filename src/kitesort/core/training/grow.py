"""A site grown from one pixel to its similar neighbours."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt
from scipy.ndimage import label
from shapely.geometry.base import BaseGeometry

from kitesort.core.errors import OutsideSceneError, SiteError
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.protocol import Block, BoolArray
from kitesort.core.training.patches import without_small_holes
from kitesort.core.training.reshape import outline_of_pixels

Measure = Literal["distance", "angle"]
MOST_PIXELS = 20_000
FIRST_HALF = 32  # pixels to each side of the seed that are looked at first
LARGEST_HALF = 1024
N_HALVINGS = 12
Read = Callable[[Window], Block]
Float32 = npt.NDArray[np.float32]


@dataclass(frozen=True)
class Grown:
    """The outline of a grown site in the grid's CRS, how many pixels it has, and the threshold with
    which it was grown: a smaller one than was asked for where that was too much."""

    outline: BaseGeometry
    n_pixels: int
    threshold: float

    def is_limited(self, asked: float) -> bool:
        return self.threshold < asked


def grow(
    read: Read,
    grid: Grid,
    row: int,
    col: int,
    *,
    measure: Measure,
    threshold: float,
    spread: npt.NDArray[np.floating],
    most: int = MOST_PIXELS,
) -> Grown:
    """All pixels that hang together with one by their sides and are no further from it than a
    threshold: by spectral distance, in standard deviations of the scene (``spread``, one for each
    band), or by spectral angle, in degrees. Holes of up to three pixels are closed.

    ``read`` gives the bands to compare, of a window. Where more than ``most`` pixels would be
    taken, the largest threshold (to a 4096th of it) with which they are not.

    Raises
    ------
    OutsideSceneError. SiteError : there is nothing usable at the pixel.
    """
    if not (0 <= row < grid.height and 0 <= col < grid.width):
        raise OutsideSceneError("There is no pixel of the scene. Click where there is imagery.")
    half = FIRST_HALF
    while True:
        window = _around(grid, row, col, half)
        apart = _apart(read(window), row - window.row, col - window.col, measure, spread)
        at = row - window.row, col - window.col
        found = _connected(apart, at, threshold, most)
        if half >= LARGEST_HALF or not _touches_inner_edge(found.mask, window, grid):
            break
        half *= 2
    mask = without_small_holes(found.mask) if found.n > 3 else found.mask
    rows, cols = np.nonzero(mask)
    outline = outline_of_pixels(
        (rows + window.row).astype(np.int32), (cols + window.col).astype(np.int32), grid
    )
    return Grown(outline, len(rows), found.threshold)


def _around(grid: Grid, row: int, col: int, half: int) -> Window:
    top, left = max(row - half, 0), max(col - half, 0)
    bottom, right = min(row + half + 1, grid.height), min(col + half + 1, grid.width)
    return Window(top, left, bottom - top, right - left)


def _apart(
    block: Block, row: int, col: int, measure: Measure, spread: npt.NDArray[np.floating]
) -> Float32:
    """How far each pixel (row, col) is from one; infinite where it is not usable."""
    if not block.valid[row, col]:
        raise SiteError(
            "There is nothing usable at this pixel: no data, cloud or cloud shadow. Click beside "
            "it."
        )
    values = block.values.astype(np.float64)
    if measure == "distance":
        scale = np.where(spread > 0, spread, 1)[:, None, None]
        apart = np.sqrt((((values - values[:, row, col][:, None, None]) / scale) ** 2).mean(axis=0))
    else:
        seed = values[:, row, col]
        lengths = np.sqrt((values**2).sum(axis=0)) * np.sqrt((seed**2).sum())
        cosine = np.tensordot(seed, values, axes=1) / np.where(lengths > 0, lengths, np.nan)
        apart = np.rad2deg(np.arccos(np.clip(cosine, -1, 1)))
        apart[row, col] = 0.0
    return np.where(block.valid & ~np.isnan(apart), apart, np.inf).astype(np.float32)


@dataclass(frozen=True)
class _Found:
    mask: BoolArray
    n: int
    threshold: float


def _connected(apart: Float32, at: tuple[int, int], threshold: float, most: int) -> _Found:
    found = _region(apart, at, threshold)
    if found.n <= most:
        return found
    low, high = 0.0, threshold
    best = _region(apart, at, low)
    for _ in range(N_HALVINGS):
        middle = (low + high) / 2
        tried = _region(apart, at, middle)
        if tried.n <= most:
            low, best = middle, tried
        else:
            high = middle
    return best


def _region(apart: Float32, at: tuple[int, int], threshold: float) -> _Found:
    labels, _ = label(apart <= threshold)
    mask = np.asarray(labels == labels[at])
    return _Found(mask, int(mask.sum()), threshold)


def _touches_inner_edge(mask: BoolArray, window: Window, grid: Grid) -> bool:
    """Whether it could go on beyond the window, where the scene does."""
    beyond = (
        (window.row > 0 and mask[0].any()),
        (window.row + window.height < grid.height and mask[-1].any()),
        (window.col > 0 and mask[:, 0].any()),
        (window.col + window.width < grid.width and mask[:, -1].any()),
    )
    return any(beyond)
