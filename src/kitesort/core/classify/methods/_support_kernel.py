"""Decision values of support vector machines, class against class."""

import numba
import numpy as np
from numba import float32, float64, int64, void

from kitesort.core.classify.scale import set_scaled
from kitesort.core.kernels import read_only

CHUNK = 64
# 2**f on [-0.5, 0.5] by its Taylor series, good to the last digit of double precision.
POWERS = np.array([np.log(2) ** i / np.prod(np.arange(1.0, i + 1)) for i in range(14)])
TO_WHOLE = 1.5 * 2.0**52  # added to a small number it leaves the nearest whole one in the low bits
LOG2_E = float(np.log2(np.e))
LEAST_POWER = -1000.0


@numba.njit(cache=True, nogil=True, fastmath={"contract"}, error_model="numpy", inline="always")
def _measure(x, vectors, v, near):  # type: ignore[no-untyped-def]
    """Squared distances (CHUNK,) of a whole chunk of pixels (bands, CHUNK) from one vector."""
    near[:] = 0.0
    for b in range(x.shape[0]):
        at = vectors[v, b]
        for p in range(CHUNK):
            d = x[b, p] - at
            near[p] += d * d


@numba.njit(cache=True, nogil=True, fastmath={"contract"}, error_model="numpy", inline="always")
def _exponential(near, times, shifted, bits):  # type: ignore[no-untyped-def]
    """Replace squared distances (CHUNK,) by two to the power of ``times`` (negative) them.

    ``bits`` are those of ``shifted``, whose whole part becomes an exponent there.
    """
    for p in range(CHUNK):
        power = max(times * near[p], LEAST_POWER)
        shifted[p] = power + TO_WHOLE
        near[p] = power - (shifted[p] - TO_WHOLE)
    for p in range(CHUNK):
        bits[p] = (bits[p] + 1023) << 52
    for p in range(CHUNK):
        f = near[p]
        value = POWERS[13]
        value = value * f + POWERS[12]
        value = value * f + POWERS[11]
        value = value * f + POWERS[10]
        value = value * f + POWERS[9]
        value = value * f + POWERS[8]
        value = value * f + POWERS[7]
        value = value * f + POWERS[6]
        value = value * f + POWERS[5]
        value = value * f + POWERS[4]
        value = value * f + POWERS[3]
        value = value * f + POWERS[2]
        value = value * f + POWERS[1]
        value = value * f + POWERS[0]
        near[p] = value * shifted[p]


@numba.njit(
    void(
        read_only(float32, 2),
        read_only(float64, 1),
        read_only(float64, 1),
        read_only(float64, 2),
        read_only(float64, 2),
        read_only(int64, 1),
        float64,
        float64[:, :, ::1],
    ),
    cache=True,
    nogil=True,
    fastmath={"contract"},
    error_model="numpy",
)
def sum_radial(values, centre, factor, vectors, weights, of_class, gamma, out):  # type: ignore[no-untyped-def]
    """Sums (classes, classes - 1, n) of the weights (classes - 1, vectors) of each class's vectors
    (vectors, bands) times exp(-gamma d²), d the distance of a pixel of (bands, n) to the vector.

    ``of_class`` (vectors,) the place of each vector's class. Pixels go through in chunks of one
    length, so that their place changes no digit.
    """
    n_bands, n = values.shape
    n_rows = weights.shape[0]
    n_classes = out.shape[0]
    x = np.zeros((n_bands, CHUNK), np.float64)
    near = np.empty(CHUNK, np.float64)
    shifted = np.empty(CHUNK, np.float64)
    bits = shifted.view(np.int64)
    sums = np.empty((n_classes, n_rows, CHUNK), np.float64)
    for start in range(0, n, CHUNK):
        m = min(CHUNK, n - start)
        set_scaled(values, start, m, centre, factor, x)
        sums[:] = 0.0
        for v in range(vectors.shape[0]):
            _measure(x, vectors, v, near)
            _exponential(near, -gamma * LOG2_E, shifted, bits)
            c = of_class[v]
            for r in range(n_rows):
                weight = weights[r, v]
                for p in range(CHUNK):
                    sums[c, r, p] += weight * near[p]
        for c in range(n_classes):
            for r in range(n_rows):
                for p in range(m):
                    out[c, r, start + p] = sums[c, r, p]


@numba.njit(
    void(read_only(float64, 3), read_only(float64, 1), float64[:, ::1]),
    cache=True,
    nogil=True,
    error_model="numpy",
)
def tally(sums, intercept, out):  # type: ignore[no-untyped-def]
    """Votes (classes, n) of all pairs of classes, and less than a third of one more for how clearly
    they were won; ``sums`` (classes, classes - 1, n), ``intercept`` (pairs,)."""
    n_classes, _, n = sums.shape
    clear = np.empty(n_classes, np.float64)
    for p in range(n):
        clear[:] = 0.0
        for c in range(n_classes):
            out[c, p] = 0.0
        pair = 0
        for i in range(n_classes):
            for j in range(i + 1, n_classes):
                value = sums[i, j - 1, p] + sums[j, i, p] + intercept[pair]
                if value > 0:
                    out[i, p] += 1
                else:
                    out[j, p] += 1
                clear[i] += value
                clear[j] -= value
                pair += 1
        for c in range(n_classes):
            out[c, p] += clear[c] / (3 * (abs(clear[c]) + 1))


@numba.njit(
    void(
        read_only(float32, 2),
        read_only(float64, 1),
        read_only(float64, 1),
        read_only(float64, 3),
        float64[:, :, ::1],
    ),
    cache=True,
    nogil=True,
    error_model="numpy",
)
def sum_linear(values, centre, factor, weights, out):  # type: ignore[no-untyped-def]
    """Sums (classes, classes - 1, n) of pixels (bands, n) weighed (classes, classes - 1, bands)."""
    n_bands, n = values.shape
    n_classes, n_rows, _ = weights.shape
    x = np.zeros((n_bands, CHUNK), np.float64)
    for start in range(0, n, CHUNK):
        m = min(CHUNK, n - start)
        set_scaled(values, start, m, centre, factor, x)
        for c in range(n_classes):
            for r in range(n_rows):
                for p in range(m):
                    out[c, r, start + p] = 0.0
                for b in range(n_bands):
                    weight = weights[c, r, b]
                    for p in range(m):
                        out[c, r, start + p] += weight * x[b, p]
