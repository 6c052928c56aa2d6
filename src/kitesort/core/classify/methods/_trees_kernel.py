"""Pixels down trees: votes of a forest, sums of boosted trees.

A value is first replaced by its rank among all thresholds of its band, so that a node fits in 64
bits. Then one tree after another is gone down by a chunk of pixels, eight at once, while it lies in
the nearest cache: each pixel waits for memory on its own, not for the one before.
"""

from dataclasses import dataclass, fields
from typing import Any

import numba
import numpy as np
import numpy.typing as npt
from numba import float32, float64, int32, int64, void

from kitesort.core.classify.methods._trees import Trees
from kitesort.core.kernels import read_only

CHUNK = 8192
LANES = 8
N_BUCKETS = 1024
RANK_BITS = 31
BAND_BITS = 9
BAND_MASK = 2**BAND_BITS - 1
RANK_MASK = 2**RANK_BITS - 1
CHILD_SHIFT = RANK_BITS + BAND_BITS
CHILD_MASK = 2**22 - 1
IS_LEAF = np.int64(-(2**63))
LOOK_EVERY = 8  # trees, between two looks at which pixels are settled
SURE = 1e-9  # a lead that rounding does not take back
FAST = {"cache": True, "nogil": True, "error_model": "numpy", "boundscheck": False}

Int64Array = npt.NDArray[np.int64]


@dataclass(frozen=True)
class PackedTrees:
    """``nodes``: where the left child is (the right one follows it), the band and the rank of the
    threshold in one number, its sign set for a leaf, which leads to itself; ``leaf`` of each node
    its row of values. Of all bands one after another: sorted thresholds, from ``first`` (bands +
    1,); where a value's search begins and ends, by ``buckets`` (bands, N_BUCKETS + 2), ``origin``
    and ``per_unit`` (bands,)."""

    nodes: Int64Array
    leaf: npt.NDArray[np.int32]
    roots: npt.NDArray[np.int32]
    thresholds: npt.NDArray[np.float32]
    first: npt.NDArray[np.int32]
    buckets: npt.NDArray[np.int32]
    origin: npt.NDArray[np.float64]
    per_unit: npt.NDArray[np.float64]

    @property
    def parts(self) -> tuple[npt.NDArray[Any], ...]:
        """All of it, in the order in which the kernels take it."""
        return tuple(getattr(self, f.name) for f in fields(self))


def pack(trees: Trees, n_bands: int) -> PackedTrees:
    """The same trees, siblings side by side."""
    place = _side_by_side(trees)
    inner = trees.feature >= 0
    thresholds, first, rank = [], [0], np.zeros(len(trees.feature), np.int64)
    for band in range(n_bands):
        asked = trees.feature == band
        known, rank_of = np.unique(trees.threshold[asked].astype(np.float32), return_inverse=True)
        rank[asked] = rank_of
        thresholds.append(known)
        first.append(first[-1] + len(known))
    packed = np.empty(len(place), np.int64)
    packed[place] = np.where(
        inner,
        (place[trees.left].astype(np.int64) << CHILD_SHIFT)
        | (np.maximum(trees.feature, 0).astype(np.int64) << RANK_BITS)
        | rank,
        (place.astype(np.int64) << CHILD_SHIFT) | RANK_MASK | IS_LEAF,
    )
    leaf = np.zeros(len(place), np.int32)
    leaf[place] = trees.leaf
    all_thresholds = np.concatenate(thresholds).astype(np.float32)
    starts = np.array(first, np.int32)
    return PackedTrees(
        packed, leaf, place[trees.roots].astype(np.int32), all_thresholds, starts,
        *_make_buckets(all_thresholds, starts),
    )  # fmt: skip


def _side_by_side(trees: Trees) -> Int64Array:
    """New places of all nodes: level by level in each tree, so that siblings are neighbours."""
    place = np.full(len(trees.feature), -1, np.int64)
    next_place = 0
    for root in trees.roots:
        level = np.array([root], np.int64)
        place[root] = next_place
        next_place += 1
        while level.size:
            parents = level[trees.feature[level] >= 0]
            children = np.column_stack([trees.left[parents], trees.right[parents]]).ravel()
            place[children] = next_place + np.arange(len(children))
            next_place += len(children)
            level = children.astype(np.int64)
    return place


