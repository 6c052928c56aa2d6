"""Clusters split in two as long as that is worth it."""

import numpy as np
from pydantic import Field, model_validator

from kitesort.core.cluster.how_good import spherical_criterion
from kitesort.core.cluster.methods._lloyd import settle, starting_centres
from kitesort.core.cluster.protocol import (
    MOST_CLUSTERS,
    ClusteringSettings,
    ClusteringSpec,
    Partition,
)
from kitesort.core.engine import Watch
from kitesort.core.group_statistics import Float64Array
from kitesort.core.settings import Settings

SMALLEST = 20  # pixels that are looked at for two kinds


class SplitSettings(ClusteringSettings):
    fewest: int = Field(
        2, ge=2, le=MOST_CLUSTERS, title="Clusters at least", description="It starts with as many."
    )
    most: int = Field(
        12,
        ge=2,
        le=MOST_CLUSTERS,
        title="Clusters at most",
        description="Of large samples nearly every split is worth it; this ends them.",
    )

    @model_validator(mode="after")
    def _in_order(self) -> "SplitSettings":
        if self.fewest > self.most:
            raise ValueError("the least number of clusters is above the greatest")
        return self


def fit(
    pixels: Float64Array, settings: Settings, seed: int, _known: Float64Array | None, watch: Watch
) -> Partition:
    """K-means, then round by round each cluster in two where that raises the information criterion
    of its pixels, those that gain most first.

    Source: D. Pelleg & A. Moore 2000, X-means, Proceedings of the 17th International Conference on
    Machine Learning, 727-734 (from memory).

    Raises
    ------
    InputError : fewer different pixels than clusters. CancelledError
    """
    assert isinstance(settings, SplitSettings)
    start = starting_centres(pixels, settings.fewest, "spread", seed, None)
    rest = settle(pixels, start, watch=watch.silently())
    rounds = [f"{len(start)} clusters to begin with"]
    while len(rest.centres) < settings.most:
        watch.require_wanted()
        halves = [_halved(pixels[rest.labels == c]) for c in range(len(rest.centres))]
        worth = sorted(
            (c for c, (gain, _) in enumerate(halves) if gain > 0), key=lambda c: -halves[c][0]
        )[: settings.most - len(rest.centres)]
        if not worth:
            rounds.append("no split is worth it any more")
            break
        kept = [c for c in range(len(rest.centres)) if c not in worth]
        centres = np.concatenate([rest.centres[kept], *(halves[c][1] for c in worth)])
        rest = settle(pixels, centres, watch=watch.silently())
        rounds.append(f"{len(worth)} split, {len(centres)} now")
    return Partition(rest.centres, rounds=tuple(rounds))


def _halved(pixels: Float64Array) -> tuple[float, Float64Array]:
    """What two clusters in the place of one gain, and their centres (2, bands): started apart along
    the direction in which the pixels spread most."""
    if len(pixels) < SMALLEST:
        return 0.0, np.empty((0, pixels.shape[1]))
    mean = pixels.mean(axis=0)
    values, vectors = np.linalg.eigh(np.cov(pixels.T).reshape(pixels.shape[1], -1))
    step = vectors[:, -1] * np.sqrt(max(values[-1], 0.0))
    if not step.any():
        return 0.0, np.empty((0, pixels.shape[1]))
    rest = settle(pixels, np.stack([mean - step, mean + step]), iterations=30)
    sizes = np.bincount(rest.labels, minlength=2)
    if sizes.min() < 2:
        return 0.0, rest.centres
    whole = float(((pixels - mean) ** 2).sum())
    n_bands = pixels.shape[1]
    one = spherical_criterion(np.array([len(pixels)]), whole, n_bands)
    two = spherical_criterion(sizes, rest.inertia, n_bands)
    return one - two, rest.centres


SPEC = ClusteringSpec(
    id="information-splits",
    version=1,
    title="Splitting by information criterion",
    good_for="Where nobody knows how many kinds of ground there are.",
    source="Pelleg & Moore 2000",
    settings=SplitSettings,
    fit=fit,
)
