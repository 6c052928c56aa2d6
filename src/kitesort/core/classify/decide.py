"""From scores to codes, once for all methods."""

import numba
import numpy as np
from numba import float64, int64, uint16, void

from kitesort.core.group_statistics import Float64Array
from kitesort.core.kernels import read_only
from kitesort.core.legend import UNCLASSIFIED_CODE, CodeArray

CHUNK = 256


def decide(scores: Float64Array, codes: CodeArray, lowest: Float64Array) -> CodeArray:
    """The class with the largest score (classes, n) for each pixel, the first of equals; 255 where
    that score is below the class's lowest."""
    out = np.empty(scores.shape[1], np.uint16)
    _decide(np.ascontiguousarray(scores, np.float64), codes, lowest, out)
    return out


@numba.njit(
    void(
        read_only(float64, 2),
        read_only(uint16, 1),
        read_only(float64, 1),
        uint16[::1],
    ),
    cache=True,
    nogil=True,
)
def _decide(scores, codes, lowest, out):  # type: ignore[no-untyped-def]
    """What ``decide`` makes of scores (classes, n), in one pass."""
    n_classes, n = scores.shape
    top = np.empty(CHUNK, np.float64)
    best = np.empty(CHUNK, np.float64)
    for start in range(0, n, CHUNK):
        m = min(CHUNK, n - start)
        for p in range(m):
            top[p] = scores[0, start + p]
            best[p] = 0.0
        for c in range(1, n_classes):
            here = float64(c)  # of the scores' own width, so that lanes need not part
            for p in range(m):
                value = scores[c, start + p]
                better = value > top[p]
                top[p] = value if better else top[p]
                best[p] = here if better else best[p]
        for p in range(m):
            c = int64(best[p])
            out[start + p] = codes[c] if top[p] >= lowest[c] else UNCLASSIFIED_CODE
