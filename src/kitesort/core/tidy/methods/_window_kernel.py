"""The most or least frequent class of a moving window, whatever its size.

Counts of a whole row are written down before its pixels are decided: pieces that were called for
every pixel took most of the time.
"""

import numba
import numpy as np
from numba import boolean, float32, int64, uint8, void

from kitesort.core.kernels import KERNEL, read_only

LANES = 16  # counts that are added at once
NONE = -(2**62)  # below any count


@numba.njit(**KERNEL)
def _decide_row(counts, places, r, most, weight, minority, may_change, may_win, shares, out):  # type: ignore[no-untyped-def]
    """What the pixels of a row become: the most frequent class of each one's counts (cols, places),
    or the least frequent of those that are there; of equals its own, else that with the larger of
    the ``shares`` (places, rows, cols), where there are any, else the first. One whose class fills
    more than half of the window stays at once."""
    sign = -1 if minority else 1
    for c in range(places.shape[1]):
        centre = int64(places[r, c])
        out[r, c] = centre
        if centre == may_win.size or not may_change[centre]:
            continue
        best, found = centre, NONE
        if may_win[centre]:
            if not minority and 2 * counts[c, centre] > most:
                continue
            found = sign * (counts[c, centre] + weight - 1)
        for k in range(may_win.size):
            n = sign * int64(counts[c, k])
            if n > found and n != 0 and k != centre and may_win[k]:
                best, found = k, n
        out[r, c] = best
        if shares.shape[0] == 0 or best == centre:
            continue
        for k in range(may_win.size):
            tied = sign * int64(counts[c, k]) == found and may_win[k] and k != centre
            if tied and shares[k, r, c] > shares[out[r, c], r, c]:
                out[r, c] = k


@numba.njit(**KERNEL)
def _move_down(columns, places, r, radius):  # type: ignore[no-untyped-def]
    """Counts of the columns for the window around row r, from those around the row before."""
    rows, cols = places.shape
    if r + radius < rows:
        for c in range(cols):
            columns[c, places[r + radius, c]] += 1
    if r - radius - 1 >= 0:
        for c in range(cols):
            columns[c, places[r - radius - 1, c]] -= 1


@numba.njit(**KERNEL)
def _slide(columns, radius, counts):  # type: ignore[no-untyped-def]
    """Counts (cols, places) of the windows along a row from those of its columns: each from the one
    before, a column comes and one goes."""
    cols, width = columns.shape
    now = np.zeros(width, np.int16)
    for c in range(-radius, cols):
        come, gone = c + radius, c - radius - 1
        if come < cols:
            for k in range(width):
                now[k] += columns[come, k]
        if gone >= 0:
            for k in range(width):
                now[k] -= columns[gone, k]
        if c >= 0:
            for k in range(width):
                counts[c, k] = now[k]


@numba.njit(
    void(
        read_only(uint8, 2), int64, int64, boolean, read_only(boolean, 1), read_only(boolean, 1),
        read_only(float32, 3), uint8[:, ::1],
    ),
    **KERNEL,
)  # fmt: skip
def filter_square(places, radius, weight, minority, may_change, may_win, shares, out):  # type: ignore[no-untyped-def]
    """``places`` (rows, cols): of each pixel's class in a list, or the list's length where it takes
    no part. Every column keeps its counts, so that a step to the side adds one and takes one away.
    """
    rows, cols = places.shape
    width = (may_win.size // LANES + 1) * LANES
    columns, counts = np.zeros((cols, width), np.int16), np.empty((cols, width), np.int16)
    most = (2 * radius + 1) ** 2
    for r in range(-radius, rows):
        _move_down(columns, places, r, radius)
        if r >= 0:
            _slide(columns, radius, counts)
            _decide_row(counts, places, r, most, weight, minority, may_change, may_win, shares, out)


@numba.njit(**KERNEL)
def _slide_round(places, r, widths, counts):  # type: ignore[no-untyped-def]
    """The same for round windows around the pixels of row r, whose edges come and go."""
    rows, cols = places.shape
    radius, now = widths.size // 2, np.zeros(counts.shape[1], np.int16)
    for c in range(-widths.max(), cols):
        for y in range(max(0, r - radius), min(rows, r + radius + 1)):
            width = widths[y - r + radius]
            if 0 <= c + width < cols:
                now[places[y, c + width]] += 1
            if c - width - 1 >= 0:
                now[places[y, c - width - 1]] -= 1
        if c >= 0:
            for k in range(now.size):
                counts[c, k] = now[k]


@numba.njit(
    void(
        read_only(uint8, 2), read_only(int64, 1), int64, boolean, read_only(boolean, 1),
        read_only(boolean, 1), read_only(float32, 3), uint8[:, ::1],
    ),
    **KERNEL,
)  # fmt: skip
def filter_round(places, widths, weight, minority, may_change, may_win, shares, out):  # type: ignore[no-untyped-def]
    """The same in a window whose rows reach ``widths`` (2 radius + 1,) to both sides."""
    counts = np.empty((places.shape[1], may_win.size + 1), np.int16)
    most = (2 * widths + 1).sum()
    for r in range(places.shape[0]):
        _slide_round(places, r, widths, counts)
        _decide_row(counts, places, r, most, weight, minority, may_change, may_win, shares, out)
