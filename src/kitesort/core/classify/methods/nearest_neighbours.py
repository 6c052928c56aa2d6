"""The classes of the nearest training pixels."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

import numpy as np
import numpy.typing as npt
from pydantic import Field

from kitesort.core.classify.arrays import no_classifier, take_codes, take_indices, take_numbers
from kitesort.core.classify.methods._learning import (
    STANDARDISE,
    codes_of,
    in_one_order,
    no_limit,
    require_classes,
)
from kitesort.core.classify.neighbours import PointTree, make_tree, vote
from kitesort.core.classify.onnx_graph import Graph
from kitesort.core.classify.protocol import ClassifierSpec, Learnt, TrainedClassifier
from kitesort.core.classify.scale import Scale
from kitesort.core.engine import Watch
from kitesort.core.group_statistics import Float64Array
from kitesort.core.settings import Settings, titled
from kitesort.core.training.samples import TrainingSamples

MOST_NEIGHBOURS = 101


class NearestNeighboursSettings(Settings):
    neighbours: int = Field(
        5,
        title="Neighbours",
        description="How many of the nearest training pixels vote; more make a calmer map, and "
        "small classes lose.",
        ge=1,
        le=MOST_NEIGHBOURS,
    )
    weights: Literal["equal", "distance"] = Field(
        "equal",
        title="A vote weighs",
        description="By distance, a training pixel that is nearly the same outweighs others.",
        json_schema_extra=titled({"equal": "the same for all", "distance": "one over distance"}),
    )
    standardise: bool = Field(
        True, title="Bring layers to one scale first", description=STANDARDISE
    )


@dataclass(frozen=True)
class TrainedNearestNeighbours(Learnt):
    """``points`` (n, bands) on the scale of ``centre`` and ``factor``, and their classes' places
    ``labels`` (n,); ``votes`` (2,): how many vote, and whether by distance."""

    centre: Float64Array
    factor: Float64Array
    points: Float64Array
    labels: npt.NDArray[np.int32]
    votes: npt.NDArray[np.int32]
    tree: PointTree = field(init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "tree", make_tree(self.points))

    def scores(self, values: npt.NDArray[np.float32]) -> Float64Array:
        """Shares of the votes."""
        pixels, tree = np.ascontiguousarray(values, np.float32), self.tree
        out = np.empty((len(self.codes), pixels.shape[1]), np.float64)
        label = np.ascontiguousarray(self.labels[tree.number])
        vote(
            pixels, self.centre, self.factor, tree.points, tree.number, tree.axis, tree.cut,
            tree.first, tree.last, label, int(self.votes[0]), bool(self.votes[1]), out,
        )  # fmt: skip
        return out

    def graph(self, graph: Graph) -> str:
        x = graph.scaled(self.centre, self.factor)
        n_bands, n_classes = len(self.centre), len(self.codes)
        return graph.pixel_by_pixel(x, n_bands, n_classes, lambda one: self._votes(graph, one))

    def _votes(self, graph: Graph, x: str) -> str:
        """Shares (n, classes) of the votes, of bands (n, bands) brought to one scale."""
        away = graph.squares(x, self.points)
        k = graph.const(np.array([self.votes[0]], np.int64))
        nearest, which = graph.ops("TopK", away, k, outputs=2, axis=1, largest=0, sorted=1)
        label = graph.op("Gather", graph.const(self.labels.astype(np.int64)), which, axis=0)
        places = graph.const(np.arange(len(self.codes), dtype=np.int64)[None, None])
        theirs = graph.as_double(graph.op("Equal", graph.each(label, 2), places))
        weights = self._weights(graph, nearest)
        votes = graph.sum(graph.op("Mul", theirs, graph.each(weights, 2)), 1)
        return graph.op("Div", votes, graph.sum(weights, 1, keep=True))

    def _weights(self, graph: Graph, nearest: str) -> str:
        """Of the votes (n, k): one each, or one over the distance."""
        one, zero = graph.const(np.float64(1)), graph.const(np.float64(0))
        if not self.votes[1]:
            return graph.op("Add", graph.op("Mul", nearest, zero), one)
        met = graph.as_double(graph.op("Equal", nearest, zero))
        any_met = graph.op("Greater", graph.sum(met, 1, keep=True), zero)
        safe = graph.op("Where", graph.op("Greater", nearest, zero), nearest, one)
        return graph.op("Where", any_met, met, graph.op("Div", one, graph.op("Sqrt", safe)))


def fit(
    samples: TrainingSamples, settings: Settings, _seed: int, _watch: Watch
) -> TrainedClassifier:
    """All training pixels are kept; of classes with equally many votes the lower code wins.

    Raises
    ------
    TooFewClassesError : fewer than two classes.

    Source: T. M. Cover and P. E. Hart 1967, IEEE Transactions on Information Theory 13:21-27.
    """
    assert isinstance(settings, NearestNeighboursSettings)
    require_classes(samples)
    ordered = in_one_order(samples)
    scale = Scale.of(ordered, settings.standardise)
    codes = codes_of(ordered)
    k = min(settings.neighbours, len(ordered.codes))
    return TrainedNearestNeighbours(
        samples.roles,
        codes,
        no_limit(len(codes)),
        scale.centre,
        scale.factor,
        np.ascontiguousarray(scale(ordered.values)),
        np.searchsorted(codes, ordered.codes).astype(np.int32),
        np.array([k, settings.weights == "distance"], np.int32),
    )


def restore(
    roles: tuple[str, ...], arrays: Mapping[str, npt.NDArray[Any]]
) -> TrainedNearestNeighbours:
    """Raises BadClassifierError where shapes or numbers do not fit."""
    codes = take_codes(arrays)
    scale = Scale.restored(arrays, len(roles))
    points = take_numbers(arrays, "points", (None, len(roles)))
    votes = take_indices(arrays, "votes", 2, 0, min(MOST_NEIGHBOURS, len(points)))
    if votes[0] < 1 or votes[1] > 1:
        raise no_classifier()
    return TrainedNearestNeighbours(
        roles,
        codes,
        take_numbers(arrays, "lowest", (len(codes),), endless=True),
        scale.centre,
        scale.factor,
        points,
        take_indices(arrays, "labels", len(points), 0, len(codes) - 1),
        votes,
    )


SPEC = ClassifierSpec(
    id="nearest-neighbours",
    version=1,
    title="Nearest neighbours",
    good_for="Classes of any shape, from clean sites: what looks alike gets the same class.",
    source="Cover & Hart 1967, IEEE Transactions on Information Theory 13:21-27",
    settings=NearestNeighboursSettings,
    scores="votes",
    fit=fit,
    restore=restore,
)
