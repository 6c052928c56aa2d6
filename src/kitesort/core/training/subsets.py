"""Which bands tell classes apart: every subset tried where there are few, else a search."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np
import numpy.typing as npt
from numba import njit

from kitesort.core.engine import UNWATCHED, Watch
from kitesort.core.group_statistics import ClassStatistics
from kitesort.core.training.separability import chance_distance

MOST_FOR_ALL = 12  # bands: 4 095 subsets
SAME = 1e-9
Float64 = npt.NDArray[np.float64]
Subset = tuple[int, ...]


@dataclass(frozen=True)
class BestSubset:
    """The best so many bands, by their places: the least and the mean Jeffries-Matusita distance
    over all pairs of classes."""

    bands: Subset
    worst: float
    mean: float


@dataclass(frozen=True)
class FoundSubsets:
    """The best subset of each size; ``all_tried``: every one there is was looked at."""

    best: tuple[BestSubset, ...]
    all_tried: bool

    def smallest_with(self, limit: float) -> BestSubset | None:
        """The smallest with which every pair reaches a limit."""
        return next((one for one in self.best if one.worst >= limit), None)


def find_subsets(
    classes: Sequence[ClassStatistics], limit: float = 1.9, watch: Watch = UNWATCHED
) -> FoundSubsets:
    """For each number of bands those with the largest least distance between two classes; of equal
    ones (all pairs at or above ``limit`` count as equally good) those with the larger mean.

    Distances are corrected for chance. Up to 12 bands every subset is tried; above that bands are
    added one by one and taken back where that is better (floating search).

    Raises
    ------
    CancelledError

    Source: P. Pudil, J. Novovičová and J. Kittler 1994, Pattern Recognition Letters 15:1119-1125
    (sequential floating forward selection; from memory).
    """
    n_bands = len(classes[0].mean)
    measure = _Measure(classes, limit)
    if n_bands <= MOST_FOR_ALL:
        best = []
        for size in range(1, n_bands + 1):
            watch.require_wanted()
            best.append(measure.best_of(list(combinations(range(n_bands), size))))
        return FoundSubsets(tuple(best), True)
    return FoundSubsets(tuple(_floating(n_bands, measure.best_of, watch)), False)


def _floating(
    n_bands: int, best_of: Callable[[list[Subset]], BestSubset], watch: Watch
) -> list[BestSubset]:
    found: dict[int, BestSubset] = {}
    now: Subset = ()
    while len(now) < n_bands:
        watch.require_wanted()
        wider = [tuple(sorted((*now, band))) for band in range(n_bands) if band not in now]
        now = _keep(found, best_of(wider))
        while len(now) > 2:
            narrower = best_of([tuple(b for b in now if b != out) for out in now])
            if not _is_better(narrower, found[len(now) - 1]):
                break
            now = _keep(found, narrower)
    return [found[size] for size in sorted(found)]


def _keep(found: dict[int, BestSubset], one: BestSubset) -> Subset:
    size = len(one.bands)
    if size not in found or _is_better(one, found[size]):
        found[size] = one
    return found[size].bands


def _is_better(one: BestSubset, other: BestSubset) -> bool:
    if abs(one.worst - other.worst) > SAME:
        return one.worst > other.worst
    return one.mean > other.mean + SAME


class _Measure:
    """Distances of all pairs of classes in many subsets."""

    def __init__(self, classes: Sequence[ClassStatistics], limit: float) -> None:
        self._means = np.stack([s.mean for s in classes])
        self._covariances = np.stack([s.covariance for s in classes])
        self._counts = [s.n_pixels for s in classes]
        self._limit = limit

    def best_of(self, subsets: list[Subset]) -> BestSubset:
        """Of subsets of one size."""
        size = len(subsets[0])
        pairs = list(combinations(range(len(self._counts)), 2))
        chance = np.array(
            [chance_distance(self._counts[i], self._counts[j], size) for i, j in pairs]
        )
        worst, mean = _distances(
            self._means, self._covariances, np.array(subsets, np.int64), chance
        )
        worst, mean = np.nan_to_num(worst), np.nan_to_num(mean)  # bands that repeat one another
        goal = np.minimum(worst, self._limit).round(9)
        place = max(range(len(subsets)), key=lambda i: (goal[i], mean[i]))
        return BestSubset(subsets[place], float(worst[place]), float(mean[place]))


@njit(nogil=True, cache=True, error_model="numpy")
def _distances(means, covariances, subsets, chance):  # type: ignore[no-untyped-def]
    """Least and mean Jeffries-Matusita distance over all pairs (subsets,) of each subset."""
    n_subsets, size = subsets.shape
    n_classes = means.shape[0]
    worst, mean = np.empty(n_subsets), np.empty(n_subsets)
    parts = np.empty((n_classes, size, size))
    logs = np.empty(n_classes)
    for s in range(n_subsets):
        for c in range(n_classes):
            for i in range(size):
                for j in range(size):
                    parts[c, i, j] = covariances[c, subsets[s, i], subsets[s, j]]
            logs[c] = _log_det_of_root(_root(parts[c]))
        least, total, pair = 2.0, 0.0, 0
        for a in range(n_classes):
            for b in range(a + 1, n_classes):
                root = _root((parts[a] + parts[b]) / 2)
                solved = np.empty(size)
                distance = 0.0
                for i in range(size):
                    value = means[a, subsets[s, i]] - means[b, subsets[s, i]]
                    for j in range(i):
                        value -= root[i, j] * solved[j]
                    solved[i] = value / root[i, i]
                    distance += solved[i] * solved[i]
                apart = distance / 8 + (_log_det_of_root(root) - (logs[a] + logs[b]) / 2) / 2
                jm = -2 * np.expm1(-max(0.0, apart - chance[pair]))
                least = min(least, jm)
                total += jm
                pair += 1
        worst[s], mean[s] = least, total / pair
    return worst, mean


@njit(nogil=True, cache=True, error_model="numpy")
def _root(matrix):  # type: ignore[no-untyped-def]
    """Cholesky root; a matrix that has none gets not-a-number."""
    n = matrix.shape[0]
    root = np.zeros((n, n))
    for i in range(n):
        for j in range(i + 1):
            value = matrix[i, j]
            for k in range(j):
                value -= root[i, k] * root[j, k]
            root[i, j] = np.sqrt(value) if i == j else value / root[j, j]
    return root


@njit(nogil=True, cache=True, error_model="numpy")
def _log_det_of_root(root):  # type: ignore[no-untyped-def]
    total = 0.0
    for i in range(root.shape[0]):
        total += np.log(root[i, i])
    return 2 * total


def warm() -> bool:
    """Compile the kernels into their cache."""
    eye = np.stack([np.eye(2), np.eye(2)])
    worst, _ = _distances(np.zeros((2, 2)), eye, np.array([[0, 1]]), np.zeros(1))
    return bool(np.isfinite(worst).all())
