"""ISODATA."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from pydantic import Field
from scipy.spatial.distance import pdist, squareform

from kitesort.core.cluster.methods._assign_kernel import Labels, assign
from kitesort.core.cluster.methods._lloyd import middles, starting_centres
from kitesort.core.cluster.protocol import (
    MOST_CLUSTERS,
    SCALES,
    ClusteringSpec,
    CountedSettings,
    Partition,
)
from kitesort.core.engine import Progress, Watch
from kitesort.core.errors import InputError
from kitesort.core.group_statistics import Float64Array
from kitesort.core.settings import Settings

STEP = 0.5  # of its standard deviation that the halves of a cluster start from its centre
ON_SCALE = "in standard deviations where layers are brought to one scale, else in their own units"


class IsodataSettings(CountedSettings):
    standardise: Literal["mixed", "always", "never"] = Field(
        "always",
        title="Layers on one scale",
        description="Each layer less its mean, over its standard deviation. The limits below are "
        "on that scale.",
        json_schema_extra=SCALES,
    )
    n_clusters: int = Field(
        8,
        ge=2,
        le=MOST_CLUSTERS,
        title="Clusters wanted",
        description="It ends with half as many to twice as many.",
    )
    largest_spread: float = Field(
        0.5,
        gt=0,
        le=1e9,
        title="Largest spread",
        description=f"A cluster with a larger standard deviation in a layer is split; {ON_SCALE}.",
        json_schema_extra={"step": 0.05},
    )
    least_distance: float = Field(
        0.5,
        ge=0,
        le=1e9,
        title="Least distance",
        description=f"Two clusters whose centres are nearer are merged; {ON_SCALE}.",
        json_schema_extra={"step": 0.05},
    )
    least_share: float = Field(
        0.005,
        ge=0,
        le=0.4,
        title="Least size",
        description="Share of the pixels; smaller clusters are dropped.",
        json_schema_extra={"step": 0.001},
    )
    iterations: int = Field(
        20, ge=1, le=200, title="Rounds at most", description="Of splitting and merging in turn."
    )
    most_merged: int = Field(
        2, ge=0, le=20, title="Pairs merged at most", description="In one round, the nearest first."
    )


@dataclass(frozen=True)
class _State:
    """Centres (clusters, bands), the number of each pixel's (n,), how far it is (n,)."""

    centres: Float64Array
    labels: Labels
    away: Float64Array

    @property
    def sizes(self) -> Labels:
        return np.bincount(self.labels, minlength=len(self.centres))


def fit(
    pixels: Float64Array, settings: Settings, seed: int, _known: Float64Array | None, watch: Watch
) -> Partition:
    """Every round drops small clusters, moves the centres, then splits or merges.

    Source: G. H. Ball & D. J. Hall 1965, ISODATA, Stanford Research Institute; steps and rules as
    in J. T. Tou & R. C. Gonzalez 1974, Pattern Recognition Principles, section 3.3.3 (from memory).

    Raises
    ------
    InputError : fewer different pixels than clusters, or every cluster is too small. CancelledError
    """
    assert isinstance(settings, IsodataSettings)
    centres = starting_centres(pixels, settings.n_clusters, "spread", seed, None)
    said: list[str] = []
    for turn in range(1, settings.iterations + 1):
        watch.require_wanted()
        centres, words, rests = _round(pixels, centres, settings, turn)
        said.append(f"round {turn}: {words}, {len(centres)} clusters")
        watch.progress(Progress(turn / settings.iterations, None))
        if rests:
            break
    return Partition(centres, rounds=tuple(said))


def _round(
    pixels: Float64Array, centres: Float64Array, settings: IsodataSettings, turn: int
) -> tuple[Float64Array, str, bool]:
    """The centres after a round, what was done in words, and whether nothing moved."""
    state, n_dropped = _without_small(pixels, centres, settings.least_share)
    moved = middles(pixels, state.labels, state.away, len(state.centres))
    k, wanted = len(moved), settings.n_clusters
    last = turn == settings.iterations
    may_split = not last and (2 * k <= wanted or (turn % 2 == 1 and k < 2 * wanted))
    n_split, result = 0, moved
    if may_split:
        result, n_split = _split(pixels, state, moved, settings)
    n_merged = 0
    if not last and n_split == 0:
        result, n_merged = _merge(moved, state.sizes, settings)
    words = _words(n_dropped, n_split, n_merged)
    still = n_dropped + n_split + n_merged == 0 and np.allclose(moved, centres, rtol=0, atol=1e-9)
    return result, words, still


