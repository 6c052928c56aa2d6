"""Points that stand for many, and how far pixels are from them, chunk by chunk."""

import numba
import numpy as np
import numpy.typing as npt
from numba import float64, int64, void
from numba.types import Tuple

from kitesort.core.group_statistics import Float64Array
from kitesort.core.kernels import read_only

CHUNK = 512
FAST = {"cache": True, "nogil": True, "error_model": "numpy"}


@numba.njit(**FAST)
def _set_squares(x, points, start, m, away):  # type: ignore[no-untyped-def]
    """Squared distances of one place x (bands,) from m of the points (bands, points)."""
    away[:m] = 0.0
    for b in range(x.size):
        middle, row = x[b], points[b][start : start + m]
        for i in range(m):
            step = row[i] - middle
            away[i] += step * step


@numba.njit(
    void(
        read_only(float64, 2), read_only(int64, 1), read_only(float64, 2), read_only(int64, 1),
        float64[::1],
    ),
    **FAST,
)  # fmt: skip
def _nearest(values, own, points, groups, out):  # type: ignore[no-untyped-def]
    away = np.empty(CHUNK, np.float64)
    for p in range(values.shape[0]):
        least = np.inf
        for start in range(0, points.shape[1], CHUNK):
            m = min(CHUNK, points.shape[1] - start)
            _set_squares(values[p], points, start, m, away)
            for i in range(m):
                if away[i] < least and groups[start + i] != own[p]:
                    least = away[i]
        out[p] = np.sqrt(least)


def nearest_distance(
    values: Float64Array,
    points: Float64Array,
    own: npt.NDArray[np.int64] | None = None,
    groups: npt.NDArray[np.int64] | None = None,
) -> Float64Array:
    """Distance (n,) of each of values (n, bands) to the nearest of points (bands, points); with
    ``own`` (n,) and ``groups`` (points,), to the nearest point of another group than the value's.
    Infinite where there is none."""
    out = np.empty(len(values), np.float64)
    if own is None or groups is None:
        own, groups = np.zeros(len(values), np.int64), np.ones(points.shape[1], np.int64)
    _nearest(np.ascontiguousarray(values), own, points, groups, out)
    return out


@numba.njit(Tuple((int64, float64))(read_only(float64, 2), int64[::1]), **FAST)
def spread_out(points, chosen):  # type: ignore[no-untyped-def]
    """Choose as many of points (bands, points) as ``chosen`` holds, each the one that is furthest
    from those before it, the first of equals; how many there are that differ, and how far from the
    nearest of them any point is at most.

    Source: T. F. Gonzalez 1985, Theoretical Computer Science 38:293-306: no choice of as many has
    half as large a hole.
    """
    n = points.shape[1]
    away, least = np.empty(CHUNK, np.float64), np.full(n, np.inf)
    place, furthest = 0, 0.0
    for k in range(chosen.size):
        chosen[k] = place
        x, furthest = points[:, place].copy(), 0.0
        for start in range(0, n, CHUNK):
            m = min(CHUNK, n - start)
            _set_squares(x, points, start, m, away)
            part = least[start : start + m]
            for i in range(m):
                part[i] = away[i] if away[i] < part[i] else part[i]
            for i in range(m):
                if part[i] > furthest:
                    furthest, place = part[i], start + i
        if furthest == 0.0:
            return k + 1, 0.0
    return chosen.size, np.sqrt(furthest)
