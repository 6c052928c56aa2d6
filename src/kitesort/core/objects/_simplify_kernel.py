"""Arcs with fewer corners, without gaps, overlaps or crossings.

Source: Visvalingam & Whyatt 1993, Line Generalisation by Repeated Elimination of Points: the corner
whose triangle with its neighbours is smallest goes first. Ours beside it: of equal triangles the
one that brings what both classes have won or lost nearer to nothing, and no triangle that holds
another corner.
"""

import numba
import numpy as np
from numba import boolean, float64, int32, int64, uint8, uint16, void

from kitesort.core.kernels import KERNEL, read_only


@numba.njit(**KERNEL)
def _twice_area(corners, a, b, c):  # type: ignore[no-untyped-def]
    """Of a triangle, signed, in squares of a pixel."""
    ar, ac = int64(corners[a, 0]), int64(corners[a, 1])
    return (corners[b, 1] - ac) * (corners[c, 0] - ar) - (corners[c, 1] - ac) * (corners[b, 0] - ar)


@numba.njit(**KERNEL)
def _side(r0, c0, r1, c1, r, c):  # type: ignore[no-untyped-def]
    return (c1 - c0) * (r - r0) - (c - c0) * (r1 - r0)


@numba.njit(**KERNEL)
def _is_inside(corners, a, b, e, r, c):  # type: ignore[no-untyped-def]
    """Whether a corner lies in a triangle or on its border, and is none of its own."""
    ar, ac = int64(corners[a, 0]), int64(corners[a, 1])
    br, bc = int64(corners[b, 0]), int64(corners[b, 1])
    er, ec = int64(corners[e, 0]), int64(corners[e, 1])
    if (r == ar and c == ac) or (r == br and c == bc) or (r == er and c == ec):
        return False
    one = _side(ar, ac, br, bc, r, c)
    two = _side(br, bc, er, ec, r, c)
    three = _side(er, ec, ar, ac, r, c)
    return (one >= 0 and two >= 0 and three >= 0) or (one <= 0 and two <= 0 and three <= 0)


@numba.njit(**KERNEL)
def _reach(corners, i, j, r):  # type: ignore[no-untyped-def]
    """Column at which an edge passes a row, as a number; not-a-number where it does not."""
    ri, rj = corners[i, 0], corners[j, 0]
    if ri == rj or r < min(ri, rj) or r > max(ri, rj):
        return np.nan
    return corners[i, 1] + (corners[j, 1] - corners[i, 1]) * (r - ri) / (rj - ri)


@numba.njit(**KERNEL)
def _is_free(corners, occupied, a, b, e):  # type: ignore[no-untyped-def]
    """Whether no other corner lies in the triangle: then no border crosses its new side."""
    top = min(corners[a, 0], corners[b, 0], corners[e, 0])
    bottom = max(corners[a, 0], corners[b, 0], corners[e, 0])
    least = min(corners[a, 1], corners[b, 1], corners[e, 1])
    most = max(corners[a, 1], corners[b, 1], corners[e, 1])
    for r in range(top, bottom + 1):
        first, last = float64(most), float64(least)
        for edge in range(3):
            i, j = (a, b) if edge == 0 else ((b, e) if edge == 1 else (e, a))
            if corners[i, 0] == r and corners[j, 0] == r:
                first = min(first, corners[i, 1], corners[j, 1])
                last = max(last, corners[i, 1], corners[j, 1])
            at = _reach(corners, i, j, r)
            if not np.isnan(at):
                first, last = min(first, at), max(last, at)
        for c in range(max(least, int64(first) - 1), min(most, int64(last) + 1) + 1):
            if occupied[r, c] and _is_inside(corners, a, b, e, r, c):
                return False
    return True


@numba.njit(**KERNEL)
def _before(keys, ids, i, j):  # type: ignore[no-untyped-def]
    return keys[i] < keys[j] or (keys[i] == keys[j] and ids[i] < ids[j])


@numba.njit(**KERNEL)
def _swap(keys, ids, i, j):  # type: ignore[no-untyped-def]
    keys[i], keys[j] = keys[j], keys[i]
    ids[i], ids[j] = ids[j], ids[i]


