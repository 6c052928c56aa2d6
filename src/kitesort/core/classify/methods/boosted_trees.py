"""Trees one after another, each mending what those before got wrong."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt
from pydantic import Field
from scipy.special import softmax
from threadpoolctl import threadpool_limits

from kitesort.core.classify.arrays import no_classifier, take_codes, take_numbers
from kitesort.core.classify.methods._learning import (
    by_name,
    codes_of,
    in_one_order,
    no_limit,
    require_classes,
)
from kitesort.core.classify.methods._of_trees import OfTrees
from kitesort.core.classify.methods._trees import join_trees, take_trees
from kitesort.core.classify.methods._trees_kernel import sum_boosted
from kitesort.core.classify.onnx_graph import Graph
from kitesort.core.classify.protocol import ClassifierSpec, TrainedClassifier
from kitesort.core.engine import Watch, steps
from kitesort.core.group_statistics import Float64Array
from kitesort.core.settings import Settings
from kitesort.core.training.samples import TrainingSamples

BATCH = 10


class BoostedTreesSettings(Settings):
    rounds: int = Field(
        100,
        title="Rounds",
        description="In each, one small tree per class is added; too many follow odd pixels.",
        ge=1,
        le=1000,
    )
    learning_rate: float = Field(
        0.1,
        title="Learning rate",
        description="How much of its answer each tree may add; smaller needs more rounds.",
        ge=0.001,
        le=1,
        json_schema_extra={"step": 0.01},
    )
    leaves: int = Field(
        15,
        title="Leaves of a tree",
        description="How many answers a tree has at most.",
        ge=2,
        le=255,
    )
    least_leaf: int = Field(
        10,
        title="Pixels in a leaf",
        description="Training pixels that an answer rests on at least.",
        ge=1,
        le=100_000,
    )


@dataclass(frozen=True)
class TrainedBoostedTrees(OfTrees):
    """``trees`` speak for the classes in turn; ``gains`` (leaves,) are added to ``start``
    (classes,)."""

    gains: Float64Array
    start: Float64Array

    def scores(self, values: npt.NDArray[np.float32]) -> Float64Array:
        """Probabilities: the exponentials of the sums, over their total."""
        pixels = np.ascontiguousarray(values, np.float32)
        out = np.empty((len(self.codes), pixels.shape[1]), np.float64)
        sum_boosted(pixels, *self.packed.parts, self.gains, self.start, out)
        return np.asarray(softmax(out, axis=0))

    def graph(self, graph: Graph) -> str:
        trees = self.trees
        leaves = np.flatnonzero(trees.feature < 0)
        spoken_for = trees.tree_of[leaves] % len(self.codes)
        sums = self.ensemble(graph, leaves, spoken_for, self.gains[trees.leaf[leaves]])
        whole = graph.op("Add", sums, graph.const(self.start))
        return graph.op("Softmax", whole, axis=1)


def fit(samples: TrainingSamples, settings: Settings, seed: int, watch: Watch) -> TrainedClassifier:
    """Gradient boosting of the multinomial log-likelihood, on layers binned to 255 steps.

    Raises
    ------
    TooFewClassesError : fewer than two classes. CancelledError

    Source: J. H. Friedman 2001, Annals of Statistics 29:1189-1232; G. Ke et al. 2017 (histograms).
    """
    from sklearn.ensemble import HistGradientBoostingClassifier  # slow to import

    assert isinstance(settings, BoostedTreesSettings)
    require_classes(samples)
    ordered = in_one_order(samples)
    boosted = HistGradientBoostingClassifier(
        learning_rate=settings.learning_rate,
        max_leaf_nodes=settings.leaves,
        min_samples_leaf=settings.least_leaf,
        early_stopping=False,
        warm_start=True,
        max_iter=1,
        random_state=seed,
    )
    values = ordered.values[:, by_name(samples.roles)]
    for rounds in steps([*range(BATCH, settings.rounds, BATCH), settings.rounds], watch):
        # One thread: its sums are the same wherever it runs, and it does not spin beside others.
        with threadpool_limits(1):
            boosted.set_params(max_iter=rounds).fit(values, ordered.codes)
    return _trained(samples.roles, boosted, ordered)


def _trained(roles: tuple[str, ...], boosted: Any, samples: TrainingSamples) -> TrainedBoostedTrees:
    """From the learner's own nodes. Of two classes only the second one's trees are grown; the first
    gets the same with the opposite sign, halved, which leaves their difference as it is."""
    codes, order = codes_of(samples), by_name(roles)
    grown = [tree.nodes for round_ in boosted._predictors for tree in round_]
    start = np.asarray(boosted._baseline_prediction, np.float64).reshape(-1)
    parts = [
        (
            order[nodes["feature_idx"]],
            nodes["num_threshold"],
            np.where(nodes["is_leaf"], -1, nodes["left"].astype(np.int32)),
            np.where(nodes["is_leaf"], -1, nodes["right"].astype(np.int32)),
        )
        for nodes in grown
    ]
    gains = [nodes["value"][nodes["is_leaf"].astype(bool)] for nodes in grown]
    if len(codes) == 2:
        parts = [part for part in parts for _ in range(2)]
        gains = [sign * gain / 2 for gain in gains for sign in (-1, 1)]
        start = np.array([-start[0] / 2, start[0] / 2])
    return TrainedBoostedTrees(
        roles, codes, no_limit(len(codes)), join_trees(parts),
        np.concatenate(gains).astype(np.float64), start,
    )  # fmt: skip


def restore(roles: tuple[str, ...], arrays: Mapping[str, npt.NDArray[Any]]) -> TrainedBoostedTrees:
    """Raises BadClassifierError where shapes or numbers do not fit."""
    codes = take_codes(arrays)
    trees = take_trees(arrays, len(roles))
    if len(trees.roots) % len(codes):
        raise no_classifier()
    return TrainedBoostedTrees(
        roles,
        codes,
        take_numbers(arrays, "lowest", (len(codes),), endless=True),
        trees,
        take_numbers(arrays, "gains", (trees.n_leaves,)),
        take_numbers(arrays, "start", (len(codes),)),
    )


SPEC = ClassifierSpec(
    id="boosted-trees",
    version=1,
    title="Boosted trees",
    good_for="Many clean training pixels, fine differences between classes.",
    source="Friedman 2001, Annals of Statistics 29:1189-1232",
    settings=BoostedTreesSettings,
    scores="probability",
    fit=fit,
    restore=restore,
    draws=True,
    slow=True,
)
