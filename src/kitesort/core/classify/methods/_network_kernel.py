"""A pixel through the layers of a network."""

from itertools import pairwise

import numba
import numpy as np
from numba import float32, float64, int64, void

from kitesort.core.classify.scale import set_scaled
from kitesort.core.kernels import read_only

SMALL_PRODUCT = 200_000  # matrix products below this size stay in the calling thread
LONGEST = 256


def chunk_size(widths: list[int]) -> int:
    """Pixels that go through together: a multiple of 8, 8 to 256."""
    largest = max(a * b for a, b in pairwise(widths))
    return max(8, min(LONGEST, SMALL_PRODUCT // largest) // 8 * 8)


@numba.njit(
    void(
        read_only(float32, 2),
        read_only(float64, 1),
        read_only(float64, 1),
        read_only(int64, 1),
        read_only(float64, 1),
        read_only(float64, 1),
        int64,
        float64[:, ::1],
    ),
    cache=True,
    nogil=True,
    error_model="numpy",
)
def run_network(values, centre, factor, widths, weights, biases, chunk, out):  # type: ignore[no-untyped-def]
    """The last layer's values (classes, n), before they become shares, of pixels (bands, n).

    ``weights``: of each layer (width, width before), one after another; ``biases`` alike. Layers
    but the last cut off what is below zero. Products are always of whole chunks, so that a pixel's
    place changes no digit.
    """
    n_bands, n = values.shape
    x = np.zeros((n_bands, chunk), np.float64)
    for start in range(0, n, chunk):
        m = min(chunk, n - start)
        set_scaled(values, start, m, centre, factor, x)
        now = x
        at_weight = 0
        at_bias = 0
        for layer in range(1, widths.size):
            before, width = widths[layer - 1], widths[layer]
            matrix = weights[at_weight : at_weight + width * before].reshape(width, before)
            made = np.dot(matrix, now)
            last = layer == widths.size - 1
            for i in range(width):
                bias = biases[at_bias + i]
                for p in range(chunk):
                    value = made[i, p] + bias
                    made[i, p] = value if last else max(value, 0.0)
            at_weight += width * before
            at_bias += width
            now = made
        for c in range(out.shape[0]):
            for p in range(m):
                out[c, start + p] = now[c, p]
