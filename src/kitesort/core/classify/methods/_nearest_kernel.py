"""The nearest mean of each pixel: in single precision where that cannot err, else in double."""

from dataclasses import dataclass
from functools import cached_property

import numba
import numpy as np
import numpy.typing as npt
from numba import boolean, float32, float64, int32, uint16, void

from kitesort.core.group_statistics import Float64Array
from kitesort.core.kernels import read_only
from kitesort.core.legend import UNCLASSIFIED_CODE, CodeArray

CHUNK = 1024
BANDS, CLASSES = 6, 2  # taken at once: what is loaded and stored takes longer than the sums
LARGEST = 1e37  # sums that are larger may be beyond single precision
ROUNDING = 2.0**-24  # what rounding to single precision adds to a number near 1, at most
FAST = {"nogil": True, "cache": True, "error_model": "numpy"}
Float32Array = npt.NDArray[np.float32]


@dataclass(frozen=True)
class NearestMeans:
    """``means`` (classes, bands) of values less ``centre`` times ``factor``, and the ``codes`` of
    pixels that are nearest to each; 255 beyond its ``furthest`` (classes,) distance, squared unless
    they are ``by_steps``."""

    centre: Float64Array
    factor: Float64Array
    means: Float64Array
    by_steps: bool
    codes: CodeArray
    furthest: Float64Array

    def classify(self, values: Float32Array) -> CodeArray:
        """What ``decide`` makes of minus the squared distances of values (bands, n): the code (n,)
        of the nearest mean, the first of equals.

        Distances are worked out in single precision first, see ``_Terms``. Where the second
        nearest, or the limit, is not further off than rounding can reach, the pixel is decided in
        double precision.
        """
        out, terms = np.empty(values.shape[1], np.uint16), self._terms
        _classify(
            values, values.view(np.int32), terms.places, terms.starts, terms.told, terms.weights,
            terms.most, self.centre, self.factor, self.means, self.by_steps, self.codes,
            terms.limits, out,
        )  # fmt: skip
        return out

    @cached_property
    def _terms(self) -> "_Terms":
        n_classes, n_bands = self.means.shape
        shape = -(-n_classes // CLASSES) * CLASSES, -(-n_bands // BANDS) * BANDS
        places, starts = np.zeros(shape, np.float32), np.full(shape[0], np.inf, np.float32)
        told, limits = np.zeros(shape[0], np.float32), np.full(int(self.codes.max()) + 1, np.inf)
        told[:n_classes], limits[self.codes] = self.codes, self.furthest
        with np.errstate(over="ignore", invalid="ignore"):  # beyond single precision: double tells
            exact, first, weights, most = self._steps() if self.by_steps else self._products()
            places[:n_classes, :n_bands], starts[:n_classes] = exact, first
        if not (np.isfinite(places).all() and np.isfinite(starts[:n_classes]).all()):
            most = np.inf
        return _Terms(places, starts, told, weights, most, limits)

    def _steps(self) -> tuple[Float64Array, Float64Array, Float64Array, float]:
        exact, weights = self.means / self.factor + self.centre, np.abs(self.factor)
        most = float((np.abs(exact).max(axis=0) * weights).sum())
        return exact, np.zeros(len(exact)), weights, most

    def _products(self) -> tuple[Float64Array, Float64Array, Float64Array, float]:
        exact = self.means * self.factor
        first = (self.means**2).sum(axis=1) / 2 + exact @ self.centre
        return exact, first, np.abs(exact).max(axis=0), float(np.abs(first).max())


@dataclass(frozen=True)
class _Terms:
    """What a distance is made of, straight from the values of a pixel x. Squared, half of what
    classes differ in, ½ m'm - s'm of s = (x - centre) factor, is a number of the class's own less
    the products of x with its ``places`` (classes, bands); by steps, the sum of ``weights``
    (bands,) times what x is away from the places. ``starts`` (classes,): the former numbers, or 0.
    Both are filled up to whole groups of classes and bands: with classes infinitely far away, and
    bands that weigh nothing. ``told`` (classes,): the codes, ``limits``: the furthest by code.

    No partial sum is larger than ``most`` + Σ weight |x|, signs aside.
    """

    places: Float32Array
    starts: Float32Array
    told: Float32Array
    weights: Float64Array
    most: float
    limits: Float64Array


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


@numba.njit(**FAST)
def _greatest(bits, found):  # type: ignore[no-untyped-def]
    """Of single numbers, signs aside, by their bits, which are in the same order; those of what is
    no number come last."""
    for p in range(bits.size):
        size = int32(bits[p] & int32(0x7FFFFFFF))
        found = size if size > found else found
    return found


@numba.njit(**FAST, fastmath={"contract"})
def _set_lengths(values, start, m, centre, factor, lengths):  # type: ignore[no-untyped-def]
    """Squared, of each of m pixels on the scale of the means."""
    lengths[:m] = float32(0)
    for b in range(centre.size):
        middle, times, row = float32(centre[b]), float32(factor[b]), values[b][start : start + m]
        for p in range(m):
            one = (row[p] - middle) * times
            lengths[p] += one * one


@numba.njit(**FAST)
def _rows(values, b, start, end):  # type: ignore[no-untyped-def]
    """Six bands from b on; the last one again in the place of those that there are not."""
    last = values.shape[0] - 1
    return (
        values[min(b, last)][start:end], values[min(b + 1, last)][start:end],
        values[min(b + 2, last)][start:end], values[min(b + 3, last)][start:end],
        values[min(b + 4, last)][start:end], values[min(b + 5, last)][start:end],
    )  # fmt: skip


@numba.njit(**FAST, fastmath={"contract"})
def _take_products(rows, m, b, mean, other, total, further):  # type: ignore[no-untyped-def]
    """Take six bands' products with the places of two classes from the totals."""
    x1, x2, x3, x4, x5, x6 = rows
    u, v, w, k, q, r = mean[b], mean[b + 1], mean[b + 2], mean[b + 3], mean[b + 4], mean[b + 5]
    a, c, d, e = other[b], other[b + 1], other[b + 2], other[b + 3]
    f, g = other[b + 4], other[b + 5]
    for p in range(m):
        y1, y2, y3, y4, y5, y6 = x1[p], x2[p], x3[p], x4[p], x5[p], x6[p]
        total[p] = total[p] - u * y1 - v * y2 - w * y3 - k * y4 - q * y5 - r * y6
        further[p] = further[p] - a * y1 - c * y2 - d * y3 - e * y4 - f * y5 - g * y6


@numba.njit(**FAST)
def _take_in(distance, code, nearest, second, best):  # type: ignore[no-untyped-def]
    """One more class: the nearest distance by then, the second nearest, and the code of the
    nearest, as a number of the distances' own width, so that lanes need not part."""
    is_less = distance < nearest
    behind = nearest if is_less else distance
    return (
        distance if is_less else nearest,
        behind if behind < second else second,
        code if is_less else best,
    )


@numba.njit(**FAST, fastmath={"contract"})
def _tell_two(rows, m, c, places, starts, told, nearest, second, best):  # type: ignore[no-untyped-def]
    """Take in two classes from c on of m pixels of six bands at most: what is most of the work is
    done in one go, and nothing is written down between."""
    x1, x2, x3, x4, x5, x6 = rows
    a1, a2, a3, a4, a5, a6 = places[c]
    b1, b2, b3, b4, b5, b6 = places[c + 1]
    a, b, one, two = starts[c], starts[c + 1], told[c], told[c + 1]
    for p in range(m):
        y1, y2, y3, y4, y5, y6 = x1[p], x2[p], x3[p], x4[p], x5[p], x6[p]
        n, s, k = nearest[p], second[p], best[p]
        away = a - a1 * y1 - a2 * y2 - a3 * y3 - a4 * y4 - a5 * y5 - a6 * y6
        n, s, k = _take_in(away, one, n, s, k)
        away = b - b1 * y1 - b2 * y2 - b3 * y3 - b4 * y4 - b5 * y5 - b6 * y6
        n, s, k = _take_in(away, two, n, s, k)
        nearest[p], second[p], best[p] = n, s, k


@numba.njit(**FAST, fastmath={"contract"})
def _tell_four(rows, m, c, places, starts, told, nearest, second, best):  # type: ignore[no-untyped-def]
    """The same of four: each pixel is loaded half as often."""
    x1, x2, x3, x4, x5, x6 = rows
    a1, a2, a3, a4, a5, a6 = places[c]
    b1, b2, b3, b4, b5, b6 = places[c + 1]
    c1, c2, c3, c4, c5, c6 = places[c + 2]
    d1, d2, d3, d4, d5, d6 = places[c + 3]
    a, b, e, d = starts[c], starts[c + 1], starts[c + 2], starts[c + 3]
    one, two, three, four = told[c], told[c + 1], told[c + 2], told[c + 3]
    for p in range(m):
        y1, y2, y3, y4, y5, y6 = x1[p], x2[p], x3[p], x4[p], x5[p], x6[p]
        n, s, k = nearest[p], second[p], best[p]
        away = a - a1 * y1 - a2 * y2 - a3 * y3 - a4 * y4 - a5 * y5 - a6 * y6
        n, s, k = _take_in(away, one, n, s, k)
        away = b - b1 * y1 - b2 * y2 - b3 * y3 - b4 * y4 - b5 * y5 - b6 * y6
        n, s, k = _take_in(away, two, n, s, k)
        away = e - c1 * y1 - c2 * y2 - c3 * y3 - c4 * y4 - c5 * y5 - c6 * y6
        n, s, k = _take_in(away, three, n, s, k)
        away = d - d1 * y1 - d2 * y2 - d3 * y3 - d4 * y4 - d5 * y5 - d6 * y6
        n, s, k = _take_in(away, four, n, s, k)
        nearest[p], second[p], best[p] = n, s, k


@numba.njit(**FAST)
def _add_steps(values, start, m, place, factor, total):  # type: ignore[no-untyped-def]
    """Manhattan distances of m pixels from a place (bands,)."""
    for b in range(factor.size):
        middle, times, row = place[b], abs(float32(factor[b])), values[b][start : start + m]
        for p in range(m):
            total[p] += times * abs(row[p] - middle)


@numba.njit(**FAST)
def _keep_nearest(total, further, m, one, two, nearest, second, best):  # type: ignore[no-untyped-def]
    """Take in two classes whose distances are written down."""
    for p in range(m):
        n, s, k = _take_in(total[p], one, nearest[p], second[p], best[p])
        nearest[p], second[p], best[p] = _take_in(further[p], two, n, s, k)


@numba.njit(**FAST)
def _tell_at_once(rows, m, places, starts, told, nearest, second, best):  # type: ignore[no-untyped-def]
    """All classes, of m pixels of six bands at most."""
    fours = places.shape[0] // 4 * 4
    for c in range(0, fours, 4):
        _tell_four(rows, m, c, places, starts, told, nearest, second, best)
    if fours < places.shape[0]:
        _tell_two(rows, m, fours, places, starts, told, nearest, second, best)


@numba.njit(**FAST)
def _tell_in_parts(  # type: ignore[no-untyped-def]
    values, start, m, places, starts, told, factor, by_steps, total, further, nearest, second, best
):
    """All classes, of m pixels of any number of bands, or by steps."""
    for c in range(0, places.shape[0], CLASSES):
        total[:] = starts[c]
        further[:] = starts[c + 1]
        if by_steps:
            _add_steps(values, start, m, places[c], factor, total)
            _add_steps(values, start, m, places[c + 1], factor, further)
        else:
            for b in range(0, factor.size, BANDS):
                part = _rows(values, b, start, start + m)
                _take_products(part, m, b, places[c], places[c + 1], total, further)
        _keep_nearest(total, further, m, told[c], told[c + 1], nearest, second, best)


@numba.njit(**FAST)
def _keep_exact(  # type: ignore[no-untyped-def]
    values, start, m, away, far_away, lengths, nearest, second, centre, factor, means, by_steps,
    codes, limits, limited, found,
):  # fmt: skip
    """Decide what is not sure, and leave unclassified what is too far away."""
    for p in range(m):
        is_sure = second[p] - nearest[p] > away
        if is_sure and not limited:
            continue
        far = float64(nearest[p]) if by_steps else float64(lengths[p]) + 2 * nearest[p]
        limit = limits[found[p]]
        if not (is_sure and abs(far - limit) > far_away):
            found[p] = _exactly(values, start + p, centre, factor, means, by_steps, codes, limits)
        elif far > limit:
            found[p] = UNCLASSIFIED_CODE


@numba.njit(
    void(
        read_only(float32, 2), read_only(int32, 2), read_only(float32, 2), read_only(float32, 1),
        read_only(float32, 1), read_only(float64, 1), float64, read_only(float64, 1),
        read_only(float64, 1), read_only(float64, 2), boolean, read_only(uint16, 1),
        read_only(float64, 1), uint16[::1],
    ),
    **FAST,
)  # fmt: skip
def _classify(  # type: ignore[no-untyped-def]
    values, bits, places, starts, told, weights, most, centre, factor, means, by_steps, codes,
    limits, out,
):  # fmt: skip
    n, n_bands = values.shape[1], means.shape[1]
    nearest, second = np.empty(CHUNK, np.float32), np.empty(CHUNK, np.float32)
    best, total = np.empty(CHUNK, np.float32), np.empty(CHUNK, np.float32)
    further, largest = np.empty(CHUNK, np.float32), np.empty(n_bands, np.float32)
    limited = not np.isinf(limits).all()
    for start in range(0, n, CHUNK):
        end = min(start + CHUNK, n)
        m = end - start
        nearest[:] = np.inf
        second[:] = np.inf
        best[:] = 0
        if by_steps or n_bands > BANDS:
            _tell_in_parts(
                values, start, m, places, starts, told, factor, by_steps, total, further, nearest,
                second, best,
            )  # fmt: skip
        else:
            rows = _rows(values, 0, start, end)
            _tell_at_once(rows, m, places, starts, told, nearest, second, best)
        size, length = most, 0.0
        for b in range(n_bands):
            largest.view(np.int32)[b] = _greatest(bits[b][start:end], int32(0))
            size += weights[b] * largest[b]
            length += ((largest[b] + abs(centre[b])) * factor[b]) ** 2
        # A sum of n terms is no further from what it should be than n + 8 roundings of the largest.
        away = 2 * ROUNDING * (n_bands + 8) * size if size < LARGEST else np.inf
        n_sure, found, apart = 0, out[start:end], float32(away)
        for p in range(m):
            n_sure += int32(1) if second[p] - nearest[p] > apart else int32(0)
            found[p] = uint16(best[p])
        if n_sure == m and not limited:
            continue
        far_away = away
        if limited and not by_steps:
            _set_lengths(values, start, m, centre, factor, total)
            far_away = 2 * (away + ROUNDING * (n_bands + 8) * length)
        _keep_exact(
            values, start, m, apart, far_away, total, nearest, second, centre, factor, means,
            by_steps, codes, limits, limited, found,
        )  # fmt: skip
