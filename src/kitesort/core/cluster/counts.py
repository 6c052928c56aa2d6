"""How many clusters: a range of numbers tried on one sample, and which of them is suggested."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy.special import logsumexp
from scipy.stats import multivariate_normal

from kitesort.core.cluster.groups import scale_of
from kitesort.core.cluster.how_good import spherical_criterion, variance_ratio
from kitesort.core.cluster.methods._assign_kernel import assign
from kitesort.core.cluster.protocol import ClusteringSpec, CountedSettings, Partition
from kitesort.core.cluster.sample import ClusterSample, require_enough
from kitesort.core.engine import UNWATCHED, Watch, steps
from kitesort.core.errors import InputError
from kitesort.core.group_statistics import Float64Array


@dataclass(frozen=True)
class CountTried:
    """Variance ratio (not-a-number where it has none), the share of the variance that clusters
    explain, and the information criterion, of which less is better."""

    n_clusters: int
    ratio: float
    explained: float
    criterion: float


def try_counts(
    sample: ClusterSample,
    spec: ClusteringSpec,
    settings: CountedSettings,
    seed: int,
    counts: Sequence[int],
    *,
    mixed_units: bool = False,
    watch: Watch = UNWATCHED,
) -> Iterable[CountTried]:
    """One after the other, as they are done.

    Raises
    ------
    InputError : fewer different pixels than clusters. TooFewPixelsError, CancelledError
    """
    require_enough(sample.n)
    pixels = scale_of(sample, settings, mixed_units)(sample.values)
    total = float(((pixels - pixels.mean(axis=0)) ** 2).sum())
    for k in steps(list(counts), watch):
        wanted = settings.model_copy(update={"n_clusters": k})
        found = spec.fit(pixels, wanted, seed, None, watch.silently())
        yield _judge(pixels, found, total)


def _judge(pixels: Float64Array, found: Partition, total: float) -> CountTried:
    n, n_bands = pixels.shape
    if found.covariances is None or found.weights is None:
        labels, _ = assign(pixels, found.centres, found.distance)
        likelihoods = None
    else:
        likelihoods = _log_densities(pixels, found)
        labels = likelihoods.argmax(axis=0)
    k = len(found.centres)
    sizes = np.bincount(labels, minlength=k)
    within = _within(pixels, labels, sizes)
    filled = int((sizes > 0).sum())
    if likelihoods is None:
        criterion = spherical_criterion(sizes, within, n_bands)
    else:
        free = found.n_free + k * n_bands + k - 1
        criterion = float(-2 * logsumexp(likelihoods, axis=0).sum() + free * np.log(n))
    ratio = variance_ratio(n, filled, total - within, within)
    return CountTried(k, ratio, 1 - within / total if total else 1.0, criterion)


def _within(pixels: Float64Array, labels: np.ndarray, sizes: np.ndarray) -> float:
    """Sum of squared distances to the clusters' means."""
    means = np.stack(
        [np.bincount(labels, band, minlength=len(sizes)) for band in pixels.T], axis=1
    ) / np.maximum(sizes, 1)[:, None]  # fmt: skip
    return float(((pixels - means[labels]) ** 2).sum())


def _log_densities(pixels: Float64Array, found: Partition) -> Float64Array:
    """Of each cluster (clusters, n), weight included."""
    assert found.covariances is not None and found.weights is not None
    rows = [
        np.log(weight) + multivariate_normal(mean, covariance).logpdf(pixels)
        for weight, mean, covariance in zip(
            found.weights, found.centres, found.covariances, strict=True
        )
    ]
    return np.stack(rows)


@dataclass(frozen=True)
class Suggestion:
    n_clusters: int
    reason: str


def suggest(tried: Sequence[CountTried], by: Literal["ratio", "criterion"]) -> Suggestion | None:
    """The number with the greatest variance ratio, or of a mixture that with the least criterion;
    with what else is to be known of it. None while fewer than two are known."""
    known = [one for one in tried if np.isfinite(one.ratio)]
    if len(known) < 2:
        return None
    if by == "criterion":
        best = min(known, key=lambda one: one.criterion)
        why = f"The information criterion is least at {best.n_clusters}"
    else:
        best = max(known, key=lambda one: one.ratio)
        why = f"The variance ratio is greatest at {best.n_clusters}"
    ends = known[0].n_clusters, known[-1].n_clusters
    told = f"{why}, where clusters explain {100 * best.explained:.0f} % of the variance"
    if best.n_clusters in ends:
        side = "fewer" if best.n_clusters == ends[0] else "more"
        told += f"; it is the end of what was tried, so that {side} may be better still"
    return Suggestion(best.n_clusters, f"{told}.")


def counts_between(fewest: int, most: int) -> tuple[int, ...]:
    """Raises InputError : the wrong way round."""
    if fewest >= most:
        raise InputError(
            f"The range runs from {fewest} to {most}: the first number must be below the second."
        )
    return tuple(range(fewest, most + 1))
