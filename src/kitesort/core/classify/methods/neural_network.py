"""A feed-forward neural network."""

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import numpy as np
import numpy.typing as npt
from pydantic import Field
from scipy.special import softmax
from threadpoolctl import threadpool_limits

from kitesort.core.classify.arrays import no_classifier, take_codes, take_indices, take_numbers
from kitesort.core.classify.methods._learning import (
    by_name,
    codes_of,
    in_one_order,
    no_limit,
    require_classes,
)
from kitesort.core.classify.methods._network_kernel import chunk_size, run_network
from kitesort.core.classify.onnx_graph import Graph
from kitesort.core.classify.protocol import ClassifierSpec, Learnt, TrainedClassifier
from kitesort.core.classify.scale import Scale
from kitesort.core.engine import Watch, steps
from kitesort.core.errors import TrainingError
from kitesort.core.group_statistics import Float64Array
from kitesort.core.legend import CodeArray
from kitesort.core.settings import Settings
from kitesort.core.training.samples import TrainingSamples

HELD_OUT = 0.2  # of each class's sites, to see when to stop
LEAST_GAIN = 1e-3  # of the loss: less is no getting better
MOST_WIDE = 256
MOST_LAYERS = 4


class NeuralNetworkSettings(Settings):
    layers: tuple[int, ...] = Field(
        (32, 16),
        title="Hidden layers",
        description="How many units each has, from the first to the last.",
        min_length=1,
        max_length=MOST_LAYERS,
        json_schema_extra={"widget": "whole numbers"},
    )
    epochs: int = Field(
        200,
        title="Rounds at most",
        description="How often all training pixels are gone through.",
        ge=1,
        le=2000,
    )
    patience: int = Field(
        20,
        title="Stop early after",
        description="Rounds without getting better on a fifth of the sites, which are held out for "
        "that; 0: never, and all sites teach.",
        ge=0,
        le=2000,
    )
    learning_rate: float = Field(
        0.005,
        title="Learning rate",
        description="How far each step goes; smaller is steadier and slower.",
        gt=0,
        le=1,
        json_schema_extra={"step": 0.001},
    )
    damping: float = Field(
        0.0001,
        title="Damping",
        description="Keeps weights small, so that single pixels are not followed.",
        ge=0,
        le=10,
        json_schema_extra={"step": 0.0001},
    )


@dataclass(frozen=True)
class TrainedNeuralNetwork(Learnt):
    """``widths`` of all layers, bands first and classes last; ``weights`` and ``biases`` one layer
    after another; ``curve`` (rounds, 2): loss on the pixels that teach, and share of those held out
    told right (-1 without any)."""

    centre: Float64Array
    factor: Float64Array
    widths: npt.NDArray[np.int32]
    weights: Float64Array
    biases: Float64Array
    curve: Float64Array

    def scores(self, values: npt.NDArray[np.float32]) -> Float64Array:
        """Probabilities: the exponentials of the last layer, over their total."""
        pixels = np.ascontiguousarray(values, np.float32)
        out = np.empty((len(self.codes), pixels.shape[1]), np.float64)
        widths = self.widths.astype(np.int64)
        run_network(
            pixels, self.centre, self.factor, widths, self.weights, self.biases,
            chunk_size(widths.tolist()), out,
        )  # fmt: skip
        return np.asarray(softmax(out, axis=0))

    def graph(self, graph: Graph) -> str:
        now = graph.scaled(self.centre, self.factor)
        at_weight = at_bias = 0
        for before, width in pairwise(self.widths.tolist()):
            weights = self.weights[at_weight : at_weight + before * width].reshape(width, before)
            biases = self.biases[at_bias : at_bias + width]
            at_weight, at_bias = at_weight + before * width, at_bias + width
            made = graph.op("MatMul", now, graph.const(np.ascontiguousarray(weights.T)))
            now = graph.op("Add", made, graph.const(biases.copy()))
            if at_bias < len(self.biases):
                now = graph.op("Max", now, graph.const(np.float64(0)))
        return graph.op("Softmax", now, axis=1)


def fit(samples: TrainingSamples, settings: Settings, seed: int, watch: Watch) -> TrainedClassifier:
    """Rectified units and cross-entropy, by Adam; the weights of the best round are kept.

    Raises
    ------
    TooFewClassesError : fewer than two classes.
    TrainingError : a layer without or with too many units. CancelledError

    Source: Goodfellow, Bengio & Courville 2016, Deep Learning; D. P. Kingma and J. Ba 2015 (Adam).
    """
    assert isinstance(settings, NeuralNetworkSettings)
    require_classes(samples)
    if not all(1 <= width <= MOST_WIDE for width in settings.layers):
        raise TrainingError(f"A hidden layer has 1 to {MOST_WIDE} units.")
    ordered = in_one_order(samples)
    scale = Scale.of(ordered)
    order = by_name(samples.roles)
    held = _held_out(ordered, seed) if settings.patience else np.zeros(len(ordered.codes), bool)
    with threadpool_limits(1):  # products this small are sooner done by one
        best, curve = _learn(ordered, scale(ordered.values)[:, order], held, settings, seed, watch)
    widths = [len(samples.roles), *settings.layers, len(samples.class_codes)]
    weights, biases = best
    if widths[-1] == 2:  # the learner has one unit then, which tells the second
        weights[-1] = np.hstack([-weights[-1] / 2, weights[-1] / 2])
        biases[-1] = np.array([-biases[-1][0] / 2, biases[-1][0] / 2])
    weights[0] = weights[0][np.argsort(order)]
    codes = codes_of(ordered)
    return TrainedNeuralNetwork(
        samples.roles,
        codes,
        no_limit(len(codes)),
        scale.centre,
        scale.factor,
        np.array(widths, np.int32),
        np.concatenate([w.T.ravel() for w in weights]),
        np.concatenate(biases),
        np.array(curve),
    )


