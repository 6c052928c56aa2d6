"""Statistics of a class from its training pixels; sums can be merged over blocks and sites."""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

Float64Array = npt.NDArray[np.float64]

USUAL_MINIMUM_PER_BAND = 10  # common practice: at least 10 pixels per band, 100 preferred


@dataclass(frozen=True)
class ClassStatistics:
    """Count, mean (bands,), covariance (bands, bands; divisor n - 1), minimum and maximum."""

    n_pixels: int
    mean: Float64Array
    covariance: Float64Array
    minimum: Float64Array
    maximum: Float64Array

    def __add__(self, other: "ClassStatistics") -> "ClassStatistics":
        """Of both groups of pixels, which have none in common."""
        return merge_statistics((self, other))

    @property
    def standard_deviation(self) -> Float64Array:
        return np.sqrt(np.diag(self.covariance))

    @property
    def correlation(self) -> Float64Array:
        """Correlation coefficients (bands, bands), exactly 1 of a band with itself; not-a-number of
        one that does not vary."""
        spread = self.standard_deviation
        with np.errstate(invalid="ignore", divide="ignore"):
            found = self.covariance / np.outer(spread, spread)
        found = np.clip(found, -1, 1)
        np.fill_diagonal(found, np.where(spread > 0, 1.0, np.nan))
        return np.asarray(found)


def compute_statistics(pixels: npt.NDArray[np.floating]) -> ClassStatistics:
    """Statistics of pixels (n, bands); a single pixel has zero covariance."""
    values = np.asarray(pixels, np.float64)
    n, n_bands = values.shape
    mean = values.mean(axis=0)
    centred = values - mean
    covariance = centred.T @ centred / (n - 1) if n > 1 else np.zeros((n_bands, n_bands))
    return ClassStatistics(n, mean, covariance, values.min(axis=0), values.max(axis=0))


def merge_statistics(parts: Iterable[ClassStatistics]) -> ClassStatistics:
    """Statistics of the union of disjoint groups of pixels, from theirs alone.

    Source: Chan, Golub & LeVeque 1983, The American Statistician 37:242-247, eq. 2.1 (pairwise
    update; from memory, confirmed in the tests against the statistics of all pixels at once).
    """
    groups = list(parts)
    n = sum(g.n_pixels for g in groups)
    mean = np.sum([g.mean * g.n_pixels for g in groups], axis=0) / n
    scatter = np.zeros_like(groups[0].covariance)
    for g in groups:
        shift = g.mean - mean
        scatter += g.covariance * max(g.n_pixels - 1, 0) + g.n_pixels * np.outer(shift, shift)
    return ClassStatistics(
        n,
        mean,
        scatter / max(n - 1, 1),
        np.min([g.minimum for g in groups], axis=0),
        np.max([g.maximum for g in groups], axis=0),
    )
