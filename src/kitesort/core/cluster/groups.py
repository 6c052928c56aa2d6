"""Clusters as a classifier whose classes were found, not taught: all that classifiers can do, they
can."""

import colorsys
from dataclasses import dataclass

import numpy as np

from kitesort.core.classify.methods._quadratic import LikelihoodSettings, likelihood_model
from kitesort.core.classify.methods.maximum_likelihood import SPEC as MAXIMUM_LIKELIHOOD
from kitesort.core.classify.methods.minimum_distance import SPEC as MINIMUM_DISTANCE
from kitesort.core.classify.methods.minimum_distance import TrainedMinimumDistance
from kitesort.core.classify.protocol import TrainedClassifier
from kitesort.core.classify.scale import Scale
from kitesort.core.cluster.methods._assign_kernel import Labels
from kitesort.core.cluster.protocol import ClusteringSettings, ClusteringSpec, Partition
from kitesort.core.cluster.sample import ClusterSample, require_enough
from kitesort.core.engine import UNWATCHED, Watch
from kitesort.core.errors import InputError
from kitesort.core.group_statistics import ClassStatistics, Float64Array, compute_statistics
from kitesort.core.legend import code_array
from kitesort.core.raster.protocol import Raster, band_positions
from kitesort.core.training.samples import TrainingSamples

GOLDEN = 0.618_033_988_75
# The methods of classifying that tell pixels by what was found.
BY_CENTRE, BY_DENSITY = MINIMUM_DISTANCE.id, MAXIMUM_LIKELIHOOD.id


@dataclass(frozen=True)
class Groups:
    """``model``, of the classifying ``method``, gives codes 1, 2, …, the largest cluster first;
    ``labels`` (n,) are the codes of
    the sample's pixels; ``means`` (clusters, bands) and ``spreads`` in the bands' own units."""

    model: TrainedClassifier
    labels: Labels
    means: Float64Array
    spreads: Float64Array
    rounds: tuple[str, ...]
    method: str

    @property
    def sizes(self) -> Labels:
        return np.bincount(self.labels, minlength=len(self.means) + 1)[1:]


def find_groups(
    sample: ClusterSample,
    spec: ClusteringSpec,
    settings: ClusteringSettings,
    seed: int,
    *,
    mixed_units: bool = False,
    known: Float64Array | None = None,
    watch: Watch = UNWATCHED,
) -> Groups:
    """Clusters of a sample. ``mixed_units``: its layers have different ones; ``known`` (classes,
    bands): means of known classes, in the layers' units.

    Raises
    ------
    TooFewPixelsError. InputError : a layer does not vary, or what the method says. CancelledError
    """
    require_enough(sample.n)
    _require_varied(sample)
    scale = scale_of(sample, settings, mixed_units)
    pixels = scale(sample.values)
    start = None if known is None else scale(known)
    found = spec.fit(pixels, settings, seed, start, watch)
    model = _model_of(sample, scale, found)
    labels = model.classify(np.ascontiguousarray(sample.values.T)).astype(np.int64)
    filled = np.flatnonzero(np.bincount(labels)[1:]) + 1
    return _in_order(sample, scale, found, filled - 1, labels)


def _in_order(
    sample: ClusterSample, scale: Scale, found: Partition, filled: Labels, labels: Labels
) -> Groups:
    """The largest first; of equal ones the one with the smaller mean. A centre that no pixel is
    nearest to is no cluster."""
    sizes = np.bincount(labels)[filled + 1]
    keys = (*found.centres[filled].T[::-1], -sizes)
    order = filled[np.lexsort(keys)]
    model = _model_of(sample, scale, _part_of(found, order))
    again = model.classify(np.ascontiguousarray(sample.values.T)).astype(np.int64)
    parts = [_statistics(sample, again == code) for code in range(1, len(order) + 1)]
    return Groups(
        model,
        again,
        np.stack([mean for mean, _ in parts]),
        np.stack([spread for _, spread in parts]),
        found.rounds,
        BY_CENTRE if found.covariances is None else BY_DENSITY,
    )


def _statistics(sample: ClusterSample, here: np.ndarray) -> tuple[Float64Array, Float64Array]:
    s = compute_statistics(sample.values[here])
    return s.mean, s.standard_deviation


def _part_of(found: Partition, order: Labels) -> Partition:
    return Partition(
        found.centres[order],
        None if found.covariances is None else found.covariances[order],
        None if found.weights is None else found.weights[order],
        found.n_free,
        found.rounds,
        found.distance,
    )


def _model_of(sample: ClusterSample, scale: Scale, found: Partition) -> TrainedClassifier:
    """By the nearest centre, or by density where clusters have one."""
    codes = code_array(range(1, len(found.centres) + 1))
    if found.covariances is None or found.weights is None:
        return TrainedMinimumDistance(
            sample.roles, codes, np.full(len(codes), -np.inf), scale.centre, scale.factor,
            np.ascontiguousarray(found.centres),
            np.array([found.distance == "manhattan"], np.int32),
        )  # fmt: skip
    means = found.centres / scale.factor + scale.centre
    covariances = found.covariances / np.outer(scale.factor, scale.factor)
    n = np.maximum(np.round(found.weights * 1e9), 1).astype(int)
    statistics = {
        int(code): ClassStatistics(int(n[i]), means[i], covariances[i], means[i], means[i])
        for i, code in enumerate(codes)
    }
    pixels = TrainingSamples.of_pixels(
        sample.values, np.ones(sample.n, np.uint16), sample.roles, {}
    )
    settings = LikelihoodSettings(priors="pixels")
    return likelihood_model(pixels, statistics, list(covariances), settings)


def scale_of(sample: ClusterSample, settings: ClusteringSettings, mixed_units: bool) -> Scale:
    wanted = settings.standardise == "always" or (settings.standardise == "mixed" and mixed_units)
    pixels = TrainingSamples.of_pixels(
        sample.values, np.ones(sample.n, np.uint16), sample.roles, {}
    )
    return Scale.of(pixels, wanted)


def has_mixed_units(raster: Raster, roles: tuple[str, ...]) -> bool:
    """Whether layers differ in what they measure."""
    found = {raster.bands[p].quantity for p in band_positions(raster.bands, roles)}
    return len(found) > 1


def _require_varied(sample: ClusterSample) -> None:
    low, high = sample.values.min(axis=0), sample.values.max(axis=0)
    flat = [role for role, same in zip(sample.roles, low == high, strict=True) if same]
    if flat:
        raise InputError(
            f"All pixels have the same value in {', '.join(flat)}: nothing can be told by it. "
            "Leave it out."
        )


def cluster_colours(n: int) -> list[str]:
    """Colours (#rrggbb) for so many clusters: hues as far apart as may be whatever their number,
    in turns light and dark."""
    found = []
    for i in range(n):
        lightness, strength = ((0.62, 0.55), (0.38, 0.60), (0.76, 0.45))[i % 3]
        rgb = colorsys.hls_to_rgb((0.58 + i * GOLDEN) % 1, lightness, strength)
        found.append("#" + "".join(f"{round(255 * c):02x}" for c in rgb))
    return found
