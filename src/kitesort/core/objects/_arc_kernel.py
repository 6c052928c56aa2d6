"""Borders between patches as arcs, each of which is there once, and rings made of them.

Corners of pixels are counted in rows and columns from 0. Headings are east, south, west and north,
0 to 3; beyond the map, and where there is no data, the patch is -1. An arc runs from one node (a
corner where three or four borders meet) to the next; a border without a node is a loop. Half-arc
2 i is arc i as it runs, 2 i + 1 the other way round.
"""

import numba
import numpy as np
from numba import int32, int64, types, uint8, void

from kitesort.core.kernels import KERNEL, read_only


@numba.njit(**KERNEL)
def _at(labels, r, c):  # type: ignore[no-untyped-def]
    inside = 0 <= r < labels.shape[0] and 0 <= c < labels.shape[1]
    return labels[r, c] if inside else int32(-1)


@numba.njit(**KERNEL)
def left_of(labels, r, c, d):  # type: ignore[no-untyped-def]
    """The patch to the left of somebody who leaves a corner."""
    return _at(labels, r - (d == 0 or d == 3), c - (d == 2 or d == 3))


@numba.njit(**KERNEL)
def _right_of(labels, r, c, d):  # type: ignore[no-untyped-def]
    return left_of(labels, r, c, (d + 1) % 4)


@numba.njit(**KERNEL)
def _leads(labels, r, c, d):  # type: ignore[no-untyped-def]
    """Whether a border leaves the corner that way."""
    return left_of(labels, r, c, d) != _right_of(labels, r, c, d)


@numba.njit(**KERNEL)
def _degree(labels, r, c):  # type: ignore[no-untyped-def]
    n = 0
    for d in range(4):
        n += _leads(labels, r, c, d)
    return n


@numba.njit(**KERNEL)
def _turns(labels, r, c):  # type: ignore[no-untyped-def]
    """Whether the one border through a corner changes its heading there."""
    return _leads(labels, r, c, 0) != _leads(labels, r, c, 2)


@numba.njit(types.UniTuple(int64, 3)(read_only(int32, 2)), **KERNEL)
def count_corners(labels):  # type: ignore[no-untyped-def]
    """Corners where a border turns, nodes, and borders that end at these."""
    turns, nodes, ends = 0, 0, 0
    for r in range(labels.shape[0] + 1):
        for c in range(labels.shape[1] + 1):
            degree = _degree(labels, r, c)
            if degree > 2:
                nodes += 1
                ends += degree
            elif degree == 2 and _turns(labels, r, c):
                turns += 1
    return turns, nodes, ends


@numba.njit(**KERNEL)
def _mark(seen, r, c, d):  # type: ignore[no-untyped-def]
    """Remember the side that leaves a corner; whether it was known."""
    row, col = r - (d == 3), c - (d == 2)
    bit = uint8(1 if d % 2 == 0 else 2)
    known = seen[row, col] & bit != 0
    seen[row, col] |= bit
    return known


@numba.njit(**KERNEL)
def _follow(labels, seen, r, c, d, corners, n):  # type: ignore[no-untyped-def]
    """Write the corners of a border from a corner to the next node, or back to where it began;
    the number of corners written in all, and the heading at the end."""
    first_r, first_c = r, c
    corners[n, 0], corners[n, 1] = r, c
    n += 1
    while True:
        _mark(seen, r, c, d)
        r, c = r + (d == 1) - (d == 3), c + (d == 0) - (d == 2)
        if (r == first_r and c == first_c) or _degree(labels, r, c) > 2:
            break
        if _turns(labels, r, c):
            corners[n, 0], corners[n, 1] = r, c
            n += 1
            d = (d + 1) % 4 if _leads(labels, r, c, (d + 1) % 4) else (d + 3) % 4
    corners[n, 0], corners[n, 1] = r, c
    return n + 1, d


