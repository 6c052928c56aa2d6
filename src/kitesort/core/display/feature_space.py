"""Feature space: how pixels lie in the plane of two bands."""

from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt

from kitesort.core.engine import BLOCK_SIZE, UNWATCHED, Watch, reduce_blocks
from kitesort.core.errors import BadSettingsError, NoValidPixelsError
from kitesort.core.grid import Window
from kitesort.core.raster.protocol import Raster

Floats = npt.NDArray[np.floating]
Float64 = npt.NDArray[np.float64]
RANGE_PERCENTILES = (0.05, 99.95)
SOIL_BINS = 40
SOIL_FOOT_PERCENT = 2.0
MIN_PER_BIN = 20


@dataclass(frozen=True)
class Axis:
    """The range of one axis of a density, in values."""

    low: float
    high: float


@dataclass(frozen=True)
class Density:
    """Pixels per cell: ``counts`` (rows from low to high y, columns from low to high x)."""

    x: Axis
    y: Axis
    counts: npt.NDArray[np.int64]
    n_valid: int

    def __add__(self, other: "Density") -> "Density":
        """Of both groups of pixels, between the same axes."""
        counts, n_valid = self.counts + other.counts, self.n_valid + other.n_valid
        return replace(self, counts=counts, n_valid=n_valid)

    @property
    def n_outside(self) -> int:
        """Valid pixels beyond the axes."""
        return self.n_valid - int(self.counts.sum())


def usual_axis(values: Floats) -> Axis:
    """From percentile 0.05 to 99.95, a little wider; around a single value, half to either side."""
    if values.size == 0:
        return Axis(0.0, 1.0)
    low, high = (float(v) for v in np.percentile(values, RANGE_PERCENTILES))
    if high <= low:
        return Axis(low - 0.5, low + 0.5)
    margin = 0.04 * (high - low)
    return Axis(low - margin, high + margin)


def compute_density(
    x: Floats, y: Floats, n_bins: int, x_axis: Axis | None = None, y_axis: Axis | None = None
) -> Density:
    """Density of pixels given by two values each.

    Raises
    ------
    BadSettingsError : an axis that does not go upwards.
    """
    across, up = x_axis or usual_axis(x), y_axis or usual_axis(y)
    for axis in (across, up):
        if not axis.low < axis.high:
            raise BadSettingsError("The low end of an axis must be below its high end.")
    counts, _, _ = np.histogram2d(
        y, x, bins=n_bins, range=[(up.low, up.high), (across.low, across.high)]
    )
    return Density(across, up, counts.astype(np.int64), int(x.size))


@dataclass(frozen=True)
class _BlockCounts:
    """Picklable block function."""

    raster: Raster
    x: Axis
    y: Axis
    n_bins: int

    def __call__(self, window: Window) -> Density:
        block = self.raster.read(window)
        x, y = block.values[:, block.valid]
        return compute_density(x, y, self.n_bins, self.x, self.y)


def exact_density(
    raster: Raster,
    x: Axis,
    y: Axis,
    n_bins: int,
    *,
    block_size: int = BLOCK_SIZE,
    watch: Watch = UNWATCHED,
) -> Density:
    """Density of every valid pixel of a raster with two bands, block by block.

    Raises
    ------
    CancelledError
    """
    compute = _BlockCounts(raster, x, y, n_bins)
    found = reduce_blocks(raster.grid, compute, block_size=block_size, watch=watch)
    assert found is not None, "a grid has at least one block"
    return found


@dataclass(frozen=True)
class Ellipse:
    """Of equal probability of a Gaussian class: centre, half axes, angle of the longer one from
    the x axis in degrees, anticlockwise."""

    x: float
    y: float
    long: float
    short: float
    angle_deg: float


def class_ellipse(mean: Float64, covariance: Float64, n_deviations: float = 2.0) -> Ellipse:
    """The ellipse at so many standard deviations along each of its axes.

    Source: half axes are the square roots of the covariance's eigenvalues (Richards, Remote
    Sensing Digital Image Analysis, chapter on the multivariate normal; from memory).
    """
    spread, axes = np.linalg.eigh(covariance)
    short, long = n_deviations * np.sqrt(np.maximum(spread, 0))
    angle = np.degrees(np.arctan2(axes[1, 1], axes[0, 1])) % 180
    return Ellipse(float(mean[0]), float(mean[1]), float(long), float(short), float(angle))


@dataclass(frozen=True)
class SoilLine:
    """``nir = slope × red + intercept`` along the lower edge of the cloud, from ``low`` to ``high``
    in red; fitted to the foot in ``n_steps`` steps of red, of ``n_pixels`` land pixels."""

    slope: float
    intercept: float
    low: float
    high: float
    n_steps: int
    n_pixels: int
    r_squared: float


def fit_soil_line(red: Floats, nir: Floats) -> SoilLine:
    """The line of bare soils, dry to wet, at the foot of the cloud of near infrared over red.

    The foot is the second percentile of near infrared in each of 40 steps of red; pixels with
    less near infrared than red are water and do not count. The idea: Richardson & Wiegand 1977,
    Photogrammetric Engineering and Remote Sensing 43:1541-1552 (from memory); how the foot is
    found is common practice.

    Raises
    ------
    NoValidPixelsError : too few land pixels for a line.
    """
    land = nir >= red
    red, nir = red[land].astype(np.float64), nir[land].astype(np.float64)
    too_few = "There are too few land pixels here for a soil line."
    if red.size < SOIL_BINS * MIN_PER_BIN:
        raise NoValidPixelsError(too_few)
    low, high = np.percentile(red, [1, 99])
    step = np.clip((red - low) / max(high - low, 1e-12) * SOIL_BINS, -1, SOIL_BINS).astype(int)
    foot = []
    for k in range(SOIL_BINS):
        here = step == k
        if here.sum() >= MIN_PER_BIN:
            foot.append((red[here].mean(), np.percentile(nir[here], SOIL_FOOT_PERCENT)))
    if len(foot) < 5:
        raise NoValidPixelsError(too_few)
    at, value = np.array(foot).T
    slope, intercept = np.polyfit(at, value, 1)
    rest = float(((value - slope * at - intercept) ** 2).sum())
    spread = float(((value - value.mean()) ** 2).sum())
    return SoilLine(
        float(slope), float(intercept), float(at[0]), float(at[-1]),
        n_steps=len(foot), n_pixels=int(red.size),
        r_squared=1 - rest / spread if spread > 0 else 1.0,
    )  # fmt: skip
