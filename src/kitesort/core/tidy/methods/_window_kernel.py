"""The most or least frequent class of a moving window, whatever its size."""

import numba
import numpy as np
from numba import boolean, int64, uint8, void

from kitesort.core.kernels import INLINE, read_only

KERNEL = {"nogil": True, "cache": True}


@numba.njit(**INLINE)
def _winner(counts, centre, weight, minority, may_win):  # type: ignore[no-untyped-def]
    """The place of the class that wins: the most frequent, or the least frequent of those there;
    of equals the centre's own, else the first."""
    best, found = centre, int64(-1)
    if may_win[centre]:
        found = counts[centre] + weight - 1
    for c in range(may_win.size):
        n = counts[c]
        if n <= 0 or c == centre or not may_win[c]:
            continue
        if found < 0 or (n < found if minority else n > found):
            best, found = c, int64(n)
    return best


@numba.njit(**INLINE)
def _decide(counts, centre, most, weight, minority, may_change, may_win):  # type: ignore[no-untyped-def]
    """What a pixel becomes; one whose class fills more than half of the window stays at once."""
    if centre == may_win.size or not may_change[centre]:
        return centre
    if not minority and may_win[centre] and 2 * counts[centre] > most:
        return centre
    return _winner(counts, centre, weight, minority, may_win)


@numba.njit(**INLINE)
def _move_down(columns, places, r, radius):  # type: ignore[no-untyped-def]
    """Counts of the columns for the window around row r, from those around the row before."""
    rows, cols = places.shape
    if r + radius < rows:
        for c in range(cols):
            columns[c, places[r + radius, c]] += 1
    if r - radius - 1 >= 0:
        for c in range(cols):
            columns[c, places[r - radius - 1, c]] -= 1


@numba.njit(**INLINE)
def _move_right(counts, columns, c, radius):  # type: ignore[no-untyped-def]
    """Counts of the window around column c, from those around the column before."""
    if c + radius < columns.shape[0]:
        for k in range(counts.size):
            counts[k] += columns[c + radius, k]
    if c - radius - 1 >= 0:
        for k in range(counts.size):
            counts[k] -= columns[c - radius - 1, k]


@numba.njit(
    void(
        read_only(uint8, 2), int64, int64, boolean, read_only(boolean, 1), read_only(boolean, 1),
        uint8[:, ::1],
    ),
    **KERNEL,
)  # fmt: skip
def filter_square(places, radius, weight, minority, may_change, may_win, out):  # type: ignore[no-untyped-def]
    """``places`` (rows, cols): of each pixel's class in a list, or the list's length where it takes
    no part. Every column keeps its counts, so that a step to the side adds one and takes one away.
    """
    rows, cols = places.shape
    columns = np.zeros((cols, may_win.size + 1), np.int32)
    counts = np.zeros(may_win.size + 1, np.int32)
    most = (2 * radius + 1) ** 2
    for r in range(-radius, rows):
        _move_down(columns, places, r, radius)
        if r < 0:
            continue
        counts[:] = 0
        for c in range(-radius, cols):
            _move_right(counts, columns, c, radius)
            if c >= 0:
                out[r, c] = _decide(
                    counts, places[r, c], most, weight, minority, may_change, may_win
                )


@numba.njit(**INLINE)
def _step_right(counts, places, r, c, widths):  # type: ignore[no-untyped-def]
    """Counts of the round window around a pixel, from those around the pixel to its left."""
    rows, cols = places.shape
    radius = widths.size // 2
    for y in range(max(0, r - radius), min(rows, r + radius + 1)):
        width = widths[y - r + radius]
        if 0 <= c + width < cols:
            counts[places[y, c + width]] += 1
        if c - width - 1 >= 0:
            counts[places[y, c - width - 1]] -= 1


@numba.njit(
    void(
        read_only(uint8, 2), read_only(int64, 1), int64, boolean, read_only(boolean, 1),
        read_only(boolean, 1), uint8[:, ::1],
    ),
    **KERNEL,
)  # fmt: skip
def filter_round(places, widths, weight, minority, may_change, may_win, out):  # type: ignore[no-untyped-def]
    """The same in a window whose rows reach ``widths`` (2 radius + 1,) to both sides."""
    rows, cols = places.shape
    counts = np.zeros(may_win.size + 1, np.int32)
    most = (2 * widths + 1).sum()
    for r in range(rows):
        counts[:] = 0
        for c in range(-widths.max(), cols):
            _step_right(counts, places, r, c, widths)
            if c >= 0:
                out[r, c] = _decide(
                    counts, places[r, c], most, weight, minority, may_change, may_win
                )
