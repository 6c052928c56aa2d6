"""Decision trees as arrays: what is kept, checked and drawn of them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from kitesort.core.classify.arrays import no_classifier, take_indices, take_numbers
from kitesort.core.group_statistics import Float64Array

Int32Array = npt.NDArray[np.int32]
MOST_NODES = 2**22  # as many as a packed node can name
NAMES = ("feature", "threshold", "left", "right", "leaf", "roots")


@dataclass(frozen=True)
class Trees:
    """All nodes of several trees: the band that is asked (-1: a leaf), the threshold up to which a
    value goes left, the nodes to the left and right, the row of the leaf's values; ``roots``
    (trees,). A node's children come after it.

    Thresholds are values of float32, so that they part pixels (float32) as the learner's own do.
    """

    feature: Int32Array
    threshold: Float64Array
    left: Int32Array
    right: Int32Array
    leaf: Int32Array
    roots: Int32Array

    @property
    def n_leaves(self) -> int:
        return int((self.feature < 0).sum())

    @property
    def tree_of(self) -> Int32Array:
        """The tree (nodes,) that each node is of: nodes of a tree stand together."""
        order = np.argsort(self.roots)
        at = np.searchsorted(self.roots[order], np.arange(len(self.feature)), "right") - 1
        return order[at].astype(np.int32)

    def as_attributes(self) -> dict[str, Any]:
        """The nodes as an ONNX tree ensemble names them; numbers of nodes are the same in all."""
        leaf = self.feature < 0
        return {
            "nodes_treeids": self.tree_of.tolist(),
            "nodes_nodeids": list(range(len(leaf))),
            "nodes_featureids": np.maximum(self.feature, 0).tolist(),
            "nodes_modes": ["LEAF" if is_leaf else "BRANCH_LEQ" for is_leaf in leaf],
            "nodes_values": self.threshold.tolist(),
            "nodes_truenodeids": self.left.tolist(),
            "nodes_falsenodeids": self.right.tolist(),
        }

    def arrays(self) -> dict[str, npt.NDArray[Any]]:
        return {name: getattr(self, name) for name in NAMES}


def floor_float32(thresholds: npt.NDArray[np.floating]) -> Float64Array:
    """The largest float32 that is not above each: ``x <= t`` is then the same for every x of
    float32."""
    wanted = np.asarray(thresholds, np.float64)
    with np.errstate(over="ignore"):
        near = wanted.astype(np.float32)
        lower = np.nextafter(near, np.float32(-np.inf))
    limit = np.finfo(np.float32).max
    return np.clip(np.where(near > wanted, lower, near), -limit, limit).astype(np.float64)


def join_trees(
    parts: Sequence[tuple[Int32Array, npt.NDArray[np.floating], Int32Array, Int32Array]],
) -> Trees:
    """Trees from feature, threshold, left, right of each; leaves are numbered as they come."""
    feature, threshold, left, right, roots = [], [], [], [], []
    start = 0
    for of_feature, of_threshold, of_left, of_right in parts:
        is_leaf = of_left < 0
        roots.append(start)
        feature.append(np.where(is_leaf, -1, of_feature))
        threshold.append(np.where(is_leaf, 0.0, floor_float32(of_threshold)))
        left.append(np.where(is_leaf, 0, of_left + start))
        right.append(np.where(is_leaf, 0, of_right + start))
        start += len(of_feature)
    all_features = np.concatenate(feature).astype(np.int32)
    is_leaf = all_features < 0
    return Trees(
        all_features,
        np.concatenate(threshold).astype(np.float64),
        np.concatenate(left).astype(np.int32),
        np.concatenate(right).astype(np.int32),
        np.where(is_leaf, np.cumsum(is_leaf) - 1, 0).astype(np.int32),
        np.array(roots, np.int32),
    )


def take_trees(arrays: Mapping[str, npt.NDArray[Any]], n_bands: int) -> Trees:
    """Trees from a file: no node leads to itself or to one before it, or out of the arrays.

    Raises
    ------
    BadClassifierError
    """
    feature = take_indices(arrays, "feature", None, -1, n_bands - 1)
    n = len(feature)
    if n > MOST_NODES:
        raise no_classifier()
    found = Trees(
        feature,
        take_numbers(arrays, "threshold", (n,)),
        take_indices(arrays, "left", n, 0, n - 1),
        take_indices(arrays, "right", n, 0, n - 1),
        take_indices(arrays, "leaf", n, 0, n - 1),
        take_indices(arrays, "roots", None, 0, n - 1),
    )
    inner = np.flatnonzero(feature >= 0)
    if (found.left[inner] <= inner).any() or (found.right[inner] <= inner).any():
        raise no_classifier()
    led_to = np.concatenate([found.left[inner], found.right[inner], found.roots])
    if (np.bincount(led_to, minlength=n) != 1).any():  # each from one place
        raise no_classifier()
    if (found.leaf[feature < 0] >= found.n_leaves).any():
        raise no_classifier()
    if not np.array_equal(found.threshold, floor_float32(found.threshold)):
        raise no_classifier()
    return found