def _held_out(samples: TrainingSamples, seed: int) -> npt.NDArray[np.bool_]:
    """Pixels (n,) of a fifth of each class's sites; of a class with one site, none."""
    rng = np.random.default_rng(seed)
    held: list[int] = []
    for code in samples.class_codes:
        found, first = np.unique(samples.sites[samples.codes == code], return_index=True)
        sites = found[np.argsort(first)]  # whatever their numbers are
        if len(sites) > 1:
            n = max(1, round(HELD_OUT * len(sites)))
            held += [int(site) for site in rng.permutation(sites)[:n]]
    return np.isin(samples.sites, held)


def _learn(
    samples: TrainingSamples,
    x: Float64Array,
    held: npt.NDArray[np.bool_],
    settings: NeuralNetworkSettings,
    seed: int,
    watch: Watch,
) -> tuple[tuple[list[Float64Array], list[Float64Array]], list[tuple[float, float]]]:
    """Weights and biases of the best round, and what each round came to."""
    from sklearn.neural_network import MLPClassifier  # slow to import, and only needed to learn

    network = MLPClassifier(
        settings.layers, learning_rate_init=settings.learning_rate, alpha=settings.damping,
        random_state=seed,
    )  # fmt: skip
    curve: list[tuple[float, float]] = []
    best, since, kept = np.inf, 0, None
    for _ in steps(range(settings.epochs), watch):
        network.partial_fit(x[~held], samples.codes[~held], classes=samples.class_codes)
        loss, right = _held_back(network, x[held], samples.codes[held])
        curve.append((float(network.loss_), right))
        watch.found(curve[-1])
        since = since + 1 if loss > best - LEAST_GAIN else 0
        if loss < best:
            best = loss
            kept = [w.copy() for w in network.coefs_], [b.copy() for b in network.intercepts_]
        if settings.patience and held.any() and since >= settings.patience:
            break
    assert kept is not None
    return kept, curve


def _held_back(network: Any, x: Float64Array, codes: CodeArray) -> tuple[float, float]:
    """Of pixels held out: minus the mean logarithm of their class's probability, and the share told
    right, each class counting as much. Without any, the loss on those that teach, and -1."""
    if len(codes) == 0:
        return float(network.loss_), -1.0
    shares = network.predict_proba(x)
    at = np.searchsorted(network.classes_, codes)
    surprise = -np.log(np.maximum(shares[np.arange(len(codes)), at], 1e-15))
    right = shares.argmax(axis=1) == at
    mine = [codes == code for code in np.unique(codes)]
    return (
        float(np.mean([surprise[m].mean() for m in mine])),
        float(np.mean([right[m].mean() for m in mine])),
    )


def restore(roles: tuple[str, ...], arrays: Mapping[str, npt.NDArray[Any]]) -> TrainedNeuralNetwork:
    """Raises BadClassifierError where shapes or numbers do not fit."""
    codes = take_codes(arrays)
    scale = Scale.restored(arrays, len(roles))
    widths = take_indices(arrays, "widths", None, 1, max(MOST_WIDE, len(roles)))
    if not 3 <= len(widths) <= MOST_LAYERS + 2 or (widths[0], widths[-1]) != (
        len(roles), len(codes)
    ):  # fmt: skip
        raise no_classifier()
    n_weights = int((widths[:-1].astype(np.int64) * widths[1:]).sum())
    return TrainedNeuralNetwork(
        roles,
        codes,
        take_numbers(arrays, "lowest", (len(codes),), endless=True),
        scale.centre,
        scale.factor,
        widths,
        take_numbers(arrays, "weights", (n_weights,)),
        take_numbers(arrays, "biases", (int(widths[1:].sum()),)),
        take_numbers(arrays, "curve", (None, 2)),
    )


SPEC = ClassifierSpec(
    id="neural-network",
    version=1,
    title="Neural network",
    good_for="Many training pixels and layers, borders of any shape; less easy to follow.",
    source="Goodfellow, Bengio & Courville 2016, Deep Learning",
    settings=NeuralNetworkSettings,
    scores="probability",
    fit=fit,
    restore=restore,
    draws=True,
    slow=True,
)
