"""The nearest centre of each pixel of a sample."""

import numba
import numpy as np
import numpy.typing as npt
from numba import boolean, float64, int64, void

from kitesort.core.cluster.protocol import Distance
from kitesort.core.group_statistics import Float64Array
from kitesort.core.kernels import read_only

Labels = npt.NDArray[np.int64]


def assign(
    pixels: Float64Array, centres: Float64Array, distance: Distance = "euclidean"
) -> tuple[Labels, Float64Array]:
    """Number of the nearest centre (n,), the first of equals, and how far it is (n,): squared where
    distances are Euclidean. Pixels (n, bands), centres (clusters, bands)."""
    labels, away = np.empty(len(pixels), np.int64), np.empty(len(pixels))
    _assign(
        np.ascontiguousarray(pixels), np.ascontiguousarray(centres),
        distance == "manhattan", labels, away,
    )  # fmt: skip
    return labels, away


@numba.njit(
    void(read_only(float64, 2), read_only(float64, 2), boolean, int64[::1], float64[::1]),
    nogil=True, cache=True, error_model="numpy",
)  # fmt: skip
def _assign(pixels, centres, by_steps, labels, away):  # type: ignore[no-untyped-def]
    n, n_bands = pixels.shape
    for p in range(n):
        best, nearest = 0, np.inf
        for c in range(centres.shape[0]):
            d = 0.0
            for b in range(n_bands):
                step = pixels[p, b] - centres[c, b]
                d += abs(step) if by_steps else step * step
            if d < nearest:
                best, nearest = c, d
        labels[p], away[p] = best, nearest


@numba.njit(
    void(read_only(float64, 2), float64[:, ::1], read_only(int64, 1), float64, float64),
    nogil=True, cache=True, error_model="numpy",
)  # fmt: skip
def learn_by_turns(pixels, centres, order, rate, end):  # type: ignore[no-untyped-def]
    """Each pixel in its turn draws the centre that wins it a part of the way; the part falls from
    ``rate`` to ``end``. Who has won often must be nearer to win again, so that none stays idle."""
    k, n_bands = centres.shape
    won = np.ones(k)
    for turn in range(order.size):
        p = order[turn]
        share = rate + (end - rate) * turn / order.size
        best, nearest = 0, np.inf
        for c in range(k):
            d = 0.0
            for b in range(n_bands):
                step = pixels[p, b] - centres[c, b]
                d += step * step
            d *= won[c]
            if d < nearest:
                best, nearest = c, d
        won[best] += 1.0
        for b in range(n_bands):
            centres[best, b] += share * (pixels[p, b] - centres[best, b])