@numba.njit(
    int64(read_only(int32, 2), uint8[:, ::1], int32[:, ::1], int64[::1], int32[:, ::1]), **KERNEL
)
def trace_arcs(labels, seen, corners, starts, about):  # type: ignore[no-untyped-def]
    """All arcs: their ``corners`` (n, row and column) one after another, each from ``starts`` on;
    ``about`` (arcs, 4): patch to the left, to the right, heading at the start and at the end.
    ``seen`` (rows + 1, columns + 1) is zeros. How many there are."""
    n, arcs = 0, 0
    starts[0] = 0
    for loops in range(2):  # first what ends at nodes
        for r in range(labels.shape[0] + 1):
            for c in range(labels.shape[1] + 1):
                degree = _degree(labels, r, c)
                if degree < 2 or (degree == 2) != (loops == 1):
                    continue
                if loops == 1 and not _turns(labels, r, c):
                    continue
                for d in range(4):
                    row, col = r - (d == 3), c - (d == 2)
                    bit = uint8(1 if d % 2 == 0 else 2)
                    if not _leads(labels, r, c, d) or seen[row, col] & bit != 0:
                        continue
                    about[arcs, 0] = left_of(labels, r, c, d)
                    about[arcs, 1] = _right_of(labels, r, c, d)
                    about[arcs, 2] = d
                    n, about[arcs, 3] = _follow(labels, seen, r, c, d, corners, n)
                    arcs += 1
                    starts[arcs] = n
    return arcs


@numba.njit(
    void(read_only(int32, 2), read_only(int32, 2), read_only(int64, 1), read_only(int32, 2),
         int64, int64, int32[::1]),
    **KERNEL,
)  # fmt: skip
def link_arcs(labels, corners, starts, about, n_arcs, n_nodes, after):  # type: ignore[no-untyped-def]
    """By half-arc the one that follows on the ring of the patch to its left. Where a patch touches
    itself at a corner its ring turns away, so that what it encloses there is a hole that touches
    the outer ring, and no ring crosses itself."""
    node_of = np.full((labels.shape[0] + 1, labels.shape[1] + 1), -1, np.int32)
    out = np.full((n_nodes, 4), -1, np.int32)
    nodes = 0
    for arc in range(n_arcs):
        for end in range(2):
            k = starts[arc] if end == 0 else starts[arc + 1] - 1
            r, c = int64(corners[k, 0]), int64(corners[k, 1])
            if _degree(labels, r, c) == 2:
                continue
            if node_of[r, c] < 0:
                node_of[r, c] = nodes
                nodes += 1
            d = int64(about[arc, 2] if end == 0 else (about[arc, 3] + 2) % 4)
            out[node_of[r, c], d] = 2 * arc + end
    for half in range(2 * n_arcs):
        arc, back = half // 2, half % 2
        k = starts[arc] if back else starts[arc + 1] - 1
        r, c = int64(corners[k, 0]), int64(corners[k, 1])
        after[half] = half
        if node_of[r, c] < 0:
            continue
        d = int64((about[arc, 2] + 2) % 4 if back else about[arc, 3])
        patch = about[arc, back]
        for turn in (1, 0, 3):
            to = (d + turn) % 4
            if out[node_of[r, c], to] >= 0 and left_of(labels, r, c, to) == patch:
                after[half] = out[node_of[r, c], to]
                break


@numba.njit(
    int64(read_only(int32, 1), read_only(int32, 2), int32[::1], int64[::1], int32[::1]), **KERNEL
)
def collect_rings(after, about, halves, ring_starts, patches):  # type: ignore[no-untyped-def]
    """Rings of all patches: their half-arcs one after another, where each ring starts among them,
    and whose it is. How many there are."""
    used = np.zeros(len(after), np.bool_)
    n, rings = 0, 0
    ring_starts[0] = 0
    for first in range(len(after)):
        patch = about[first // 2, first % 2]
        if used[first] or patch < 0:
            continue
        half = first
        while not used[half]:
            used[half] = True
            halves[n] = half
            n += 1
            half = after[half]
        patches[rings] = patch
        rings += 1
        ring_starts[rings] = n
    return rings
