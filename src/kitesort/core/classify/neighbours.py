"""Nearest neighbours by a tree of boxes (k-d tree), pixel by pixel."""

from dataclasses import dataclass

import numba
import numpy as np
import numpy.typing as npt
from numba import float32, float64, int32, int64, void

from kitesort.core.kernels import read_only

LEAF = 12  # points that are compared one by one
DEEPEST = 64
NEARLY = 1 - 1e-9  # a bound is put together with rounding, and must leave nothing out


@dataclass(frozen=True)
class PointTree:
    """``points`` (n, bands) in the order of the leaves and ``number`` (n,), what they were called;
    per node its axis (-1: a leaf), where it is cut, and the first and last point beneath; children
    of node i are 2i + 1 and 2i + 2."""

    points: npt.NDArray[np.float64]
    number: npt.NDArray[np.int32]
    axis: npt.NDArray[np.int32]
    cut: npt.NDArray[np.float64]
    first: npt.NDArray[np.int32]
    last: npt.NDArray[np.int32]


def make_tree(points: npt.NDArray[np.float64]) -> PointTree:
    """Halved at the median of the widest axis until few points are left; of equal points the first
    come first, so that the same points make the same tree."""
    n = len(points)
    depth = max(0, int(np.ceil(np.log2(max(n, 1) / LEAF)))) if n > LEAF else 0
    n_nodes = 2 ** (depth + 1) - 1
    axis, cut = np.full(n_nodes, -1, np.int32), np.zeros(n_nodes)
    first, last = np.zeros(n_nodes, np.int32), np.zeros(n_nodes, np.int32)
    order = np.arange(n)
    first[0], last[0] = 0, n
    for node in range(2**depth - 1):
        a, b = int(first[node]), int(last[node])
        mine = points[order[a:b]]
        wide = int(np.ptp(mine, axis=0).argmax())
        order[a:b] = order[a:b][np.argsort(mine[:, wide], kind="stable")]
        middle = (a + b) // 2
        axis[node], cut[node] = wide, points[order[middle], wide]
        first[2 * node + 1], last[2 * node + 1] = a, middle
        first[2 * node + 2], last[2 * node + 2] = middle, b
    return PointTree(
        np.ascontiguousarray(points[order]), order.astype(np.int32), axis, cut, first, last
    )


FAST = {"cache": True, "nogil": True, "error_model": "numpy"}


@numba.njit(**FAST)
def _before(d, number, other_d, other_number):  # type: ignore[no-untyped-def]
    """Whether a point is nearer than another, or as far with a lower number."""
    return d < other_d or (d == other_d and number < other_number)


@numba.njit(**FAST)
def _compare(x, points, number, label, first, last, found, away, which, place):  # type: ignore[no-untyped-def]
    """Take the points of a leaf in among the nearest; how many are found then.

    ``away``, ``which``, ``place`` (k,): squared distance, number and class of the nearest so far,
    the nearest first.
    """
    k = away.size
    for i in range(first, last):
        d = 0.0
        for b in range(x.size):
            step = x[b] - points[i, b]
            d += step * step
        if found == k and not _before(d, number[i], away[k - 1], which[k - 1]):
            continue
        at = found if found < k else k - 1
        while at > 0 and _before(d, number[i], away[at - 1], which[at - 1]):
            away[at], which[at], place[at] = away[at - 1], which[at - 1], place[at - 1]
            at -= 1
        away[at], which[at], place[at] = d, number[i], label[i]
        found = min(found + 1, k)
    return found


@numba.njit(**FAST)
def _weigh(found, away, place, by_distance, out, p):  # type: ignore[no-untyped-def]
    """Write the shares of the votes for one pixel."""
    total = 0.0
    for i in range(found):
        weight = 1.0
        if by_distance and away[0] == 0.0:
            weight = 1.0 if away[i] == 0.0 else 0.0
        elif by_distance:
            weight = 1.0 / np.sqrt(away[i])
        out[place[i], p] += weight
        total += weight
    for c in range(out.shape[0]):
        out[c, p] /= total


@numba.njit(**FAST)
def _branch(node, top, a, side, nodes, bounds, offsets):  # type: ignore[no-untyped-def]
    """The far side of a cut takes the node's place among those to look at, the near one goes on
    top; ``bounds``: squared distances within which nothing of a node can lie, put together of
    ``offsets`` (waiting, bands)."""
    nodes[top + 1] = 2 * node + 1 if side < 0 else 2 * node + 2
    bounds[top + 1] = bounds[top]
    for b in range(offsets.shape[1]):
        offsets[top + 1, b] = offsets[top, b]
    nodes[top] = 2 * node + 2 if side < 0 else 2 * node + 1
    bounds[top] += side * side - offsets[top, a] * offsets[top, a]
    offsets[top, a] = side


@numba.njit(**FAST)
def _search(  # type: ignore[no-untyped-def]
    x, points, number, axis, cut, first, last, label, nodes, bounds, offsets, away, which, place
):
    """Find the nearest points of one place x (bands,), as many as ``away`` holds; how many there
    are. ``nodes``, ``bounds`` and ``offsets`` are room to work in."""
    found, top = 0, 0
    nodes[0], bounds[0] = 0, 0.0
    offsets[0, :] = 0.0
    k = away.size
    while top >= 0:
        node = nodes[top]
        a = axis[node]
        if found == k and bounds[top] * NEARLY > away[k - 1]:
            top -= 1
        elif a >= 0:
            _branch(node, top, a, x[a] - cut[node], nodes, bounds, offsets)
            top += 1
        else:
            top -= 1
            found = _compare(
                x, points, number, label, first[node], last[node], found, away, which, place
            )
    return found


_TREE = (
    read_only(float64, 2), read_only(int32, 1), read_only(int32, 1), read_only(float64, 1),
    read_only(int32, 1), read_only(int32, 1),
)  # fmt: skip


@numba.njit(
    void(
        read_only(float32, 2),
        read_only(float64, 1),
        read_only(float64, 1),
        *_TREE,
        read_only(int32, 1),
        int64,
        numba.boolean,
        float64[:, ::1],
    ),
    **FAST,
)
def vote(  # type: ignore[no-untyped-def]
    values, centre, factor, points, number, axis, cut, first, last, label, k, by_distance, out
):
    """Shares (classes, n) of the votes of the k nearest points of each pixel of (bands, n).

    ``label`` (points,) the place of each point's class. Of points equally far the one with the
    lower number counts. ``by_distance``: a vote weighs one over its distance; a point that is met
    exactly leaves the others none.
    """
    n_bands, n = values.shape
    x = np.empty(n_bands, np.float64)
    away = np.empty(k, np.float64)
    which, place = np.empty(k, np.int32), np.empty(k, np.int32)
    nodes, bounds = np.empty(DEEPEST, np.int32), np.empty(DEEPEST, np.float64)
    offsets = np.zeros((DEEPEST, n_bands), np.float64)
    out[:] = 0.0
    for p in range(n):
        for b in range(n_bands):
            x[b] = (values[b, p] - centre[b]) * factor[b]
        found = _search(
            x, points, number, axis, cut, first, last, label, nodes, bounds, offsets, away, which,
            place,
        )  # fmt: skip
        _weigh(found, away, place, by_distance, out, p)
