"""Where a cluster is seen best."""

import numpy as np
import numpy.typing as npt

from kitesort.core.cluster.sample import ClusterSample
from kitesort.core.group_statistics import Float64Array

TYPICAL = 0.2  # of a cluster's pixels, those nearest to its mean
MOST_LOOKED_AT = 2000


def typical_places(
    sample: ClusterSample, here: npt.NDArray[np.bool_], mean: Float64Array, spread: Float64Array,
    most: int = 3,
) -> list[tuple[int, int]]:  # fmt: skip
    """Rows and columns of a few pixels that are like a cluster's mean (bands,), measured in its
    ``spread``, and far from one another. ``here`` (n,) marks the cluster's pixels of the sample."""
    chosen = np.flatnonzero(here)
    if not len(chosen):
        return []
    unit = np.where(spread > 0, spread, 1.0)
    away = (((sample.values[chosen] - mean) / unit) ** 2).sum(axis=1)
    n = max(1, min(int(TYPICAL * len(chosen)), MOST_LOOKED_AT))
    near = chosen[np.argsort(away, kind="stable")[:n]]
    places = np.stack([sample.rows[near], sample.cols[near]], axis=1).astype(np.float64)
    found = [0]
    gap = ((places - places[0]) ** 2).sum(axis=1)
    while len(found) < min(most, len(near)) and gap.max() > 0:
        found.append(int(gap.argmax()))
        gap = np.minimum(gap, ((places - places[found[-1]]) ** 2).sum(axis=1))
    return [(int(row), int(col)) for row, col in places[found]]
