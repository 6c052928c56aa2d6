"""The nearest mean of each pixel: in single precision where that cannot err, else in double."""

import numba
import numpy as np
import numpy.typing as npt
from numba import boolean, float32, float64, int32, uint16, void

from kitesort.core.group_statistics import Float64Array
from kitesort.core.kernels import read_only
from kitesort.core.legend import UNCLASSIFIED_CODE, CodeArray

CHUNK = 512
BANDS, CLASSES = 6, 2  # taken at once: what is loaded and stored takes longer than the sums
ROUNDING = 2.0**-24  # what rounding to single precision adds to a number near 1, at most
FAST = {"nogil": True, "cache": True, "error_model": "numpy"}


def classify_nearest(
    values: npt.NDArray[np.float32],
    centre: Float64Array,
    factor: Float64Array,
    means: Float64Array,
    by_steps: bool,
    codes: CodeArray,
    furthest: Float64Array,
) -> CodeArray:
    """What ``decide`` makes of minus the squared distances of values (bands, n), less ``centre``
    times ``factor``, to means (classes, bands): the code (n,) of the nearest, the first of equals;
    255 beyond its ``furthest`` (classes,) distance, squared unless they are ``by_steps``.

    Distances are worked out in single precision first; of squared ones half of what classes differ
    in, ½ m'm - x'm. Where the second nearest, or the limit, is not further off than rounding can
    reach, the pixel is decided in double precision.
    """
    out = np.empty(values.shape[1], np.uint16)
    n_classes, n_bands = means.shape
    shape = -(-n_classes // CLASSES) * CLASSES, -(-n_bands // BANDS) * BANDS
    places, halves = np.zeros(shape, np.float32), np.full(shape[0], np.inf, np.float32)
    told, limits = np.zeros(shape[0], np.float32), np.full(int(codes.max()) + 1, np.inf)
    told[:n_classes], limits[codes] = codes, furthest
    with np.errstate(over="ignore"):  # what is beyond single precision is decided in double
        places[:n_classes, :n_bands] = means
        halves[:n_classes] = 0 if by_steps else (means**2).sum(axis=1) / 2
    _classify(
        values, places, halves, told, centre, factor, means, by_steps, codes, limits, out
    )  # fmt: skip
    return out


@numba.njit(**FAST)
def _exactly(values, p, centre, factor, means, by_steps, codes, limits):  # type: ignore[no-untyped-def]
    """The code of one pixel, with the sums of the scores themselves."""
    best, nearest = 0, np.nan
    for c in range(means.shape[0]):
        total = 0.0
        for b in range(means.shape[1]):
            d = (values[b, p] - centre[b]) * factor[b] - means[c, b]
            total += abs(d) if by_steps else d * d
        if c == 0 or total < nearest:
            best, nearest = c, total
    return codes[best] if nearest <= limits[codes[best]] else uint16(UNCLASSIFIED_CODE)


@numba.njit(**FAST, fastmath={"contract"})
def _set_scaled(values, start, m, centre, factor, x, largest):  # type: ignore[no-untyped-def]
    """m pixels of (bands, n) on the scale of the means; of each the largest number, signs aside."""
    for p in range(m):
        largest[p] = float32(0)
    for b in range(centre.size):
        middle, times = float32(centre[b]), float32(factor[b])
        row, scaled = values[b][start : start + m], x[b]
        for p in range(m):
            one = (row[p] - middle) * times
            scaled[p], size = one, abs(one)
            largest[p] = size if size > largest[p] else largest[p]


@numba.njit(**FAST, fastmath={"contract"})
def _set_lengths(x, m, n_bands, lengths):  # type: ignore[no-untyped-def]
    """Squared, of each of m pixels."""
    for p in range(m):
        lengths[p] = float32(0)
    for b in range(n_bands):
        row = x[b]
        for p in range(m):
            lengths[p] += row[p] * row[p]


@numba.njit(**FAST, fastmath={"contract"})
def _take_products(x, b, m, mean, other, total, further):  # type: ignore[no-untyped-def]
    """Take six bands' products with the means of two classes from the totals."""
    u, v, w, k, q, r = mean[b], mean[b + 1], mean[b + 2], mean[b + 3], mean[b + 4], mean[b + 5]
    a, c, d, e, f, g = (
        other[b],
        other[b + 1],
        other[b + 2],
        other[b + 3],
        other[b + 4],
        other[b + 5],
    )
    x1, x2, x3, x4, x5, x6 = x[b], x[b + 1], x[b + 2], x[b + 3], x[b + 4], x[b + 5]
    for p in range(m):
        y1, y2, y3, y4, y5, y6 = x1[p], x2[p], x3[p], x4[p], x5[p], x6[p]
        total[p] = total[p] - u * y1 - v * y2 - w * y3 - k * y4 - q * y5 - r * y6
        further[p] = further[p] - a * y1 - c * y2 - d * y3 - e * y4 - f * y5 - g * y6


@numba.njit(**FAST)
def _add_steps(x, m, mean, n_bands, total):  # type: ignore[no-untyped-def]
    """Manhattan distances of m pixels from a mean (bands,)."""
    for b in range(n_bands):
        middle, row = mean[b], x[b]
        for p in range(m):
            total[p] += abs(row[p] - middle)


@numba.njit(**FAST)
def _keep_nearest(total, further, m, one, two, nearest, second, best):  # type: ignore[no-untyped-def]
    """Take in how far two more classes are: the nearest, the second nearest, and the code of the
    nearest, as a number of the distances' own width, so that lanes need not part."""
    for p in range(m):
        here, there, n, s = total[p], further[p], nearest[p], second[p]
        low = here if here < there else there
        high = there if here < there else here
        which = one if here < there else two
        behind = n if low < n else low
        behind = behind if behind < high else high
        second[p] = behind if behind < s else s
        nearest[p] = low if low < n else n
        best[p] = which if low < n else best[p]


@numba.njit(**FAST)
def _greatest(row, m):  # type: ignore[no-untyped-def]
    """Of numbers that are none below 0, whose bits are in the same order; those of what is no
    number come last."""
    bits = row.view(np.int32)
    found = int32(0)
    for p in range(m):
        found = bits[p] if bits[p] > found else found
    for p in range(m):
        if bits[p] == found:
            return float64(row[p])
    return np.inf


@numba.njit(
    void(
        read_only(float32, 2),
        read_only(float32, 2),
        read_only(float32, 1),
        read_only(float32, 1),
        read_only(float64, 1),
        read_only(float64, 1),
        read_only(float64, 2),
        boolean,
        read_only(uint16, 1),
        read_only(float64, 1),
        uint16[::1],
    ),
    **FAST,
)
def _classify(  # type: ignore[no-untyped-def]
    values, places, halves, told, centre, factor, means, by_steps, codes, limits, out
):
    n, n_bands = values.shape[1], means.shape[1]
    x = np.zeros((places.shape[1], CHUNK), np.float32)
    nearest, second = np.empty(CHUNK, np.float32), np.empty(CHUNK, np.float32)
    best, total = np.empty(CHUNK, np.float32), np.empty(CHUNK, np.float32)
    further, largest = np.empty(CHUNK, np.float32), np.empty(CHUNK, np.float32)
    limited = not np.isinf(limits).all()
    reach, offset = np.abs(means).max(), np.abs(centre * factor).max()
    for start in range(0, n, CHUNK):
        m = min(CHUNK, n - start)
        _set_scaled(values, start, m, centre, factor, x, largest)
        nearest[:] = np.inf
        second[:] = np.inf
        best[:] = 0
        for c in range(0, places.shape[0], CLASSES):
            total[:] = halves[c]
            further[:] = halves[c + 1]
            if by_steps:
                _add_steps(x, m, places[c], n_bands, total)
                _add_steps(x, m, places[c + 1], n_bands, further)
            else:
                for b in range(0, places.shape[1], BANDS):
                    _take_products(x, b, m, places[c], places[c + 1], total, further)
            _keep_nearest(total, further, m, told[c], told[c + 1], nearest, second, best)
        # A sum of n terms is no further from what it should be than n + 8 roundings of the largest,
        # and what the centre's own rounding moves.
        side = _greatest(largest, m) + reach
        rounded = ROUNDING * n_bands * ((n_bands + 8) * side + 4 * offset)
        away = float32(2 * rounded * (1.0 if by_steps else side))
        n_sure, found = 0, out[start : start + m]
        for p in range(m):
            n_sure += int32(1) if second[p] - nearest[p] > away else int32(0)
            found[p] = uint16(best[p])
        if n_sure == m and not limited:
            continue
        _set_lengths(x, m, n_bands, total)
        for p in range(m):
            far = float64(nearest[p]) if by_steps else float64(total[p]) + 2 * nearest[p]
            limit = limits[found[p]]
            if not (second[p] - nearest[p] > away and abs(far - limit) > away):
                found[p] = _exactly(
                    values, start + p, centre, factor, means, by_steps, codes, limits
                )
            elif far > limit:
                found[p] = UNCLASSIFIED_CODE