def _make_buckets(
    thresholds: npt.NDArray[np.float32], first: npt.NDArray[np.int32]
) -> tuple[npt.NDArray[np.int32], npt.NDArray[np.float64], npt.NDArray[np.float64]]:
    """For each band and each of many equal steps of its thresholds, how many thresholds come
    before."""
    n_bands = len(first) - 1
    buckets = np.zeros((n_bands, N_BUCKETS + 2), np.int32)
    origin, per_unit = np.zeros(n_bands), np.zeros(n_bands)
    for band in range(n_bands):
        known = thresholds[first[band] : first[band + 1]].astype(np.float64)
        if len(known) == 0:
            continue
        width = known[-1] - known[0]
        origin[band] = known[0]
        per_unit[band] = N_BUCKETS / width if width > 0 and np.isfinite(N_BUCKETS / width) else 0
        at = np.clip((known - origin[band]) * per_unit[band], 0, N_BUCKETS).astype(np.int64)
        buckets[band, 1:] = np.searchsorted(at, np.arange(N_BUCKETS + 1), side="right")
    return buckets, origin, per_unit


@numba.njit(**FAST)
def _set_ranks(values, start, m, thresholds, first, buckets, origin, per_unit, ranks):  # type: ignore[no-untyped-def]
    """How many thresholds of its band lie below each of m pixels' values; (pixels, bands)."""
    for b in range(values.shape[0]):
        offset = first[b]
        n = first[b + 1] - offset
        if n == 0:
            continue
        for p in range(m):
            value = values[b, start + p]
            at = (float64(value) - origin[b]) * per_unit[b]
            bucket = int64(min(max(at, 0.0), float64(N_BUCKETS)))
            low, high = buckets[b, bucket], buckets[b, bucket + 1]
            while low < high:
                middle = (low + high) >> 1
                if thresholds[offset + middle] < value:
                    low = middle + 1
                else:
                    high = middle
            ranks[p, b] = low


@numba.njit(inline="always")
def _next(node, ranks, p):  # type: ignore[no-untyped-def]
    rank = ranks[p, (node >> RANK_BITS) & BAND_MASK]
    return ((node >> CHILD_SHIFT) & CHILD_MASK) + (rank > (node & RANK_MASK))


@numba.njit(**FAST)
def _walk(nodes, root, ranks, alive, n_alive, at):  # type: ignore[no-untyped-def]
    """The leaf (node) of each pixel that is alive, in one tree; ``n_alive`` a multiple of 8."""
    for i in range(0, n_alive, LANES):
        p0, p1, p2, p3 = alive[i], alive[i + 1], alive[i + 2], alive[i + 3]
        p4, p5, p6, p7 = alive[i + 4], alive[i + 5], alive[i + 6], alive[i + 7]
        a0 = a1 = a2 = a3 = a4 = a5 = a6 = a7 = int64(root)
        while True:
            n0, n1, n2, n3 = nodes[a0], nodes[a1], nodes[a2], nodes[a3]
            n4, n5, n6, n7 = nodes[a4], nodes[a5], nodes[a6], nodes[a7]
            if (n0 & n1 & n2 & n3 & n4 & n5 & n6 & n7) < 0:
                break
            a0, a1, a2, a3 = (
                _next(n0, ranks, p0), _next(n1, ranks, p1),
                _next(n2, ranks, p2), _next(n3, ranks, p3),
            )  # fmt: skip
            a4, a5, a6, a7 = (
                _next(n4, ranks, p4), _next(n5, ranks, p5),
                _next(n6, ranks, p6), _next(n7, ranks, p7),
            )  # fmt: skip
        at[i], at[i + 1], at[i + 2], at[i + 3] = a0, a1, a2, a3
        at[i + 4], at[i + 5], at[i + 6], at[i + 7] = a4, a5, a6, a7


@numba.njit(**FAST)
def _whole_lanes(alive, n):  # type: ignore[no-untyped-def]
    """Fill up the last eight with the last pixel; how many there are then."""
    last = alive[n - 1]
    while n % LANES:
        alive[n] = last
        n += 1
    return n


@numba.njit(**FAST)
def _settled(votes, alive, n, left):  # type: ignore[no-untyped-def]
    """Keep the pixels whose best class could still change with so many trees left; how many."""
    n_classes = votes.shape[1]
    kept = 0
    for i in range(n):
        p = alive[i]
        best, second = -1.0, -1.0
        for c in range(n_classes):
            value = votes[p, c]
            if value > best:
                best, second = value, best
            elif value > second:
                second = value
        if best - second <= left + SURE:
            alive[kept] = p
            kept += 1
    return kept


