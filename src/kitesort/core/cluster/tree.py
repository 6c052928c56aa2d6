"""The tree of clusters: which belong together most."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from kitesort.core.group_statistics import Float64Array


@dataclass(frozen=True)
class Joint:
    """Two branches that are joined, at what height. Leaves are 0 to n - 1, the joint made first is
    n, the next n + 1, and so on."""

    first: int
    second: int
    height: float


def cluster_tree(centres: Float64Array, sizes: npt.NDArray[np.int64]) -> list[Joint]:
    """Ward's tree of clusters of given centres (clusters, bands) and sizes (clusters,): each time
    those two are joined whose joint raises the sum of squares within least. The height is
    √(2 n m / (n + m)) times their distance, so that it is their distance for single pixels.

    Source: J. H. Ward 1963, Journal of the American Statistical Association 58:236-244; heights as
    in SciPy's ``linkage``.
    """
    nodes = {i: (np.asarray(centre), float(max(n, 1))) for i, (centre, n) in
             enumerate(zip(centres, sizes, strict=True))}  # fmt: skip
    joints: list[Joint] = []
    while len(nodes) > 1:
        names = list(nodes)
        points = np.stack([nodes[name][0] for name in names])
        weights = np.array([nodes[name][1] for name in names])
        apart = ((points[:, None] - points[None]) ** 2).sum(axis=2)
        cost = 2 * apart * np.outer(weights, weights) / np.add.outer(weights, weights)
        cost[np.tril_indices(len(names))] = np.inf
        i, j = np.unravel_index(int(cost.argmin()), cost.shape)
        weight = weights[i] + weights[j]
        middle = (weights[i] * points[i] + weights[j] * points[j]) / weight
        joints.append(Joint(names[i], names[j], float(np.sqrt(cost[i, j]))))
        del nodes[names[i]], nodes[names[j]]
        nodes[len(centres) + len(joints) - 1] = (middle, weight)
    return joints
