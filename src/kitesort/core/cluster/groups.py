"""Clusters as a classifier whose classes were found, not taught: all that classifiers can do, they
can."""

import colorsys
from dataclasses import dataclass
from functools import partial

import numpy as np

from kitesort.core.classify.methods._quadratic import LikelihoodSettings, likelihood_model
from kitesort.core.classify.methods.maximum_likelihood import SPEC as MAXIMUM_LIKELIHOOD
from kitesort.core.classify.methods.minimum_distance import SPEC as MINIMUM_DISTANCE
from kitesort.core.classify.protocol import TrainedClassifier
from kitesort.core.classify.scale import Scale
from kitesort.core.cluster.every import EveryPixel, move_on
from kitesort.core.cluster.methods._assign_kernel import Labels
from kitesort.core.cluster.nearest import nearest_model
from kitesort.core.cluster.protocol import ClusteringSettings, ClusteringSpec, Partition
from kitesort.core.cluster.sample import ClusterSample, require_enough
from kitesort.core.engine import UNWATCHED, Watch
from kitesort.core.errors import InputError
from kitesort.core.group_statistics import ClassStatistics, Float64Array, compute_statistics
from kitesort.core.raster.protocol import BoolArray, Raster, band_positions
from kitesort.core.training.samples import TrainingSamples

GOLDEN = 0.618_033_988_75
SAMPLE_SHARE = 0.1  # of the progress, where every pixel is looked at after the sample
# The methods of classifying that tell pixels by what was found.
BY_CENTRE, BY_DENSITY = MINIMUM_DISTANCE.id, MAXIMUM_LIKELIHOOD.id


@dataclass(frozen=True)
class Groups:
    """``model``, of the classifying ``method``, gives codes 1, 2, …, the largest cluster first;
    ``labels`` (n,) are the codes of the sample's pixels; ``means`` (clusters, bands) and
    ``spreads`` in the bands' own units, of the sample; ``sizes`` (clusters,): pixels of each, of
    the sample, or of the whole scene where every pixel was looked at."""

    model: TrainedClassifier
    labels: Labels
    means: Float64Array
    spreads: Float64Array
    rounds: tuple[str, ...]
    method: str
    sizes: Labels


def find_groups(
    sample: ClusterSample,
    spec: ClusteringSpec,
    settings: ClusteringSettings,
    seed: int,
    *,
    mixed_units: bool = False,
    known: Float64Array | None = None,
    scene: Raster | None = None,
    watch: Watch = UNWATCHED,
) -> Groups:
    """Clusters of a sample. ``mixed_units``: its layers have different ones; ``known`` (classes,
    bands): means of known classes, in the layers' units; ``scene``: all of whose pixels are looked
    at in the end where the settings say so.

    Raises
    ------
    TooFewPixelsError. InputError : a layer does not vary, or what the method says. CancelledError
    """
    require_enough(sample.n)
    _require_varied(sample)
    scale = scale_of(sample, settings, mixed_units)
    pixels = scale(sample.values)
    start = None if known is None else scale(known)
    if scene is None or spec.go_on is None or not settings.looks_at_every:
        found = spec.fit(pixels, settings, seed, start, watch)
    else:
        found = spec.fit(pixels, settings, seed, start, watch.first(SAMPLE_SHARE))
        largest = float(np.abs(pixels).max())
        every = EveryPixel(scene, sample.roles, settings.zero_is_fill, scale, largest)
        rest = watch.rest(SAMPLE_SHARE)
        found = spec.go_on(found, settings, partial(move_on, every, watch=rest))
    return _in_order(sample, scale, found, _sizes_of(sample, scale, found))


def _sizes_of(sample: ClusterSample, scale: Scale, found: Partition) -> Labels:
    """Pixels of each centre, of all that were looked at."""
    if found.sizes is not None:
        return found.sizes
    labels = _model_of(sample, scale, found).classify(np.ascontiguousarray(sample.values.T))
    return np.bincount(labels, minlength=len(found.centres) + 1)[1:]


def _in_order(sample: ClusterSample, scale: Scale, found: Partition, sizes: Labels) -> Groups:
    """The largest first; of equal ones the one with the smaller mean. A centre that no pixel is
    nearest to is no cluster."""
    filled = np.flatnonzero(sizes)
    keys = (*found.centres[filled].T[::-1], -sizes[filled])
    order = filled[np.lexsort(keys)]
    model = _model_of(sample, scale, _part_of(found, order))
    labels = model.classify(np.ascontiguousarray(sample.values.T)).astype(np.int64)
    own = found.centres[order] / scale.factor + scale.centre
    parts = [_statistics(sample, labels == i + 1, own[i]) for i in range(len(order))]
    return Groups(
        model,
        labels,
        np.stack([mean for mean, _ in parts]),
        np.stack([spread for _, spread in parts]),
        found.rounds,
        BY_CENTRE if found.covariances is None else BY_DENSITY,
        sizes[order],
    )


def _statistics(
    sample: ClusterSample, here: BoolArray, centre: Float64Array
) -> tuple[Float64Array, Float64Array]:
    """Mean and spread of some of the sample; a cluster that has pixels elsewhere only is told by
    its centre."""
    if not here.any():
        return centre, np.zeros_like(centre)
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
    if found.covariances is None or found.weights is None:
        return nearest_model(sample.roles, scale, found.centres, found.distance)
    means = found.centres / scale.factor + scale.centre
    covariances = found.covariances / np.outer(scale.factor, scale.factor)
    n = np.maximum(np.round(found.weights * 1e9), 1).astype(int)
    statistics = {
        i + 1: ClassStatistics(int(n[i]), means[i], covariances[i], means[i], means[i])
        for i in range(len(means))
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
