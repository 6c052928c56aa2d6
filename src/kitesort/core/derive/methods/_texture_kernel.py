"""Grey-level co-occurrence measures of a moving window, without ever storing a full matrix."""

import math

import numba
import numpy as np
import numpy.typing as npt
from numba import float32, float64, int32, int64, void

from kitesort.core.kernels import read_only

MEASURES = (
    "contrast", "dissimilarity", "homogeneity", "energy", "entropy", "correlation", "mean",
    "variance",
)  # fmt: skip
N_MEASURES = len(MEASURES)


@numba.njit(
    void(int32[:, ::1], int64, int32[:, ::1], float64[::1], float32[::1]), nogil=True, cache=True
)
def _measure(
    pairs: npt.NDArray[np.int32],
    n: int,
    counts: npt.NDArray[np.int32],
    near: npt.NDArray[np.float64],
    out: npt.NDArray[np.float32],
) -> None:
    """All measures of ``n`` pairs (lower level, higher level), each counted in both orders.

    ``counts`` (levels, levels) is zero before and after; ``near`` (levels,) is 1 / (1 + d²).
    """
    contrast = absolute = total = squares = products = 0
    homogeneity = 0.0
    for i in range(n):
        a, b = pairs[i, 0], pairs[i, 1]
        d = b - a
        contrast += d * d
        absolute += d
        homogeneity += near[d]
        total += a + b
        squares += a * a + b * b
        products += a * b
        counts[a, b] += 1
    second = entropy = 0.0
    both = 2.0 * n
    for i in range(n):
        a, b = pairs[i, 0], pairs[i, 1]
        c = counts[a, b]
        if c > 0:  # each cell once: it is emptied
            counts[a, b] = 0
            # Off the diagonal the pair stands in two cells, on it twice in one.
            share = (2.0 if a == b else 1.0) * c / both
            cells = 1.0 if a == b else 2.0
            second += cells * share * share
            entropy -= cells * share * math.log(share)
    mean = total / both
    variance = squares / both - mean * mean
    out[0], out[1], out[2] = contrast / n, absolute / n, homogeneity / n
    out[3], out[4] = math.sqrt(second), entropy
    out[5] = (products / n - mean * mean) / variance if variance > 1e-12 else 1.0
    out[6], out[7] = mean, max(0.0, variance)


@numba.njit(
    void(read_only(int32, 2), read_only(int64, 1), read_only(int64, 1), int64,
         read_only(int64, 2), int64, float32[:, :, ::1]),
    nogil=True, cache=True,
)  # fmt: skip
def co_occurrence(
    codes: npt.NDArray[np.int32],
    rows: npt.NDArray[np.int64],
    cols: npt.NDArray[np.int64],
    radius: int,
    offsets: npt.NDArray[np.int64],
    levels: int,
    out: npt.NDArray[np.float32],
) -> None:
    """Measures (8, rows, cols) of the windows around the places ``rows`` × ``cols`` of ``codes``
    (levels from 0; -1 where not valid). Pairs are all that lie in the window, ``offsets`` (m, 2)
    apart, in both orders; not-a-number where there is none."""
    height, width = codes.shape
    counts = np.zeros((levels, levels), np.int32)
    near = 1.0 / (1.0 + np.arange(levels).astype(np.float64) ** 2)
    pairs = np.empty(((2 * radius + 1) ** 2 * len(offsets), 2), np.int32)
    found = np.empty(N_MEASURES, np.float32)
    for i in range(len(rows)):
        top, bottom = max(0, rows[i] - radius), min(height, rows[i] + radius + 1)
        for j in range(len(cols)):
            left, right = max(0, cols[j] - radius), min(width, cols[j] + radius + 1)
            n = 0
            for k in range(len(offsets)):
                dr, dc = offsets[k, 0], offsets[k, 1]
                for r in range(max(top, top - dr), min(bottom, bottom - dr)):
                    for c in range(max(left, left - dc), min(right, right - dc)):
                        a, b = codes[r, c], codes[r + dr, c + dc]
                        if a >= 0 and b >= 0:
                            pairs[n, 0], pairs[n, 1] = min(a, b), max(a, b)
                            n += 1
            if n == 0:
                out[:, i, j] = np.nan
            else:
                _measure(pairs, n, counts, near, found)
                out[:, i, j] = found
