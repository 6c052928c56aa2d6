"""From marked pixels to outlines that can be training sites."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from rasterio.features import shapes
from scipy.ndimage import label, uniform_filter
from shapely.geometry import Polygon, shape

from kitesort.core.grid import Grid, Window
from kitesort.core.raster.protocol import BoolArray

LEAST_PIXELS = 12
LEAST_COMPACT = 0.3
LEAST_AROUND = 7
LARGEST_CLOSED = 3  # pixels of a hole
EIGHT_NEIGHBOURS = np.ones((3, 3))


@dataclass(frozen=True)
class Patch:
    """Pixels that hang together by their sides: their common outline, along the edges of pixels, in
    the grid's CRS, and how many they are."""

    outline: Polygon
    n_pixels: int


def compact_patches(
    marked: BoolArray,
    grid: Grid,
    window: Window,
    *,
    most: int,
    least_pixels: int = LEAST_PIXELS,
    least_compact: float = LEAST_COMPACT,
) -> list[Patch]:
    """The largest patches of marked pixels (rows, columns of a window) that are of one piece: of
    the pixels with at least seven marked ones in the nine around and with them, so that borders,
    which are often mixed, are left out; holes of up to three pixels are closed.

    Compact is 4 π area / perimeter² (Cox 1927, Journal of Paleontology 1:179-183, from memory),
    holes included; 0.79 for a square, along the edges of pixels.
    """
    around = uniform_filter(marked.astype(np.float32), 3, mode="constant")
    core = without_small_holes(marked & (around * 9 > LEAST_AROUND - 0.5))
    labels, n = label(core)
    if n == 0:
        return []
    sizes = np.bincount(labels.ravel())
    sizes[0] = 0
    large = sizes >= least_pixels
    kept: npt.NDArray[np.int32] = np.where(large[labels], labels, 0).astype(np.int32)
    transform = grid.sub_grid(window).transform
    found = [
        Patch(Polygon(shape(outline)), int(sizes[int(value)]))
        for outline, value in shapes(kept, mask=kept > 0, connectivity=4, transform=transform)
    ]
    compact = [p for p in found if _compactness(p.outline) >= least_compact]
    return sorted(compact, key=lambda p: (-p.n_pixels, p.outline.bounds))[:most]


def without_small_holes(marked: BoolArray) -> BoolArray:
    """Marked pixels without holes of up to three; what touches the edge of the window is none."""
    labels, _ = label(~marked, structure=EIGHT_NEIGHBOURS)
    small = np.bincount(labels.ravel()) <= LARGEST_CLOSED
    edges = np.concatenate([labels[0], labels[-1], labels[:, 0], labels[:, -1]])
    small[np.unique(edges)] = False
    small[0] = False
    return np.asarray(marked | small[labels])


def _compactness(outline: Polygon) -> float:
    return float(4 * np.pi * outline.area / outline.length**2)
