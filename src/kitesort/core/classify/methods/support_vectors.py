"""Support vector machine: the widest gap between each two classes."""

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import product
from typing import Any, Literal

import numpy as np
import numpy.typing as npt
from pydantic import Field

from kitesort.core.classify.arrays import no_classifier, take_codes, take_indices, take_numbers
from kitesort.core.classify.methods._learning import (
    codes_of,
    in_one_order,
    no_limit,
    require_classes,
)
from kitesort.core.classify.methods._support_kernel import CHUNK, sum_linear, sum_radial, tally
from kitesort.core.classify.onnx_graph import Graph
from kitesort.core.classify.protocol import ClassifierSpec, Learnt, TrainedClassifier
from kitesort.core.classify.scale import Scale
from kitesort.core.engine import Watch, steps
from kitesort.core.group_statistics import Float64Array
from kitesort.core.settings import Settings, titled
from kitesort.core.training.folds import UNTESTED, assign_folds, group_sites
from kitesort.core.training.samples import TrainingSamples

N_FOLDS = 3
COSTS = (1.0, 10.0, 100.0)
WIDTHS = (0.25, 1.0, 4.0)  # times the usual gamma
MOST_SUMS = 2**23  # of each class against each other, that are held


class SupportVectorsSettings(Settings):
    kernel: Literal["radial", "linear"] = Field(
        "radial",
        title="Border between classes",
        description="Bent, by nearness to training pixels, or a plane.",
        json_schema_extra=titled({"radial": "bent (radial)", "linear": "a plane (linear)"}),
    )
    cost: float = Field(
        10.0,
        title="Cost",
        description="What a pixel on the wrong side costs; high values follow each training pixel.",
        gt=0,
        le=1e6,
    )
    gamma: float = Field(
        0.0,
        title="Gamma",
        description="How fast a training pixel's reach ends, of layers on one scale; 0 is one over "
        "the number of layers.",
        ge=0,
        le=1e4,
    )
    search: bool = Field(
        False,
        title="Find cost and gamma",
        description="Nine pairs are tried on folds of whole sites, and the best one is taken; "
        "takes some thirty times as long.",
    )
    most_pixels: int = Field(
        20_000,
        title="Training pixels at most",
        description="Of more, so many are drawn by the seed, in the classes' proportions: time "
        "grows with their square.",
        ge=100,
        le=200_000,
    )


