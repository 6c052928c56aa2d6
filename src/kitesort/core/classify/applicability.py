"""Where ground is unlike anything that was trained on."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import numpy.typing as npt
from scipy.spatial.distance import cdist

from kitesort.core.classify.arrays import no_classifier, take_numbers
from kitesort.core.classify.neighbours import PointTree, make_tree, nearest_distance
from kitesort.core.classify.scale import Scale
from kitesort.core.group_statistics import Float64Array
from kitesort.core.training.folds import UNTESTED, IntArray
from kitesort.core.training.samples import TrainingSamples

MOST_FOR_MEAN = 4000  # training pixels between which the mean distance is taken
ROWS_AT_ONCE = 500


@dataclass(frozen=True)
class Applicability:
    """Training pixels ``points`` (n, bands) on a scale, the mean distance between them, and the
    largest index that is still like them.

    Source: H. Meyer and E. Pebesma 2021, Methods in Ecology and Evolution 12:1620-1633; all layers
    weigh the same.
    """

    scale: Scale
    points: Float64Array
    mean_distance: float
    threshold: float
    tree: PointTree = field(init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "tree", make_tree(self.points))

    def index(self, values: npt.NDArray[np.floating]) -> Float64Array:
        """Dissimilarity (n,) of pixels (bands, n): the distance to the nearest training pixel in
        units of the mean distance between training pixels."""
        return np.asarray(nearest_distance(self.tree, self.scale(values.T)) / self.mean_distance)

    def arrays(self) -> dict[str, npt.NDArray[Any]]:
        return {
            "like_centre": self.scale.centre,
            "like_factor": self.scale.factor,
            "like_points": self.points,
            "like_limits": np.array([self.mean_distance, self.threshold]),
        }


def measure_applicability(samples: TrainingSamples, folds: IntArray) -> Applicability | None:
    """From training pixels and the fold (n,) of each. The threshold is the upper whisker (third
    quartile and one and a half times the distance between quartiles) of the index of pixels against
    those of other folds; a pixel that is in no fold is compared with other sites. None where
    training pixels do not differ."""
    scale = Scale.of(samples)
    points = np.ascontiguousarray(scale(samples.values))
    mean_distance = _mean_distance(points)
    if mean_distance == 0:
        return None
    groups = np.where(folds == UNTESTED, samples.sites + folds.max(initial=0) + 1, folds)
    away = np.full(len(points), np.nan)
    for group in np.unique(groups):
        mine = groups == group
        if not mine.all():
            away[mine] = nearest_distance(make_tree(points[~mine]), points[mine])
    known = away[~np.isnan(away)] / mean_distance
    if len(known) == 0:
        return None
    first, third = np.quantile(known, (0.25, 0.75))
    return Applicability(scale, points, mean_distance, float(third + 1.5 * (third - first)))


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
    limits = take_numbers(arrays, "like_limits", (2,))
    if limits[0] <= 0 or limits[1] < 0:
        raise no_classifier()
    points = take_numbers(arrays, "like_points", (None, n_bands))
    return Applicability(scale, points, float(limits[0]), float(limits[1]))