def _words(n_dropped: int, n_split: int, n_merged: int) -> str:
    done = [
        f"{n} {word}"
        for n, word in (
            (n_dropped, "dropped"), (n_split, "split"),
            (n_merged, "pair merged" if n_merged == 1 else "pairs merged"),
        )
        if n
    ]  # fmt: skip
    return ", ".join(done) or "centres moved"


def _without_small(pixels: Float64Array, centres: Float64Array, share: float) -> tuple[_State, int]:
    """Clusters with too few pixels are dropped, and their pixels go to the nearest others."""
    state = _State(centres, *assign(pixels, centres))
    large = (state.sizes >= max(share * len(pixels), 1)).nonzero()[0]
    if len(large) == 0:
        raise InputError(
            "Every cluster has fewer pixels than the least size. Make that smaller, or ask for "
            "fewer clusters."
        )
    if len(large) == len(centres):
        return state, 0
    kept = centres[large]
    return _State(kept, *assign(pixels, kept)), len(centres) - len(large)


def _split(
    pixels: Float64Array, state: _State, centres: Float64Array, settings: IsodataSettings
) -> tuple[Float64Array, int]:
    """Clusters that spread too far in a layer become two along it: those that are wider than the
    mean cluster and large enough, or any while there are too few."""
    k, sizes = len(centres), state.sizes
    away = np.linalg.norm(pixels - centres[state.labels], axis=1)
    mean_away = np.bincount(state.labels, away, minlength=k) / np.maximum(sizes, 1)
    squares = [np.bincount(state.labels, band**2, minlength=k) for band in
               (pixels - centres[state.labels]).T]  # fmt: skip
    spread = np.sqrt(np.stack(squares, axis=1) / np.maximum(sizes, 1)[:, None])
    widest = spread.argmax(axis=1)
    least = settings.least_share * len(pixels)
    few = 2 * k <= settings.n_clusters
    made: list[Float64Array] = []
    n_split = 0
    for c, centre in enumerate(centres):
        too_wide = spread[c, widest[c]] > settings.largest_spread
        worth = mean_away[c] > away.mean() and sizes[c] > 2 * (least + 1)
        if too_wide and (worth or few) and k + n_split < MOST_CLUSTERS:
            step = np.zeros_like(centre)
            step[widest[c]] = STEP * spread[c, widest[c]]
            made += [centre + step, centre - step]
            n_split += 1
        else:
            made.append(centre)
    return np.stack(made), n_split


def _merge(
    centres: Float64Array, sizes: Labels, settings: IsodataSettings
) -> tuple[Float64Array, int]:
    """The nearest pairs that are too near become one at their common mean, each cluster once."""
    if len(centres) <= 2:
        return centres, 0
    apart = squareform(pdist(centres))
    first, second = np.triu_indices(len(centres), 1)
    order = np.argsort(apart[first, second], kind="stable")
    merged: list[Float64Array] = []
    gone: set[int] = set()
    for i, j in zip(first[order], second[order], strict=True):
        if apart[i, j] >= settings.least_distance or len(merged) == settings.most_merged:
            break
        if i in gone or j in gone or len(centres) - len(merged) <= 2:
            continue
        weights = sizes[[i, j]]
        merged.append(weights @ centres[[i, j]] / max(weights.sum(), 1))
        gone |= {int(i), int(j)}
    kept = [centre for c, centre in enumerate(centres) if c not in gone]
    return np.stack([*kept, *merged]), len(merged)


SPEC = ClusteringSpec(
    id="isodata",
    version=1,
    title="ISODATA",
    good_for="A number that is not known well: clusters are split, merged and dropped on the way.",
    source="Ball & Hall 1965; Tou & Gonzalez 1974",
    settings=IsodataSettings,
    fit=fit,
)