@dataclass(frozen=True)
class TrainedSupportVectors(Learnt):
    """``vectors`` (n, bands) on the scale of ``centre`` and ``factor``, their classes' places
    ``labels`` (n,), ``weights`` (classes - 1, n) against each other class, ``intercept`` (pairs,);
    ``found`` (2,): cost and gamma, of which 0 is the linear kernel."""

    centre: Float64Array
    factor: Float64Array
    vectors: Float64Array
    labels: npt.NDArray[np.int32]
    weights: Float64Array
    intercept: Float64Array
    found: Float64Array

    def scores(self, values: npt.NDArray[np.float32]) -> Float64Array:
        """Votes of all pairs of classes, with less than a third of one for how clearly."""
        k = len(self.codes)
        out = np.empty((k, values.shape[1]), np.float64)
        at_once = max(CHUNK, MOST_SUMS // (k * k) // CHUNK * CHUNK)
        for start in range(0, values.shape[1], at_once):
            part = np.ascontiguousarray(values[:, start : start + at_once], np.float32)
            tallied = np.empty((k, part.shape[1]), np.float64)
            tally(self._sums(part), self.intercept, tallied)
            out[:, start : start + at_once] = tallied
        return out

    def _sums(self, pixels: npt.NDArray[np.float32]) -> Float64Array:
        k, gamma = len(self.codes), float(self.found[1])
        sums = np.empty((k, k - 1, pixels.shape[1]), np.float64)
        if gamma > 0:
            labels = self.labels.astype(np.int64)
            sum_radial(pixels, self.centre, self.factor, self.vectors, self.weights, labels, gamma,
                       sums)  # fmt: skip
        else:
            planes = np.stack(
                [self.weights[:, self.labels == c] @ self.vectors[self.labels == c]
                 for c in range(k)]
            )  # fmt: skip
            sum_linear(pixels, self.centre, self.factor, np.ascontiguousarray(planes), sums)
        return sums

    def graph(self, graph: Graph) -> str:
        k = len(self.codes)
        pairs = [(i, j) for i in range(k) for j in range(i + 1, k)]
        weights = np.zeros((len(self.vectors), len(pairs)))
        first, second = np.zeros((len(pairs), k)), np.zeros((len(pairs), k))
        for p, (i, j) in enumerate(pairs):
            weights[:, p] += np.where(self.labels == i, self.weights[j - 1], 0)
            weights[:, p] += np.where(self.labels == j, self.weights[i], 0)
            first[p, i] = second[p, j] = 1
        sums = graph.pixel_by_pixel(
            graph.scaled(self.centre, self.factor), len(self.centre), len(pairs),
            lambda x: graph.op("MatMul", self._nearness(graph, x), graph.const(weights)),
        )  # fmt: skip
        values = graph.op("Add", sums, graph.const(self.intercept))
        won = graph.as_double(graph.op("Greater", values, graph.const(np.float64(0))))
        lost = graph.op("Sub", graph.const(np.float64(1)), won)
        votes = graph.op(
            "Add",
            graph.op("MatMul", won, graph.const(first)),
            graph.op("MatMul", lost, graph.const(second)),
        )
        clear = graph.op("MatMul", values, graph.const(first - second))
        size = graph.op("Add", graph.op("Abs", clear), graph.const(np.float64(1)))
        third = graph.op("Div", clear, graph.op("Mul", size, graph.const(np.float64(3))))
        return graph.op("Add", votes, third)

    def _nearness(self, graph: Graph, x: str) -> str:
        """To each support vector, (n, vectors), of bands (n, bands) brought to one scale."""
        if self.found[1] > 0:
            away = graph.squares(x, self.vectors)
            return graph.op("Exp", graph.op("Mul", away, graph.const(-self.found[1])))
        return graph.op("MatMul", x, graph.const(np.ascontiguousarray(self.vectors.T)))


def fit(samples: TrainingSamples, settings: Settings, seed: int, watch: Watch) -> TrainedClassifier:
    """Every two classes are parted; layers are brought to one scale first.

    Raises
    ------
    TooFewClassesError : fewer than two classes. CancelledError

    Source: C. Cortes and V. Vapnik 1995, Machine Learning 20:273-297.
    """
    assert isinstance(settings, SupportVectorsSettings)
    require_classes(samples)
    used = in_one_order(_drawn(samples, settings.most_pixels, seed))
    scale = Scale.of(used)
    usual = settings.gamma or 1 / len(samples.roles)
    cost, gamma = settings.cost, usual if settings.kernel == "radial" else 0.0
    if settings.search:
        cost, gamma = _search(used, scale, usual, settings.kernel == "radial", watch)
    return _trained(used, scale, cost, gamma)


def _drawn(samples: TrainingSamples, most: int, seed: int) -> TrainingSamples:
    n = len(samples.codes)
    if n <= most:
        return samples
    ordered = in_one_order(samples)
    rng = np.random.default_rng(seed)
    keep = np.zeros(n, np.bool_)
    for code in ordered.class_codes:
        mine = np.flatnonzero(ordered.codes == code)
        keep[rng.choice(mine, max(1, round(len(mine) * most / n)), replace=False)] = True
    return ordered.where(keep)


def _machine(cost: float, gamma: float) -> Any:
    from sklearn.svm import SVC  # slow to import, and only needed to learn

    if gamma > 0:
        return SVC(C=cost, gamma=gamma, cache_size=500)
    return SVC(C=cost, kernel="linear", cache_size=500)


def _search(
    samples: TrainingSamples, scale: Scale, usual: float, radial: bool, watch: Watch
) -> tuple[float, float]:
    """The pair of cost and gamma with which most pixels of sites left out are told right, each
    class counting as much; of equals the calmest."""
    folds = assign_folds(group_sites(samples), N_FOLDS, 2)
    tested = folds != UNTESTED
    gammas = tuple(usual * width for width in WIDTHS) if radial else (0.0,)
    x = scale(samples.values)
    best, found = -1.0, (COSTS[1], usual if radial else 0.0)
    if not tested.any():
        return found
    for cost, gamma in steps(list(product(COSTS, gammas)), watch):
        right = np.zeros(len(folds), np.bool_)
        for fold in range(N_FOLDS):
            out = folds == fold
            if out.any():
                told = _machine(cost, gamma).fit(x[~out], samples.codes[~out]).predict(x[out])
                right[out] = told == samples.codes[out]
        shares = [right[tested & (samples.codes == c)].mean()
                  for c in np.unique(samples.codes[tested])]  # fmt: skip
        if np.mean(shares) > best + 1e-9:
            best, found = float(np.mean(shares)), (cost, gamma)
    return found


def _trained(
    samples: TrainingSamples, scale: Scale, cost: float, gamma: float
) -> TrainedSupportVectors:
    machine = _machine(cost, gamma).fit(scale(samples.values), samples.codes)
    codes = codes_of(samples)
    sign = -1.0 if len(codes) == 2 else 1.0  # of two classes the learner tells the second one
    return TrainedSupportVectors(
        samples.roles,
        codes,
        no_limit(len(codes)),
        scale.centre,
        scale.factor,
        np.ascontiguousarray(machine.support_vectors_),
        np.repeat(np.arange(len(codes)), machine.n_support_).astype(np.int32),
        np.ascontiguousarray(sign * machine.dual_coef_),
        np.ascontiguousarray(sign * machine.intercept_),
        np.array([cost, gamma]),
    )


def restore(
    roles: tuple[str, ...], arrays: Mapping[str, npt.NDArray[Any]]
) -> TrainedSupportVectors:
    """Raises BadClassifierError where shapes or numbers do not fit."""
    codes = take_codes(arrays)
    k = len(codes)
    scale = Scale.restored(arrays, len(roles))
    vectors = take_numbers(arrays, "vectors", (None, len(roles)))
    found = take_numbers(arrays, "found", (2,))
    if k < 2 or (found < 0).any():
        raise no_classifier()
    return TrainedSupportVectors(
        roles,
        codes,
        take_numbers(arrays, "lowest", (k,), endless=True),
        scale.centre,
        scale.factor,
        vectors,
        take_indices(arrays, "labels", len(vectors), 0, k - 1),
        take_numbers(arrays, "weights", (k - 1, len(vectors))),
        take_numbers(arrays, "intercept", (k * (k - 1) // 2,)),
        found,
    )


SPEC = ClassifierSpec(
    id="support-vectors",
    version=1,
    title="Support vectors",
    good_for="Few pixels and many layers, classes that are close: borders where the gap is widest.",
    source="Cortes & Vapnik 1995, Machine Learning 20:273-297",
    settings=SupportVectorsSettings,
    scores="decision",
    fit=fit,
    restore=restore,
    draws=True,
    slow=True,
)
