"""Fused kernels of methods that compare a pixel with the classes' means."""

import numba
import numpy as np
from numba import boolean, float32, float64, void

from kitesort.core.classify.scale import set_scaled
from kitesort.core.kernels import read_only

CHUNK = 256
# Sums are taken band by band in a fixed order, so that a pixel's place changes no digit.
EXACT = {"nogil": True, "cache": True, "error_model": "numpy"}


@numba.njit(inline="always")
def _sum_apart(x, mean, by_steps, total):  # type: ignore[no-untyped-def]
    """Distances (CHUNK,) of pixels (bands, CHUNK) from a mean (bands,), squared unless they are
    ``by_steps``, the sums of the bands' differences."""
    total[:] = 0.0
    for b in range(mean.size):
        middle = mean[b]
        if by_steps:
            for p in range(CHUNK):
                total[p] += abs(x[b, p] - middle)
        else:
            for p in range(CHUNK):
                d = x[b, p] - middle
                total[p] += d * d


@numba.njit(
    void(
        read_only(float32, 2),
        read_only(float64, 1),
        read_only(float64, 1),
        read_only(float64, 2),
        boolean,
        float64[:, ::1],
    ),
    **EXACT,
)
def score_nearest(values, centre, factor, means, by_steps, out):  # type: ignore[no-untyped-def]
    """Minus the squared distances (classes, n) of values (bands, n) to means (classes, bands), all
    less ``centre`` times ``factor``; ``by_steps``: Manhattan distances instead of Euclidean."""
    n = values.shape[1]
    x = np.zeros((values.shape[0], CHUNK), np.float64)
    total = np.empty(CHUNK, np.float64)
    for start in range(0, n, CHUNK):
        m = min(CHUNK, n - start)
        set_scaled(values, start, m, centre, factor, x)
        for c in range(means.shape[0]):
            _sum_apart(x, means[c], by_steps, total)
            for p in range(m):
                out[c, start + p] = -total[p] * total[p] if by_steps else -total[p]


@numba.njit(
    void(
        read_only(float32, 2),
        read_only(float64, 2),
        read_only(float64, 2),
        float64,
        float64[:, ::1],
    ),
    **EXACT,
)
def mask_outside(values, low, high, outside, out):  # type: ignore[no-untyped-def]
    """Set scores (classes, n) to ``outside`` where values (bands, n) leave the class's box, whose
    limits (classes, bands) belong to it."""
    n_bands, n = values.shape
    for c in range(low.shape[0]):
        for start in range(0, n, CHUNK):
            m = min(CHUNK, n - start)
            for b in range(n_bands):
                lowest, highest = low[c, b], high[c, b]
                for p in range(start, start + m):
                    value = float64(values[b, p])
                    if not (lowest <= value <= highest):
                        out[c, p] = outside


@numba.njit(
    void(read_only(float32, 2), read_only(float64, 2), float64, float64[:, ::1]),
    **EXACT,
)
def score_cosine(values, directions, outside, out):  # type: ignore[no-untyped-def]
    """Cosines (classes, n) of the angles between values (bands, n) and directions (classes, bands)
    of unit length; ``outside`` for pixels that are zero in every band."""
    n_bands, n = values.shape
    length, total = np.empty(CHUNK, np.float64), np.empty(CHUNK, np.float64)
    x = np.zeros((n_bands, CHUNK), np.float64)
    for start in range(0, n, CHUNK):
        m = min(CHUNK, n - start)
        length[:] = 0.0
        for b in range(n_bands):
            for p in range(m):
                x[b, p] = values[b, start + p]
            for p in range(CHUNK):
                length[p] += x[b, p] * x[b, p]
        for p in range(CHUNK):
            length[p] = 1.0 / np.sqrt(length[p]) if length[p] > 0.0 else 0.0
        for c in range(directions.shape[0]):
            total[:] = 0.0
            for b in range(n_bands):
                along = directions[c, b]
                for p in range(CHUNK):
                    total[p] += x[b, p] * along
            for p in range(m):
                out[c, start + p] = total[p] * length[p] if length[p] > 0 else outside
