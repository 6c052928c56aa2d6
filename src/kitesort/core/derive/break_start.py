"""Where a table of breaks may start from: equal intervals, quantiles, natural breaks."""

from itertools import pairwise
from typing import Literal

import numpy as np
import numpy.typing as npt

from kitesort.core.derive.breaks import BreakRow, BreakTable
from kitesort.core.errors import BadSettingsError
from kitesort.core.palette import palette_stops
from kitesort.core.raster.protocol import Float32Array

Start = Literal["equal intervals", "quantiles", "natural breaks", "vegetation index"]
HISTOGRAM_BINS = 512
# Common practice for the normalised difference of near infrared and red, lower limit included.
VEGETATION_LIMITS = (None, 0.0, 0.1, 0.25, 0.4, None)
VEGETATION_NAMES = ("Not vegetated", "Very sparse", "Sparse", "Open", "Dense")


def start_table(values: Float32Array, n_classes: int, start: Start, palette: str) -> BreakTable:
    """A table to start from, coloured in even steps of a palette.

    Raises
    ------
    BadSettingsError : fewer different values than classes.
    """
    if start == "vegetation index":
        limits: list[float | None] = list(VEGETATION_LIMITS)
        names = list(VEGETATION_NAMES)
    else:
        limits = list(suggest_breaks(values, n_classes, start))
        names = [f"{low:g} to {high:g}" for low, high in pairwise(limits)]
    colours = palette_stops(palette, len(names))
    return BreakTable(
        rows=tuple(
            BreakRow(code=i, name=name, colour=colour, low=low, high=high)
            for i, (name, colour, (low, high)) in enumerate(
                zip(names, colours, pairwise(limits), strict=True), 1
            )
        )
    )


def suggest_breaks(
    values: Float32Array,
    n_classes: int,
    start: Literal["equal intervals", "quantiles", "natural breaks"],
) -> list[float]:
    """Limits (n_classes + 1,) from the values' least to their greatest.

    Raises
    ------
    BadSettingsError : fewer different values than classes.
    """
    if values.size == 0 or np.unique(values).size < n_classes:
        raise BadSettingsError(
            f"The layer has fewer than {n_classes} different values; take fewer classes."
        )
    precise = values.astype(np.float64)
    low, high = float(precise.min()), float(precise.max())
    if start == "equal intervals":
        limits = np.linspace(low, high, n_classes + 1)
    elif start == "quantiles":
        limits = np.quantile(precise, np.linspace(0, 1, n_classes + 1))
    else:
        limits = natural_breaks(precise, n_classes)
    rounded = _round_inside(limits)
    if (np.diff(rounded) <= 0).any():
        raise BadSettingsError(
            "So many values are the same that these classes would be empty; take fewer classes or "
            "another start."
        )
    return [float(v) for v in rounded]


def _round_inside(limits: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
    """Inner limits with as many digits as tell them apart; the outer ones hold all values."""
    span = limits[-1] - limits[0]
    digits = int(max(0, np.ceil(3 - np.log10(span)))) if span > 0 else 6
    rounded = np.round(limits, digits)
    step = 10.0**-digits
    rounded[0] = np.floor(limits[0] / step) * step
    rounded[-1] = np.ceil(limits[-1] / step) * step
    return np.round(rounded, digits)


def natural_breaks(values: npt.NDArray[np.float64], n_classes: int) -> npt.NDArray[np.float64]:
    """Limits that leave the least sum of squared deviations within classes, exactly on up to 512
    different values and on a histogram of 512 bins beyond.

    Source: Fisher 1958, Journal of the American Statistical Association 53:789-798 (grouping for
    maximum homogeneity by dynamic programming; held against all partitions in the tests).
    """
    different, counts = np.unique(values, return_counts=True)
    if different.size > HISTOGRAM_BINS:
        counts, edges = np.histogram(values, HISTOGRAM_BINS)
        sums, _ = np.histogram(values, edges, weights=values)
        has = counts > 0
        different, counts = sums[has] / counts[has], counts[has]
    starts = _best_groups(different, counts.astype(np.float64), n_classes)
    inner = [(different[s - 1] + different[s]) / 2 for s in starts]
    return np.array([values.min(), *inner, values.max()])


def _best_groups(
    values: npt.NDArray[np.float64], weights: npt.NDArray[np.float64], n_groups: int
) -> list[int]:
    """First positions of all groups but the first."""
    n = values.size
    w = np.concatenate([[0.0], np.cumsum(weights)])
    centred = values - np.average(values, weights=weights)
    s = np.concatenate([[0.0], np.cumsum(weights * centred)])
    q = np.concatenate([[0.0], np.cumsum(weights * centred**2)])
    # cost[i, j]: squared deviations of values i to j - 1 in one group
    i, j = np.meshgrid(np.arange(n + 1), np.arange(n + 1), indexing="ij")
    mass = np.where(j > i, w[j] - w[i], 1.0)
    cost = np.where(j > i, q[j] - q[i] - (s[j] - s[i]) ** 2 / mass, np.inf)
    best = cost[0].copy()
    cuts = []
    for _ in range(n_groups - 1):
        candidates = best[:, None] + cost
        cuts.append(candidates.argmin(axis=0))
        best = candidates.min(axis=0)
    starts, at = [], n
    for cut in reversed(cuts):
        at = int(cut[at])
        starts.append(at)
    return starts[::-1]
