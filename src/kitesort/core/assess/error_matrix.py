"""Error matrix of a class map against reference points, and the measures taken from it."""

import math
from dataclasses import dataclass
from statistics import NormalDist

import numpy as np
import numpy.typing as npt

from kitesort.core.errors import InputError


@dataclass(frozen=True)
class Proportion:
    """A share with its Wilson score interval; all None when there is nothing to divide by."""

    value: float | None
    low: float | None
    high: float | None


def proportion(hits: int, n: int, confidence: float = 0.95) -> Proportion:
    """Share of hits among n with its Wilson score interval.

    Source: Wilson 1927, Journal of the American Statistical Association 22:209-212.
    """
    if n == 0:
        return Proportion(None, None, None)
    z = NormalDist().inv_cdf((1 + confidence) / 2)
    share = hits / n
    centre = (share + z * z / (2 * n)) / (1 + z * z / n)
    half = z * math.sqrt(share * (1 - share) / n + z * z / (4 * n * n)) / (1 + z * z / n)
    # At shares of 0 and 1 the bounds meet them; rounding must not push them past.
    return Proportion(
        share, max(0.0, min(share, centre - half)), min(1.0, max(share, centre + half))
    )


@dataclass(frozen=True)
class ErrorMatrix:
    """Counts (classes, classes): rows as mapped, columns as found on the ground.

    ``codes`` name rows and columns alike.
    """

    codes: tuple[int, ...]
    counts: npt.NDArray[np.int64]

    @property
    def n_points(self) -> int:
        return int(self.counts.sum())

    @property
    def overall(self) -> Proportion:
        return proportion(int(np.trace(self.counts)), self.n_points)

    @property
    def producers(self) -> list[Proportion]:
        """Per class: share of its reference points that the map shows as it (1 - omission)."""
        hits, totals = np.diag(self.counts), self.counts.sum(axis=0)
        return [proportion(int(h), int(t)) for h, t in zip(hits, totals, strict=True)]

    @property
    def users(self) -> list[Proportion]:
        """Per class: share of the points mapped as it that are it (1 - commission)."""
        hits, totals = np.diag(self.counts), self.counts.sum(axis=1)
        return [proportion(int(h), int(t)) for h, t in zip(hits, totals, strict=True)]

    @property
    def kappa(self) -> float | None:
        """Cohen's kappa; None when chance agreement is complete or there are no points.

        Source: Congalton 1991, Remote Sensing of Environment 37:35-46.
        """
        n = self.n_points
        if n == 0:
            return None
        observed = np.trace(self.counts) / n
        chance = float(self.counts.sum(axis=0) @ self.counts.sum(axis=1)) / (n * n)
        return None if chance >= 1 else float((observed - chance) / (1 - chance))


def build_error_matrix(
    mapped: npt.NDArray[np.integer], reference: npt.NDArray[np.integer], codes: tuple[int, ...]
) -> ErrorMatrix:
    """Count pairs of mapped and reference codes (points,).

    Raises
    ------
    InputError : a code that is not among ``codes``.
    """
    strangers = set(np.unique([mapped, reference]).tolist()) - set(codes)
    if strangers:
        raise InputError(f"The points hold codes that are no class: {sorted(strangers)}.")
    order = {code: i for i, code in enumerate(codes)}
    rows = np.array([order[int(c)] for c in mapped], np.int64)
    columns = np.array([order[int(c)] for c in reference], np.int64)
    k = len(codes)
    counts = np.bincount(rows * k + columns, minlength=k * k).reshape(k, k)
    return ErrorMatrix(codes, counts.astype(np.int64))
