"""Shares of classes smoothed over their neighbours.

Every pixel's sums are taken in one fixed order, so that they do not depend on where a block begins.
Missing shares and guides are not-a-number, and take no part.
"""

import math

import numba
import numpy as np
from numba import float32, float64, int64, uint8, void

from kitesort.core.kernels import INLINE, KERNEL, read_only


@numba.njit(**KERNEL)
def _set_row_likeness(guide, r, y, dx, first, last, like):  # type: ignore[no-untyped-def]
    """1 where two pixels look the same in the guide (bands, rows, cols), less the more they differ
    beside its unit; bands without a value do not tell them apart. Of pixels ``first`` to ``last``
    of row r and those in row y, dx to the right."""
    n = guide.shape[0]
    like[first:last] = 0.0
    for b in range(n):
        here, there = guide[b, r, first:last], guide[b, y, first + dx : last + dx]
        away = like[first:last]
        for c in range(last - first):
            step = float64(here[c]) - float64(there[c])
            away[c] += step * step if step == step else 0.0
    for c in range(first, last):
        like[c] = math.exp(-0.5 * like[c] / n)


@numba.njit(void(read_only(float32, 3), float64[:, :, ::1]), **KERNEL)
def set_likeness(guide, out):  # type: ignore[no-untyped-def]
    """``out`` (4, rows, cols): likeness of each pixel and its neighbour to the right, below, below
    to the right, below to the left."""
    rows, cols = guide.shape[1:]
    for r in range(rows):
        _set_row_likeness(guide, r, r, 1, 0, cols - 1, out[0, r])
        if r + 1 < rows:
            _set_row_likeness(guide, r, r + 1, 0, 0, cols, out[1, r])
            _set_row_likeness(guide, r, r + 1, 1, 0, cols - 1, out[2, r])
            _set_row_likeness(guide, r, r + 1, -1, 1, cols, out[3, r])


@numba.njit(void(read_only(float32, 3), read_only(float32, 3), int64, float64[:, :, ::1]), **KERNEL)
def average_alike(shares, guide, radius, out):  # type: ignore[no-untyped-def]
    """Sums of shares (classes, rows, cols) over square windows, by likeness to the middle. A row at
    a time, so that many pixels are summed at once."""
    classes, rows, cols = shares.shape
    like = np.empty(cols)
    out[:] = 0.0
    for r in range(rows):
        for y in range(max(0, r - radius), min(rows, r + radius + 1)):
            for dx in range(-radius, radius + 1):
                first, last = max(0, -dx), min(cols, cols - dx)
                if first >= last:
                    continue
                _set_row_likeness(guide, r, y, dx, first, last, like)
                for k in range(classes):
                    there, total = shares[k, y, first + dx : last + dx], out[k, r, first:last]
                    weights = like[first:last]
                    for c in range(last - first):
                        share = float64(there[c])
                        total[c] += weights[c] * share if share == share else 0.0


@numba.njit(**INLINE)
def _bond(like, r, c, down, right):  # type: ignore[no-untyped-def]
    """How alike a pixel and one of its neighbours are; 1 where nothing was told."""
    if like.shape[0] == 0:
        return 1.0
    which = 0 if down == 0 else (1 if right == 0 else (2 if down == right else 3))
    if down > 0 or (down == 0 and right > 0):
        return like[which, r, c]
    return like[which, r + down, c + right]


@numba.njit(**KERNEL)
def _visit(costs, like, places, open_, weight, first_r, first_c):  # type: ignore[no-untyped-def]
    """Every second pixel of every second row takes the class of least energy, its neighbours as
    they are; its present one of equals, else the first. Only those that are still ``open_``: a
    pixel is settled until one of its neighbours changes."""
    classes, rows, cols = costs.shape
    agree = np.zeros(classes + 1)
    for r in range(first_r, rows, 2):
        for c in range(first_c, cols, 2):
            own = int64(places[r, c])
            if own == classes or not open_[r, c]:
                continue
            open_[r, c] = False
            agree[:] = 0.0
            for y in range(max(0, r - 1), min(rows, r + 2)):
                for x in range(max(0, c - 1), min(cols, c + 2)):
                    if y != r or x != c:
                        agree[places[y, x]] += _bond(like, r, c, y - r, x - c)
            best, least = own, costs[own, r, c] - weight * agree[own]
            for k in range(classes):
                energy = costs[k, r, c] - weight * agree[k]
                if energy < least:
                    best, least = k, energy
            if best != own:
                places[r, c] = best
                open_[max(0, r - 1) : r + 2, max(0, c - 1) : c + 2] = True


@numba.njit(
    void(
        read_only(float64, 3), read_only(float64, 3), float64, int64, int64, int64, uint8[:, ::1]
    ),
    **KERNEL,
)  # fmt: skip
def settle(costs, like, weight, rounds, top, left, places):  # type: ignore[no-untyped-def]
    """Iterated conditional modes of a Potts model with eight neighbours, in place: ``costs``
    (classes, rows, cols) are minus the logarithms of shares, ``like`` (4, rows, cols) weighs each
    pair of neighbours (of none where nothing weighs them), ``places`` holds each pixel's class by
    its place among them, or as many as there are for one that takes no part. ``top`` and ``left``:
    where the block lies in the whole, whose pixels are visited in four lots that do not touch, so
    that any block comes to the same.

    Source: Besag 1986, On the Statistical Analysis of Dirty Pictures.
    """
    open_ = np.ones(places.shape, np.bool_)
    for _ in range(rounds):
        for lot in range(4):
            _visit(costs, like, places, open_, weight, (lot // 2 - top) % 2, (lot % 2 - left) % 2)
