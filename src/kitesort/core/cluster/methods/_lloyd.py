"""Centres that move to the middle of the pixels that are nearest to them, until they rest."""

from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from kitesort.core.cluster.methods._assign_kernel import Labels, assign
from kitesort.core.cluster.protocol import Distance
from kitesort.core.engine import UNWATCHED, Progress, Watch
from kitesort.core.errors import InputError
from kitesort.core.group_statistics import Float64Array

Start = Literal["spread", "random", "classes"]
LEAST_KNOWN = 2
TRIES = 4


@dataclass(frozen=True)
class Rest:
    """Centres (clusters, bands), the number of each pixel's (n,), the sum of distances (squared
    where they are Euclidean), and how many rounds it took; ``settled``: nothing moved any more."""

    centres: Float64Array
    labels: Labels
    inertia: float
    rounds: int
    settled: bool


def settle(
    pixels: Float64Array,
    centres: Float64Array,
    *,
    distance: Distance = "euclidean",
    iterations: int = 100,
    least_change: float = 0.0,
    watch: Watch = UNWATCHED,
) -> Rest:
    """Lloyd's rounds from given centres: at most so many, or until at most the share
    ``least_change`` of the pixels changes its cluster. A centre is the mean of its pixels; with
    Manhattan distances their median, band by band, which is what makes their sum least. A centre
    that loses all pixels starts anew at the pixel that is furthest from its own.

    Source: S. P. Lloyd 1982, IEEE Transactions on Information Theory 28:129-137.

    Raises
    ------
    CancelledError
    """
    labels, away = assign(pixels, centres, distance)
    for done in range(1, iterations + 1):
        watch.require_wanted()
        centres = middles(pixels, labels, away, len(centres), distance)
        before = labels
        labels, away = assign(pixels, centres, distance)
        watch.progress(Progress(done / iterations, None))
        if np.mean(labels != before) <= least_change:
            return Rest(centres, labels, float(away.sum()), done, True)
    return Rest(centres, labels, float(away.sum()), iterations, False)


def settle_best(
    pixels: Float64Array,
    k: int,
    start: Start,
    seed: int,
    known: Float64Array | None = None,
    **how: Any,
) -> Rest:
    """From a start that is drawn, the best of several: the one with the least sum of distances.

    Raises
    ------
    InputError, CancelledError
    """
    tries = TRIES if start == "random" else 1
    starts = (starting_centres(pixels, k, start, seed + i, known) for i in range(tries))
    return min((settle(pixels, one, **how) for one in starts), key=lambda rest: rest.inertia)


def middles(
    pixels: Float64Array,
    labels: Labels,
    away: Float64Array,
    k: int,
    distance: Distance = "euclidean",
) -> Float64Array:
    """Mean or median (clusters, bands) of each cluster's pixels."""
    counts = np.bincount(labels, minlength=k)
    if distance == "manhattan":
        order = np.argsort(labels, kind="stable")
        parts = np.split(pixels[order], np.cumsum(counts)[:-1])
        found = np.stack([np.median(part, axis=0) if len(part) else part.sum(0) for part in parts])
    else:
        sums = [np.bincount(labels, band, minlength=k) for band in pixels.T]
        found = np.stack(sums, axis=1) / np.maximum(counts, 1)[:, None]
    empty = np.flatnonzero(counts == 0)
    if len(empty):
        furthest = np.argsort(-away, kind="stable")[: len(empty)]
        found[empty] = pixels[furthest]
    return np.asarray(found)


def starting_centres(
    pixels: Float64Array, k: int, start: Start, seed: int, known: Float64Array | None
) -> Float64Array:
    """Where k centres (k, bands) start: ``spread`` evenly from one standard deviation below the
    mean to one above it in every band at once; at ``random``, pixels that are drawn the more likely
    the further they are from those drawn before (D. Arthur & S. Vassilvitskii 2007, k-means++);
    the means of known ``classes``, filled up in that manner where there are too few.

    Raises
    ------
    InputError : no class is known.
    """
    require_different(pixels, k)
    if start == "spread":
        along = np.linspace(-1, 1, k)[:, None]
        return np.asarray(pixels.mean(axis=0) + along * pixels.std(axis=0))
    if start == "random":
        return _drawn(pixels, k, seed, None)
    if known is None or len(known) < LEAST_KNOWN:
        raise InputError(
            "To start from classes, two of them need training sites on usable pixels. Draw some, "
            "or start otherwise."
        )
    return known[:k] if len(known) >= k else _drawn(pixels, k, seed, known)


def _drawn(pixels: Float64Array, k: int, seed: int, known: Float64Array | None) -> Float64Array:
    rng = np.random.default_rng(seed)
    if known is None:
        known = pixels[[int(rng.integers(len(pixels)))]]
    centres = list(known)
    away = assign(pixels, known)[1]
    while len(centres) < k:
        sums = np.cumsum(away)
        place = int(np.searchsorted(sums, rng.random() * sums[-1], side="right"))
        centres.append(pixels[min(place, len(pixels) - 1)])
        away = np.minimum(away, assign(pixels, centres[-1][None])[1])
    return np.stack(centres)


def require_different(pixels: Float64Array, k: int) -> None:
    """Raises InputError : fewer different pixels than clusters."""
    n = min(len(pixels), 50 * k)
    if len(np.unique(pixels[:n], axis=0)) >= k:
        return
    n_different = len(np.unique(pixels, axis=0))
    if n_different < k:
        raise InputError(
            f"There are only {n_different} different pixels, so that {k} clusters cannot be told "
            "apart. Ask for fewer, or choose layers that vary."
        )
