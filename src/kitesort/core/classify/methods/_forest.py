"""Trees that vote: what a single tree and a forest are to a pixel."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from kitesort.core.classify.arrays import no_classifier, take_codes, take_numbers
from kitesort.core.classify.decide import decide
from kitesort.core.classify.methods._learning import by_name, no_limit
from kitesort.core.classify.methods._of_trees import OfTrees
from kitesort.core.classify.methods._trees import join_trees, take_trees
from kitesort.core.classify.methods._trees_kernel import sum_leaves
from kitesort.core.classify.onnx_graph import Graph
from kitesort.core.classify.protocol import in_pieces
from kitesort.core.group_statistics import Float64Array
from kitesort.core.legend import CodeArray


@dataclass(frozen=True)
class TrainedForest(OfTrees):
    """``shares`` (leaves, classes) of the training pixels that ended there."""

    shares: Float64Array

    def scores(self, values: npt.NDArray[np.float32]) -> Float64Array:
        """Mean shares over the trees."""
        return self._sums(values, enough=False) / len(self.trees.roots)

    def classify(self, values: npt.NDArray[np.float32]) -> CodeArray:
        """Trees that could not change a pixel's class any more are not asked."""
        return in_pieces(
            values, lambda part: decide(self._sums(part, enough=True), self.codes, self.lowest)
        )

    def _sums(self, values: npt.NDArray[np.float32], enough: bool) -> Float64Array:
        pixels = np.ascontiguousarray(values, np.float32)
        out = np.empty((len(self.codes), pixels.shape[1]), np.float64)
        sum_leaves(pixels, *self.packed.parts, self.shares, enough, out)
        return out

    def graph(self, graph: Graph) -> str:
        trees, k = self.trees, len(self.codes)
        leaves = np.flatnonzero(trees.feature < 0)
        sums = self.ensemble(
            graph, np.repeat(leaves, k), np.tile(np.arange(k), len(leaves)),
            self.shares[trees.leaf[leaves]].ravel(),
        )  # fmt: skip
        n_trees = graph.const(np.float64(len(trees.roots)))
        return graph.op("Div", sums, n_trees)


def forest_of(roles: tuple[str, ...], codes: CodeArray, grown: Sequence[Any]) -> TrainedForest:
    """From scikit-learn's trees (``tree_`` of each), grown on bands in the order of their names:
    nodes and normalised leaf values."""
    order = by_name(roles)
    parts = [(order[t.feature], t.threshold, t.children_left, t.children_right) for t in grown]
    trees = join_trees(parts)
    values = np.concatenate([t.value[:, 0, :] for t in grown])[trees.feature < 0]
    shares = values / values.sum(axis=1, keepdims=True)
    return TrainedForest(roles, codes, no_limit(len(codes)), trees, np.ascontiguousarray(shares))


def restore(roles: tuple[str, ...], arrays: Mapping[str, npt.NDArray[Any]]) -> TrainedForest:
    """Raises BadClassifierError where shapes or numbers do not fit."""
    codes = take_codes(arrays)
    trees = take_trees(arrays, len(roles))
    shares = take_numbers(arrays, "shares", (trees.n_leaves, len(codes)))
    if (shares < 0).any() or not np.allclose(shares.sum(axis=1), 1):
        raise no_classifier()
    return TrainedForest(
        roles,
        codes,
        take_numbers(arrays, "lowest", (len(codes),), endless=True),
        trees,
        shares,
    )
