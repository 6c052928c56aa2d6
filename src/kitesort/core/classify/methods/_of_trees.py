"""What all classifiers made of trees share."""

from dataclasses import dataclass, field
from typing import Any

import numpy as np
import numpy.typing as npt

from kitesort.core.classify.methods._trees import Trees
from kitesort.core.classify.methods._trees_kernel import PackedTrees, pack
from kitesort.core.classify.onnx_graph import TREE_DOMAIN, Graph
from kitesort.core.classify.protocol import Learnt
from kitesort.core.group_statistics import Float64Array

Ints = npt.NDArray[np.integer]


@dataclass(frozen=True)
class OfTrees(Learnt):
    """``trees``, packed for the kernels once."""

    trees: Trees
    packed: PackedTrees = field(init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "packed", pack(self.trees, len(self.roles)))

    def arrays(self) -> dict[str, npt.NDArray[Any]]:
        kept = super().arrays()
        del kept["trees"]
        return {**kept, **self.trees.arrays()}

    def ensemble(self, graph: Graph, nodes: Ints, classes: Ints, weights: Float64Array) -> str:
        """Sums (n, classes) over all trees of what leaves add: each of ``nodes`` a weight to a
        class."""
        sums = graph.op(
            "TreeEnsembleRegressor",
            graph.pixels,
            domain=TREE_DOMAIN,
            n_targets=len(self.codes),
            target_treeids=self.trees.tree_of[nodes].tolist(),
            target_nodeids=nodes.tolist(),
            target_ids=classes.tolist(),
            target_weights=weights.tolist(),
            **self.trees.as_attributes(),
        )
        return graph.as_double(sums)
