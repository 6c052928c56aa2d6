"""Shares of classes smoothed over their neighbours.

Every pixel's sums are taken in one fixed order, so that they do not depend on where a block begins.
Missing shares and guides are not-a-number, and take no part.
"""

import math

import numba
import numpy as np
from numba import float32, float64, int64, uint8, void

from kitesort.core.kernels import INLINE, read_only

KERNEL = {"nogil": True, "cache": True}


@numba.njit(**INLINE)
def _likeness(guide, r, c, y, x):  # type: ignore[no-untyped-def]
    """1 where two pixels look the same in the guide (bands, rows, cols), less the more they differ
    beside its unit; 1 without a guide, and where one has no value."""
    n = guide.shape[0]
    if n == 0:
        return 1.0
    away = 0.0
    for b in range(n):
        step = float64(guide[b, r, c]) - float64(guide[b, y, x])
        if not math.isnan(step):
            away += step * step
    return math.exp(-0.5 * away / n)


@numba.njit(void(read_only(float32, 3), read_only(float32, 3), int64, float64[:, :, ::1]), **KERNEL)
def average_alike(shares, guide, radius, out):  # type: ignore[no-untyped-def]
    """Sums of shares (classes, rows, cols) over square windows, by likeness to the middle."""
    classes, rows, cols = shares.shape
    out[:] = 0.0
    for r in range(rows):
        for c in range(cols):
            for y in range(max(0, r - radius), min(rows, r + radius + 1)):
                for x in range(max(0, c - radius), min(cols, c + radius + 1)):
                    if not math.isnan(shares[0, y, x]):
                        like = _likeness(guide, r, c, y, x)
                        for k in range(classes):
                            out[k, r, c] += like * shares[k, y, x]


@numba.njit(**INLINE)
def _best(shares, guide, places, weight, r, c):  # type: ignore[no-untyped-def]
    """The class of least energy at a pixel, its neighbours as they are; the present one of
    equals, else the first."""
    classes, rows, cols = shares.shape
    agree = np.zeros(classes)
    for y in range(max(0, r - 1), min(rows, r + 2)):
        for x in range(max(0, c - 1), min(cols, c + 2)):
            if (y != r or x != c) and places[y, x] < classes:
                agree[places[y, x]] += _likeness(guide, r, c, y, x)
    best = int64(places[r, c])
    least = -math.log(max(shares[best, r, c], 1e-6)) - weight * agree[best]
    for k in range(classes):
        energy = -math.log(max(shares[k, r, c], 1e-6)) - weight * agree[k]
        if energy < least:
            best, least = k, energy
    return best


@numba.njit(
    void(read_only(float32, 3), read_only(float32, 3), float64, int64, int64, int64, uint8[:, ::1]),
    **KERNEL,
)
def settle(shares, guide, weight, rounds, top, left, places):  # type: ignore[no-untyped-def]
    """Iterated conditional modes of a Potts model with eight neighbours, in place: ``places`` holds
    each pixel's class by its place among the shares, or as many as there are for one that takes no
    part. ``top`` and ``left``: where the block lies in the whole, whose pixels are visited in four
    lots that do not touch, so that any block comes to the same.

    Source: Besag 1986, On the Statistical Analysis of Dirty Pictures.
    """
    classes, rows, cols = shares.shape
    for _ in range(rounds):
        for lot in range(4):
            first_r = (lot // 2 - top) % 2
            first_c = (lot % 2 - left) % 2
            for r in range(first_r, rows, 2):
                for c in range(first_c, cols, 2):
                    if places[r, c] < classes:
                        places[r, c] = _best(shares, guide, places, weight, r, c)
