"""Fused kernel: the largest quadratic discriminant of each pixel, without whole-scene arrays."""

import numba
import numpy as np
from numba import float32, float64, int64, uint16, void

from kitesort.core.kernels import read_only

# Matrix products below this size stay in the calling thread, which keeps engine threads apart.
SMALL_PRODUCT = 200_000
FAST = {"contract", "reassoc", "nsz"}  # sums may be reordered; NaN and infinity keep their meaning


def chunk_size(n_classes: int, n_features: int) -> int:
    """Pixels worked on together: a multiple of 8 that fits the caches, 8 to 256."""
    return max(8, min(256, SMALL_PRODUCT // (n_classes * n_features)) // 8 * 8)


@numba.njit(cache=True, nogil=True, fastmath=FAST, error_model="numpy")
def _set_features(values, start, m, centre, scale, x, features):  # type: ignore[no-untyped-def]
    """Products of each two bands, the bands, and 1, of m centred and scaled pixels."""
    n_bands = values.shape[0]
    for b in range(n_bands):
        for p in range(m):
            x[b, p] = (values[b, start + p] - centre[b]) * scale[b]
    f = 0
    for i in range(n_bands):
        for j in range(i + 1):
            for p in range(m):
                features[f, p] = x[i, p] * x[j, p]
            f += 1
    for i in range(n_bands):
        features[f + i, :m] = x[i, :m]
    features[f + n_bands, :m] = 1.0


@numba.njit(cache=True, nogil=True, fastmath=FAST, error_model="numpy", inline="always")
def _set_scores(values, start, m, centre, scale, coefficients, x, features, scores):  # type: ignore[no-untyped-def]
    """Discriminants (classes, m) of m pixels."""
    _set_features(values, start, m, centre, scale, x, features)
    np.dot(coefficients, features, scores)


@numba.njit(
    void(
        read_only(float32, 2),
        read_only(float64, 1),
        read_only(float64, 1),
        read_only(float64, 2),
        read_only(float64, 1),
        read_only(uint16, 1),
        int64,
        uint16[::1],
    ),
    cache=True,
    nogil=True,
    fastmath=FAST,
    error_model="numpy",
)
def classify_quadratic(values, centre, scale, coefficients, lowest, codes, chunk, out):  # type: ignore[no-untyped-def]
    """Write the code of the class with the largest discriminant for every pixel.

    values (bands, n); centre and scale (bands,); coefficients (classes, features) of the products
    of bands i ≥ j, the bands, and 1; codes (classes,). A pixel whose best discriminant is below
    lowest (classes,) gets 255. Ties go to the class that comes first.
    """
    n_bands, n = values.shape
    n_classes, n_features = coefficients.shape
    x = np.zeros((n_bands, chunk), np.float64)
    features = np.zeros((n_features, chunk), np.float64)
    scores = np.empty((n_classes, chunk), np.float64)
    for start in range(0, n, chunk):
        m = min(chunk, n - start)
        _set_scores(values, start, m, centre, scale, coefficients, x, features, scores)
        for p in range(m):
            best = 0
            for c in range(1, n_classes):
                if scores[c, p] > scores[best, p]:
                    best = c
            out[start + p] = codes[best] if scores[best, p] >= lowest[best] else 255


@numba.njit(
    void(
        read_only(float32, 2),
        read_only(float64, 1),
        read_only(float64, 1),
        read_only(float64, 2),
        int64,
        float64[:, ::1],
    ),
    cache=True,
    nogil=True,
    fastmath=FAST,
    error_model="numpy",
)
def score_quadratic(values, centre, scale, coefficients, chunk, out):  # type: ignore[no-untyped-def]
    """The discriminants (classes, n) that ``classify_quadratic`` compares, by the same sums."""
    n_bands, n = values.shape
    n_classes, n_features = coefficients.shape
    x = np.zeros((n_bands, chunk), np.float64)
    features = np.zeros((n_features, chunk), np.float64)
    scores = np.empty((n_classes, chunk), np.float64)
    for start in range(0, n, chunk):
        m = min(chunk, n - start)
        _set_scores(values, start, m, centre, scale, coefficients, x, features, scores)
        out[:, start : start + m] = scores[:, :m]
