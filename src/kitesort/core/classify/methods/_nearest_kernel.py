"""The nearest mean of each pixel: in single precision where that cannot err, else in double."""

import numba
import numpy as np
import numpy.typing as npt
from numba import boolean, float32, float64, int64, uint8, void

from kitesort.core.group_statistics import Float64Array
from kitesort.core.kernels import read_only
from kitesort.core.legend import UNCLASSIFIED_CODE

CHUNK = 256
ROUNDING = 2.0**-24  # what rounding to single precision adds to a number near 1, at most
SAFE = 16.0  # times the rounding that a sum of one layer can gather, scaling included
FAST = {"nogil": True, "cache": True, "error_model": "numpy"}


def classify_nearest(
    values: npt.NDArray[np.float32],
    centre: Float64Array,
    factor: Float64Array,
    means: Float64Array,
    by_steps: bool,
    codes: npt.NDArray[np.uint8],
    furthest: Float64Array,
) -> npt.NDArray[np.uint8]:
    """What ``decide`` makes of minus the squared distances of values (bands, n), less ``centre``
    times ``factor``, to means (classes, bands): the code (n,) of the nearest, the first of equals;
    255 beyond its ``furthest`` (classes,) distance, squared unless they are ``by_steps``.

    Distances are worked out in single precision first. Where the second nearest, or the limit, is
    not further off than rounding can reach, the pixel is decided in double precision.
    """
    out = np.empty(values.shape[1], np.uint8)
    if out.size == 0:
        return out
    places = means / factor + centre  # where the means lie among the values as they are
    size = np.maximum(values.max(axis=1), -values.min(axis=1)).astype(np.float64)
    reach = float((factor * (size + np.abs(centre) + np.abs(places).max(axis=0))).max())
    weights = factor if by_steps else factor**2
    _classify(
        values, places.astype(np.float32), weights.astype(np.float32), reach,
        centre, factor, means, by_steps, codes, furthest, out,
    )  # fmt: skip
    return out


@numba.njit(**FAST)
def _exactly(values, p, centre, factor, means, by_steps, codes, furthest):  # type: ignore[no-untyped-def]
    """The code of one pixel, with the sums of the scores themselves."""
    best, nearest = 0, np.nan
    for c in range(means.shape[0]):
        total = 0.0
        for b in range(means.shape[1]):
            d = (values[b, p] - centre[b]) * factor[b] - means[c, b]
            total += abs(d) if by_steps else d * d
        if c == 0 or total < nearest:
            best, nearest = c, total
    return codes[best] if nearest <= furthest[best] else uint8(UNCLASSIFIED_CODE)


@numba.njit(**FAST, fastmath={"contract"})
def _set_squares(values, start, m, place, weights, total):  # type: ignore[no-untyped-def]
    """Squared distances of m pixels of (bands, n) from a place (bands,). Three bands at once: what
    is loaded and stored takes longer than the sums."""
    n_bands = place.size
    n_threes = n_bands - n_bands % 3
    for p in range(m):
        total[p] = float32(0)
    for b in range(0, n_threes, 3):
        first, second, third = place[b], place[b + 1], place[b + 2]
        u, v, w = weights[b], weights[b + 1], weights[b + 2]
        x, y = values[b][start : start + m], values[b + 1][start : start + m]
        z = values[b + 2][start : start + m]
        for p in range(m):
            d, e, f = x[p] - first, y[p] - second, z[p] - third
            total[p] += u * (d * d) + v * (e * e) + w * (f * f)
    for b in range(n_threes, n_bands):
        middle, weight, x = place[b], weights[b], values[b][start : start + m]
        for p in range(m):
            d = x[p] - middle
            total[p] += weight * (d * d)


@numba.njit(**FAST)
def _set_steps(values, start, m, place, weights, total):  # type: ignore[no-untyped-def]
    """Manhattan distances of m pixels of (bands, n) from a place (bands,)."""
    for p in range(m):
        total[p] = float32(0)
    for b in range(place.size):
        middle, weight, x = place[b], weights[b], values[b][start : start + m]
        for p in range(m):
            total[p] += weight * abs(x[p] - middle)


@numba.njit(**FAST)
def _keep_nearest(total, m, here, nearest, second, best):  # type: ignore[no-untyped-def]
    """Take in how far one more class is: the nearest, the second nearest, and which the nearest
    is, as a number of the distances' own width, so that lanes need not part."""
    for p in range(m):
        t, n, s = total[p], nearest[p], second[p]
        behind = n if t < n else t
        second[p] = behind if behind < s else s
        nearest[p] = t if t < n else n
        best[p] = here if t < n else best[p]


@numba.njit(**FAST)
def _greatest(row, m):  # type: ignore[no-untyped-def]
    found = row[0]
    for p in range(1, m):
        found = row[p] if row[p] > found else found
    return float64(found)


@numba.njit(
    void(
        read_only(float32, 2),
        read_only(float32, 2),
        read_only(float32, 1),
        float64,
        read_only(float64, 1),
        read_only(float64, 1),
        read_only(float64, 2),
        boolean,
        read_only(uint8, 1),
        read_only(float64, 1),
        uint8[::1],
    ),
    **FAST,
)
def _classify(  # type: ignore[no-untyped-def]
    values, places, weights, reach, centre, factor, means, by_steps, codes, furthest, out
):
    n_bands, n = values.shape
    nearest, second = np.empty(CHUNK, np.float32), np.empty(CHUNK, np.float32)
    best, total = np.empty(CHUNK, np.float32), np.empty(CHUNK, np.float32)
    limited = not np.isinf(furthest).all()
    for start in range(0, n, CHUNK):
        m = min(CHUNK, n - start)
        nearest[:] = np.inf
        second[:] = np.inf
        best[:] = 0
        for c in range(places.shape[0]):
            if by_steps:
                _set_steps(values, start, m, places[c], weights, total)
            else:
                _set_squares(values, start, m, places[c], weights, total)
            _keep_nearest(total, m, float32(c), nearest, second, best)
        far = _greatest(nearest, m)
        side = reach if by_steps else (reach + np.sqrt(far)) * (reach + np.sqrt(far))
        away = float32(SAFE * ROUNDING * n_bands * side)
        n_sure, told = 0, out[start : start + m]
        for p in range(m):
            n_sure += 1 if second[p] - nearest[p] > away else 0
            told[p] = codes[uint8(best[p])]
        if n_sure == m and not limited:
            continue
        for p in range(m):
            room = abs(float64(nearest[p]) - furthest[int64(best[p])])
            if not (second[p] - nearest[p] > away and room > away):
                told[p] = _exactly(
                    values, start + p, centre, factor, means, by_steps, codes, furthest
                )
            elif nearest[p] > furthest[int64(best[p])]:
                told[p] = UNCLASSIFIED_CODE
