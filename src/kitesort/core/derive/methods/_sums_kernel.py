"""Sums and products of valid pixels in one go: what means and covariances are made of."""

import numba
import numpy as np
import numpy.typing as npt
from numba import boolean, float32, float64, int64

from kitesort.core.kernels import read_only

CHUNK = 2048  # a chunk's product with itself stays in the calling thread
Float64 = npt.NDArray[np.float64]


@numba.njit(
    int64(
        read_only(float32, 2), read_only(boolean, 1), read_only(float64, 1), float64[::1],
        float64[:, ::1], float64[:, ::1],
    ),
    nogil=True, cache=True,
)  # fmt: skip
def add_sums(
    values: npt.NDArray[np.float32],
    valid: npt.NDArray[np.bool_],
    shift: Float64,
    sums: Float64,
    products: Float64,
    ends: Float64,
) -> int:
    """Add the valid pixels of ``values`` (bands, n), less ``shift`` (bands,), to ``sums`` (bands,)
    and ``products`` (bands, bands), and widen ``ends`` (2, bands); how many they were."""
    n_bands, n_pixels = values.shape
    x = np.empty((n_bands, CHUNK), np.float64)
    n_valid = 0
    for first in range(0, n_pixels, CHUNK):
        n = min(CHUNK, n_pixels - first)
        for j in range(n_bands):
            low, high, total = ends[0, j], ends[1, j], 0.0
            for i in range(n):
                if valid[first + i]:
                    value = np.float64(values[j, first + i])
                    low, high = min(low, value), max(high, value)
                    x[j, i] = value - shift[j]
                    total += x[j, i]
                else:
                    x[j, i] = 0.0
            ends[0, j], ends[1, j] = low, high
            sums[j] += total
            x[j, n:] = 0.0
        for i in range(n):
            n_valid += valid[first + i]
        products += np.dot(x, x.T)
    return n_valid
