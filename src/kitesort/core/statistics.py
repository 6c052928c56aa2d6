"""Statistics of whole rasters: from native pixels spread over them at once, or over every pixel."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from kitesort.core.engine import UNWATCHED, Watch, reduce_blocks
from kitesort.core.errors import BadSettingsError
from kitesort.core.grid import Window
from kitesort.core.raster.protocol import Raster, roles_of
from kitesort.core.raster.sample import sample_pixels, valid_values

Float64 = npt.NDArray[np.float64]


@dataclass(frozen=True)
class BandStatistics:
    """Of the valid pixels of one band; None where there is none."""

    role: str
    minimum: float | None
    maximum: float | None
    mean: float | None
    standard_deviation: float | None


@dataclass(frozen=True)
class RasterStatistics:
    """``exact``: over every pixel; else over ``n_pixels`` native ones spread over the scene. The
    standard deviation, divided by n - 1, is None for a single pixel."""

    bands: tuple[BandStatistics, ...]
    n_valid: int
    n_pixels: int
    exact: bool


@dataclass(frozen=True)
class _Sums:
    """Partial sums that can be added up: count, minimum, maximum, sum and squared deviations."""

    n: int
    low: Float64
    high: Float64
    total: Float64
    squares: Float64
    n_pixels: int

    def __add__(self, other: "_Sums") -> "_Sums":
        if self.n == 0 or other.n == 0:
            full, empty = (other, self) if self.n == 0 else (self, other)
            n_pixels = full.n_pixels + empty.n_pixels
            return _Sums(full.n, full.low, full.high, full.total, full.squares, n_pixels)
        delta = other.total / other.n - self.total / self.n
        spread = delta**2 * (self.n * other.n / (self.n + other.n))
        return _Sums(
            self.n + other.n,
            np.minimum(self.low, other.low),
            np.maximum(self.high, other.high),
            self.total + other.total,
            self.squares + other.squares + spread,
            self.n_pixels + other.n_pixels,
        )


def _sums_of(values: npt.NDArray[np.float32], n_pixels: int) -> _Sums:
    """Of values (bands, pixels), in double precision."""
    n_bands, n = values.shape
    if n == 0:
        zeros = np.zeros(n_bands)
        return _Sums(0, zeros, zeros, zeros, zeros, n_pixels)
    precise = values.astype(np.float64)
    total = precise.sum(axis=1)
    squares = ((precise - (total / n)[:, None]) ** 2).sum(axis=1)
    return _Sums(n, precise.min(axis=1), precise.max(axis=1), total, squares, n_pixels)


@dataclass(frozen=True)
class _BlockSums:
    """Picklable block function."""

    raster: Raster

    def __call__(self, window: Window) -> _Sums:
        return _sums_of(valid_values(self.raster.read(window)), window.n_pixels)


def quick_statistics(raster: Raster) -> RasterStatistics:
    """Statistics of native pixels: of all where there are few, else of windows spread evenly."""
    found = sample_pixels(raster)
    return _finish(raster, _sums_of(found.values, found.n_covered), exact=found.exact)


def exact_statistics(
    raster: Raster,
    *,
    block_size: int = 1024,
    watch: Watch = UNWATCHED,
) -> RasterStatistics:
    """Statistics of every valid pixel; the same (to rounding) whatever the block size.

    Raises
    ------
    CancelledError
    """
    sums = reduce_blocks(raster.grid, _BlockSums(raster), block_size=block_size, watch=watch)
    assert sums is not None, "a grid has at least one block"
    return _finish(raster, sums, exact=True)


def _finish(raster: Raster, sums: _Sums, exact: bool) -> RasterStatistics:

    def at(values: Float64, i: int) -> float | None:
        return float(values[i]) if sums.n > 0 else None

    spread = np.sqrt(sums.squares / max(sums.n - 1, 1))
    bands = tuple(
        BandStatistics(
            role, at(sums.low, i), at(sums.high, i), at(sums.total / max(sums.n, 1), i),
            at(spread, i) if sums.n > 1 else None,
        )
        for i, role in enumerate(roles_of(raster))
    )  # fmt: skip
    return RasterStatistics(bands, sums.n, sums.n_pixels, exact)


@dataclass(frozen=True)
class Histogram:
    """Counts of equal bins between ``low`` and ``high``; how many values lie below and above."""

    low: float
    high: float
    counts: tuple[int, ...]
    n_below: int
    n_above: int
    n_valid: int


def histogram_of(
    values: npt.NDArray[np.float32], n_bins: int, low: float | None, high: float | None
) -> Histogram:
    """Histogram of values; an end of the range that is not given is the 0.05 or 99.95 percentile.

    Raises
    ------
    BadSettingsError : an end that is given leaves no room for so many bins.
    """
    if values.size == 0:
        return Histogram(0.0, 1.0, (0,) * n_bins, 0, 0, 0)
    ends = np.percentile(values.astype(np.float64), [0.05, 99.95])
    first = float(ends[0]) if low is None else low
    last = float(ends[1]) if high is None else high
    if low is None and high is None and last <= first:
        half = max(0.5, abs(first) * 1e-3)  # all the same: something to see on both sides
        first, last = first - half, first + half
    largest = max(abs(first), abs(last))
    most = float(np.finfo(np.float32).max)
    # Bins are told apart in the values' own type.
    if largest > most / 2 or last - first <= n_bins * float(np.spacing(np.float32(largest))):
        raise BadSettingsError(
            f"The range from {first:g} to {last:g} has no room for {n_bins} bins: its low end must "
            "be well below its high end."
        )
    counts, _ = np.histogram(values, n_bins, (first, last))
    below, above = int((values < first).sum()), int((values > last).sum())
    return Histogram(first, last, tuple(counts.tolist()), below, above, values.size)