_PACKED = (
    read_only(int64, 1), read_only(int32, 1), read_only(int32, 1), read_only(float32, 1),
    read_only(int32, 1), read_only(int32, 2), read_only(float64, 1), read_only(float64, 1),
)  # fmt: skip


@numba.njit(**FAST)
def _pure(shares):  # type: ignore[no-untyped-def]
    """The class of each leaf that has one only, else -1."""
    pure = np.full(shares.shape[0], -1, np.int32)
    for row in range(shares.shape[0]):
        for c in range(shares.shape[1]):
            if shares[row, c] == 1.0:
                pure[row] = c
    return pure


@numba.njit(**FAST)
def _add(n, alive, at, leaf, pure, shares, votes):  # type: ignore[no-untyped-def]
    """One tree's answers to the votes (pixels, classes) of n pixels."""
    for i in range(n):
        row = leaf[at[i]]
        p = alive[i]
        c = pure[row]
        if c >= 0:
            votes[p, c] += 1.0
        else:
            for k in range(shares.shape[1]):
                votes[p, k] += shares[row, k]


@numba.njit(void(read_only(float32, 2), *_PACKED, read_only(float64, 2), numba.boolean,
                 float64[:, ::1]), **FAST)  # fmt: skip
def sum_leaves(  # type: ignore[no-untyped-def]
    values, nodes, leaf, roots, thresholds, first, buckets, origin, per_unit, shares, enough, out
):
    """Sums (classes, n) over all trees of the values (leaves, classes) of each pixel's leaf, in the
    order of the trees. ``enough``: no more trees for a pixel once its best class is sure."""
    n_bands, n = values.shape
    n_classes = shares.shape[1]
    n_trees = roots.size
    pure = _pure(shares)
    ranks = np.zeros((CHUNK, n_bands), np.int32)
    votes = np.empty((CHUNK, n_classes), np.float64)
    alive = np.empty(CHUNK + LANES, np.int64)
    at = np.empty(CHUNK + LANES, np.int64)
    for start in range(0, n, CHUNK):
        m = min(CHUNK, n - start)
        _set_ranks(values, start, m, thresholds, first, buckets, origin, per_unit, ranks)
        votes[:] = 0.0
        n_alive = m
        for p in range(m):
            alive[p] = p
        for t in range(n_trees):
            if n_alive == 0:
                break
            _walk(nodes, roots[t], ranks, alive, _whole_lanes(alive, n_alive), at)
            _add(n_alive, alive, at, leaf, pure, shares, votes)
            left = n_trees - t - 1
            if enough and left % LOOK_EVERY == 0 and left < n_trees // 2 + LOOK_EVERY:
                n_alive = _settled(votes, alive, n_alive, left)
        for c in range(n_classes):
            for p in range(m):
                out[c, start + p] = votes[p, c]


@numba.njit(void(read_only(float32, 2), *_PACKED, read_only(float64, 1), read_only(float64, 1),
                 float64[:, ::1]), **FAST)  # fmt: skip
def sum_boosted(  # type: ignore[no-untyped-def]
    values, nodes, leaf, roots, thresholds, first, buckets, origin, per_unit, gains, start_at, out
):
    """Sums (classes, n), from ``start_at`` (classes,), of the gains (leaves,) of trees that speak
    for one class each, in turn."""
    n_bands, n = values.shape
    n_classes = start_at.size
    ranks = np.zeros((CHUNK, n_bands), np.int32)
    alive = np.empty(CHUNK + LANES, np.int64)
    at = np.empty(CHUNK + LANES, np.int64)
    for start in range(0, n, CHUNK):
        m = min(CHUNK, n - start)
        _set_ranks(values, start, m, thresholds, first, buckets, origin, per_unit, ranks)
        for p in range(m):
            alive[p] = p
        n_alive = _whole_lanes(alive, m)
        for c in range(n_classes):
            for p in range(m):
                out[c, start + p] = start_at[c]
        for t in range(roots.size):
            _walk(nodes, roots[t], ranks, alive, n_alive, at)
            c = t % n_classes
            for p in range(m):
                out[c, start + p] += gains[leaf[at[p]]]