@numba.njit(**KERNEL)
def _push(keys, ids, n, key, one):  # type: ignore[no-untyped-def]
    """Onto a heap of n; its size then."""
    keys[n], ids[n] = key, one
    i = n
    while i > 0 and _before(keys, ids, i, (i - 1) // 2):
        _swap(keys, ids, i, (i - 1) // 2)
        i = (i - 1) // 2
    return n + 1


@numba.njit(**KERNEL)
def _pop(keys, ids, n):  # type: ignore[no-untyped-def]
    """The least of a heap of n goes behind its end; its size then."""
    n -= 1
    _swap(keys, ids, 0, n)
    i = 0
    while True:
        child = 2 * i + 1
        if child >= n:
            return n
        if child + 1 < n and _before(keys, ids, child + 1, child):
            child += 1
        if not _before(keys, ids, child, i):
            return n
        _swap(keys, ids, i, child)
        i = child


@numba.njit(**KERNEL)
def _offer(corners, before, after, i, most, keys, ids, sizes):  # type: ignore[no-untyped-def]
    """A corner to the heap of those that give ground, or of those that take it."""
    area = _twice_area(corners, before[i], i, after[i])
    if area != 0 and abs(area) <= most:
        heap = 0 if area > 0 else 1
        sizes[heap] = _push(keys[heap], ids[heap], sizes[heap], abs(area), i)


@numba.njit(**KERNEL)
def _drop_stale(corners, before, after, alive, keys, ids, sizes):  # type: ignore[no-untyped-def]
    """Until the least of each heap is what it was offered as."""
    for heap in range(2):
        while sizes[heap] > 0:
            i = ids[heap, 0]
            if alive[i]:
                area = _twice_area(corners, before[i], i, after[i])
                if abs(area) == keys[heap, 0] and (area > 0) == (heap == 0):
                    break
            sizes[heap] = _pop(keys[heap], ids[heap], sizes[heap])


@numba.njit(**KERNEL)
def _choose(keys, sizes, balance, most):  # type: ignore[no-untyped-def]
    """From which heap the next corner goes: the smaller triangle; of equals, and where one side has
    won more than a triangle over the other (``balance``), the one that gives back."""
    if sizes[0] == 0 or sizes[1] == 0:
        return 0 if sizes[1] == 0 else 1
    back = 1 if balance > 0 else 0
    if keys[0, 0] == keys[1, 0] or abs(balance) >= most:
        return back
    return 0 if keys[0, 0] < keys[1, 0] else 1


@numba.njit(**KERNEL)
def _may_win(won, slack, sides, area):  # type: ignore[no-untyped-def]
    """Whether the class to the left may win so much from the other: neither is further from where
    it began than it may be, or it comes nearer."""
    for side in range(2):
        code = sides[side]
        now = won[code] + (area if side == 0 else -area)
        if abs(now) > slack[code] and abs(now) > abs(won[code]):
            return False
    return True


@numba.njit(**KERNEL)
def _simplify(corners, first, last, kept, most, sides, balance, occupied, alive, room):  # type: ignore[no-untyped-def]
    """One arc, of which so many corners between its ends stay at least."""
    before, after, keys, ids = room
    won, slack = balance
    sizes = np.zeros(2, np.int64)
    for i in range(first, last + 1):
        before[i], after[i] = i - 1, i + 1
    for i in range(first + 1, last):
        _offer(corners, before, after, i, most, keys, ids, sizes)
    left = last - first - 1
    while left > kept:
        _drop_stale(corners, before, after, alive, keys, ids, sizes)
        if sizes[0] + sizes[1] == 0:
            return
        heap = _choose(keys, sizes, won[sides[0]] - won[sides[1]], most)
        i = ids[heap, 0]
        sizes[heap] = _pop(keys[heap], ids[heap], sizes[heap])
        a, b = before[i], after[i]
        area = _twice_area(corners, a, i, b)
        if not _may_win(won, slack, sides, area) or not _is_free(corners, occupied, a, i, b):
            continue
        won[sides[0]] += area
        won[sides[1]] -= area
        alive[i] = False
        occupied[corners[i, 0], corners[i, 1]] = 0
        after[a], before[b] = b, a
        left -= 1
        for neighbour in (a, b):
            if first < neighbour < last:
                _offer(corners, before, after, neighbour, most, keys, ids, sizes)


@numba.njit(
    void(read_only(int32, 2), read_only(int64, 1), read_only(int64, 1), int64, read_only(uint16, 2),
         read_only(int64, 1), uint8[:, ::1], boolean[::1]),
    **KERNEL,
)  # fmt: skip
def simplify_arcs(corners, starts, kept, most, sides, slack, occupied, alive):  # type: ignore[no-untyped-def]
    """Which corners (n,) of arcs stay, in ``alive``, which is true everywhere before. A corner may
    go while twice its triangle is at most ``most`` squares of a pixel; ``kept`` (arcs,): corners
    between its ends that each arc keeps at least; ``sides`` (arcs, 2): codes to its left and right;
    ``slack``, by code: twice what each class may win or lose in all, in squares of a pixel;
    ``occupied``: ones (rows + 1, columns + 1) where a corner lies.
    """
    longest, won = 0, np.zeros(len(slack), np.int64)
    for arc in range(len(kept)):
        longest = max(longest, starts[arc + 1] - starts[arc])
    keys, ids = np.empty((2, 3 * longest), np.int64), np.empty((2, 3 * longest), np.int64)
    before, after = np.empty(len(corners), np.int64), np.empty(len(corners), np.int64)
    for arc in range(len(kept)):
        _simplify(
            corners, starts[arc], starts[arc + 1] - 1, kept[arc], most, sides[arc], (won, slack),
            occupied, alive, (before, after, keys, ids),
        )  # fmt: skip


@numba.njit(
    void(read_only(int32, 2), read_only(int64, 1), read_only(boolean, 1), read_only(int32, 1),
         read_only(int64, 1), int32[:, ::1], int64[::1], int64[::1]),
    **KERNEL,
)  # fmt: skip
def write_rings(corners, starts, alive, halves, ring_starts, out, ends, areas):  # type: ignore[no-untyped-def]
    """The corners of rings from their half-arcs, each closed by its first one; where each ends in
    ``out``, and twice its area, positive where the patch lies inside."""
    n = 0
    for ring in range(len(ring_starts) - 1):
        begin = n
        for k in range(ring_starts[ring], ring_starts[ring + 1]):
            arc, back = halves[k] // 2, halves[k] % 2
            low, high = starts[arc], starts[arc + 1] - 1
            for step in range(high - low):
                i = high - step if back else low + step
                if alive[i]:
                    out[n, 0], out[n, 1] = corners[i, 0], corners[i, 1]
                    n += 1
        out[n, 0], out[n, 1] = out[begin, 0], out[begin, 1]
        n += 1
        ends[ring], areas[ring] = n, 0
        for i in range(begin, n - 1):
            areas[ring] += int64(out[i + 1, 1]) * out[i, 0] - int64(out[i, 1]) * out[i + 1, 0]
