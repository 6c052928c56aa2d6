"""Where ground is unlike anything that was trained on."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
import numpy.typing as npt
from scipy.spatial.distance import cdist

from kitesort.core.classify._cover_kernel import nearest_distance, spread_out
from kitesort.core.classify.arrays import no_classifier, take_numbers
from kitesort.core.classify.scale import Scale
from kitesort.core.group_statistics import Float64Array
from kitesort.core.training.folds import UNTESTED, IntArray
from kitesort.core.training.samples import TrainingSamples

MOST_FOR_MEAN = 4000  # training pixels between which the mean distance is taken
ROWS_AT_ONCE = 500
MOST_POINTS = 2000  # training pixels that each pixel is compared with
FEWEST_POINTS = 500  # of however many
MOST_STEPS = 1_500_000_000  # of one band each, to choose them: what a second or two is spent on


@dataclass(frozen=True)
class Applicability:
    """Training pixels ``points`` (n, bands) on a scale, the mean distance between all that there
    were, the largest index that is still like them, and by how much at most the index is larger
    than it would be were each pixel compared with all of them.

    Source: H. Meyer and E. Pebesma 2021, Methods in Ecology and Evolution 12:1620-1633; all layers
    weigh the same.
    """

    scale: Scale
    points: Float64Array
    mean_distance: float
    threshold: float
    error: float = 0.0

    @cached_property
    def _by_bands(self) -> Float64Array:
        return np.ascontiguousarray(self.points.T)

    def index(self, values: npt.NDArray[np.floating]) -> Float64Array:
        """Dissimilarity (n,) of pixels (bands, n): the distance to the nearest of the points in
        units of the mean distance between training pixels."""
        x = self.scale(values.T)
        return np.asarray(nearest_distance(x, self._by_bands) / self.mean_distance)

    def arrays(self) -> dict[str, npt.NDArray[Any]]:
        return {
            "like_centre": self.scale.centre,
            "like_factor": self.scale.factor,
            "like_points": self.points,
            "like_limits": np.array([self.mean_distance, self.threshold, self.error]),
        }


def measure_applicability(samples: TrainingSamples, folds: IntArray) -> Applicability | None:
    """From training pixels and the fold (n,) of each. The threshold is the upper whisker (third
    quartile and one and a half times the distance between quartiles) of the index of pixels against
    those of other folds; a pixel that is in no fold is compared with other sites. Of many training
    pixels a choice is compared with, the same for the index and its threshold. None where training
    pixels do not differ."""
    scale = Scale.of(samples)
    points = np.ascontiguousarray(scale(samples.values))
    mean_distance = _mean_distance(points)
    if mean_distance == 0:
        return None
    groups = np.where(folds == UNTESTED, samples.sites + folds.max(initial=0) + 1, folds)
    chosen, largest_gap = _choose(points)
    some = np.ascontiguousarray(points[chosen].T)
    away = nearest_distance(points, some, groups, groups[chosen])
    known = away[np.isfinite(away)] / mean_distance
    if len(known) == 0:
        return None
    first, third = np.quantile(known, (0.25, 0.75))
    return Applicability(
        scale,
        points[chosen],
        mean_distance,
        float(third + 1.5 * (third - first)),
        largest_gap / mean_distance,
    )


def _choose(points: Float64Array) -> tuple[IntArray, float]:
    """Places of the points (n, bands) that are compared with, and how far any other one is from
    the nearest of them at most: few are all taken, of many those that leave no large gap."""
    n = len(points)
    if n <= MOST_POINTS:
        return np.arange(n), 0.0
    most = min(MOST_POINTS, max(FEWEST_POINTS, MOST_STEPS // points.size))
    chosen = np.empty(most, np.int64)
    n_chosen, largest_gap = spread_out(np.ascontiguousarray(points.T), chosen)
    return np.sort(chosen[:n_chosen]), largest_gap


def _mean_distance(points: Float64Array) -> float:
    """Between all pairs; of very many points between those of an even choice."""
    n = len(points)
    used = points[np.linspace(0, n - 1, min(n, MOST_FOR_MEAN)).astype(np.int64)]
    total = sum(
        float(cdist(used[i : i + ROWS_AT_ONCE], used).sum())
        for i in range(0, len(used), ROWS_AT_ONCE)
    )
    n_pairs = len(used) * (len(used) - 1)
    return total / n_pairs if n_pairs else 0.0


def restore_applicability(
    arrays: Mapping[str, npt.NDArray[Any]], n_bands: int
) -> Applicability | None:
    """Raises BadClassifierError where it is there, and none."""
    if "like_points" not in arrays:
        return None
    scale = Scale.restored(arrays, n_bands, "like_")
    limits = take_numbers(arrays, "like_limits", (None,))
    if len(limits) == 2:  # as it was written when all training pixels were compared with
        limits = np.append(limits, 0.0)
    if len(limits) != 3 or limits[0] <= 0 or limits[1] < 0 or limits[2] < 0:
        raise no_classifier()
    points = take_numbers(arrays, "like_points", (None, n_bands))
    return Applicability(scale, points, *limits.tolist())
