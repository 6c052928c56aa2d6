"""Clusters by their centres, as a classifier."""

import numpy as np

from kitesort.core.classify.methods.minimum_distance import TrainedMinimumDistance
from kitesort.core.classify.scale import Scale
from kitesort.core.cluster.protocol import Distance
from kitesort.core.group_statistics import Float64Array
from kitesort.core.legend import code_array


def nearest_model(
    roles: tuple[str, ...], scale: Scale, centres: Float64Array, distance: Distance = "euclidean"
) -> TrainedMinimumDistance:
    """Codes 1, 2, … of the nearest of some centres (clusters, bands) on a scale."""
    codes = code_array(range(1, len(centres) + 1))
    return TrainedMinimumDistance(
        roles, codes, np.full(len(codes), -np.inf), scale.centre, scale.factor,
        np.ascontiguousarray(centres), np.array([distance == "manhattan"], np.int32),
    )  # fmt: skip
