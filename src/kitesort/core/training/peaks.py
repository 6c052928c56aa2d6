"""Whether the pixels of a site are of one kind, or of two."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from kitesort.core.raster.protocol import BoolArray

LEAST_PIXELS = 16
MOST_PIXELS = 4_000  # whose density is drawn, evenly from all
LEAST_SHARE = 0.15  # of the pixels, in the smaller heap
DEEPEST_VALLEY = 0.75  # of the lower peak: above it both are one peak with noise on it
N_PLACES = 96


@dataclass(frozen=True)
class Peaks:
    """Where the pixels (n,) fall into two heaps: those of the smaller one."""

    second: BoolArray


def second_peak(pixels: npt.NDArray[np.floating]) -> Peaks | None:
    """Two heaps in the pixels (n, bands) of one site, along the line on which they differ most;
    None where there is one.

    The density along that line (first principal component of the standardised bands) is smoothed by
    a Gaussian of Silverman's width (B. W. Silverman 1986, Density Estimation, eq. 3.31, from
    memory), which blurs two heaps rather than finds two in one. What counts as two is our own rule:
    a valley of at most three quarters of the lower peak, and 15 % of the pixels beyond it.
    """
    if len(pixels) < LEAST_PIXELS:
        return None
    along = _along_main_axis(pixels)
    width = _silverman(along)
    if width == 0:
        return None
    places = np.linspace(along.min() - width, along.max() + width, N_PLACES)
    some = along[:: max(1, len(along) // MOST_PIXELS)]
    heights = np.exp(-(((places[:, None] - some) / width) ** 2) / 2).sum(axis=1)
    valley = _deepest_valley(heights)
    if valley is None:
        return None
    above = along > places[valley]
    second = above if above.sum() * 2 <= len(along) else ~above
    return Peaks(second) if second.mean() >= LEAST_SHARE else None


def _along_main_axis(pixels: npt.NDArray[np.floating]) -> npt.NDArray[np.float64]:
    centred = pixels - pixels.mean(axis=0, dtype=np.float64)
    spread = centred.std(axis=0)
    scaled = centred / np.where(spread > 0, spread, 1)
    _, vectors = np.linalg.eigh(scaled.T @ scaled)
    return np.asarray(scaled @ vectors[:, -1])


def _silverman(values: npt.NDArray[np.float64]) -> float:
    low, high = np.percentile(values, [25, 75])
    spread = float(values.std(ddof=1))
    spread = min(spread, float(high - low) / 1.34) or spread
    return 0.9 * spread * len(values) ** -0.2


def _deepest_valley(heights: npt.NDArray[np.float64]) -> int | None:
    """The lowest place between two peaks, where it is low enough to part them."""
    left = np.maximum.accumulate(heights)
    right = np.maximum.accumulate(heights[::-1])[::-1]
    depth = heights / np.minimum(left, right)
    place = int(depth.argmin())
    return place if depth[place] <= DEEPEST_VALLEY else None
