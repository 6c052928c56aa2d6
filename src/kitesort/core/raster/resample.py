"""Values between pixels: nearest neighbour, bilinear, cubic convolution, area average.

Pixels that are not valid take no part: the weights of the others are raised to one. A result is
valid when the pixel that holds the place is (average: when at least half of the footprint is).
Onto coarser pixels bilinear and cubic are averages, too: a kernel that looks at the nearest pixels
only would pick some and leave the others out.

Source: R. G. Keys 1981, "Cubic convolution interpolation for digital image processing", eq. 4
with a = -0.5; bilinear and area weights are textbook.
"""

import math
from typing import Literal

import numpy as np
import numpy.typing as npt
from numba import njit

Resampling = Literal["nearest", "bilinear", "cubic", "average"]
Float32 = npt.NDArray[np.float32]
Float64 = npt.NDArray[np.float64]
Bool = npt.NDArray[np.bool_]
REACH_PX = {"nearest": 1, "bilinear": 2, "cubic": 3, "average": 1}
_WIDTHS = {"nearest": 0, "bilinear": 1, "cubic": 2, "average": 3}
LEAST_AVERAGE_SHARE = 0.5
COARSER = 1.001  # pixels that one result covers, beyond which it is a coarser one


def resample(
    values: Float32,
    row_at: Float64,
    col_at: Float64,
    resampling: Resampling,
    footprint: tuple[float, float] = (1.0, 1.0),
) -> Float32:
    """Values (bands, h, w) at fractional places of a block, not-a-number where there is none.

    Parameters
    ----------
    values (bands, rows, cols) : the block, not-a-number where a band has no value. Each band goes
        by its own missing pixels, so that it is the same whichever others are read with it.
    row_at, col_at (h, w) : places in its pixels; the centre of the first pixel is (0.5, 0.5).
    footprint : rows and columns that one result covers; more than one: a coarser grid.
    """
    if resampling != "nearest" and max(footprint) > COARSER:
        resampling = "average"  # between pixels there are many: all of them are measured
    out = np.full((values.shape[0], *row_at.shape), np.nan, np.float32)
    half = (max(footprint[0], 1.0) / 2, max(footprint[1], 1.0) / 2)
    clean = ~np.isnan(values).any(axis=0)
    _resample(values, clean, row_at, col_at, _WIDTHS[resampling], half[0], half[1], out)
    return out


@njit(inline="always")
def _weight(distance: float, mode: int, half: float) -> float:
    """Weight of a pixel whose centre is ``distance`` away along one axis."""
    d = abs(distance)
    if mode == 1:
        return max(0.0, 1.0 - d)
    if mode == 2:
        if d < 1.0:
            return 1.5 * d * d * d - 2.5 * d * d + 1.0
        if d < 2.0:
            return -0.5 * d * d * d + 2.5 * d * d - 4.0 * d + 2.0
        return 0.0
    return max(0.0, min(distance + 0.5, half) - max(distance - 0.5, -half))


@njit
def _first_last(at, reach, n):  # type: ignore[no-untyped-def]
    """First and last pixel whose centre is within reach along one axis, inside the block."""
    return max(0, math.ceil(at - 0.5 - reach)), min(n - 1, math.floor(at - 0.5 + reach))


@njit
def _reach(row, col, mode, half_r, half_c, n_rows, n_cols):  # type: ignore[no-untyped-def]
    """First and last row, first and last column of the pixels that a place is made of."""
    reach_r, reach_c = (half_r + 0.5, half_c + 0.5) if mode == 3 else (float(mode), float(mode))
    first_r, last_r = _first_last(row, reach_r, n_rows)
    first_c, last_c = _first_last(col, reach_c, n_cols)
    return first_r, last_r, first_c, last_c


@njit
def _weigh_all(values, row, col, mode, half_r, half_c, sums, reach):  # type: ignore[no-untyped-def]
    """Weighted sums of the pixels around a place, where no band misses any; their weight."""
    first_r, last_r, first_c, last_c = reach
    weight = 0.0
    sums[:] = 0.0
    for r in range(first_r, last_r + 1):
        w_r = _weight(r + 0.5 - row, mode, half_r)
        for c in range(first_c, last_c + 1):
            w = w_r * _weight(c + 0.5 - col, mode, half_c)
            weight += w
            for b in range(sums.size):
                sums[b] += w * values[b, r, c]
    return weight


@njit
def _weigh_one(band, row, col, mode, half_r, half_c, reach):  # type: ignore[no-untyped-def]
    """Of one band: weighted sum of its valid pixels around a place, their weight, that of all."""
    first_r, last_r, first_c, last_c = reach
    total, weight, whole = 0.0, 0.0, 0.0
    for r in range(first_r, last_r + 1):
        w_r = _weight(r + 0.5 - row, mode, half_r)
        for c in range(first_c, last_c + 1):
            w = w_r * _weight(c + 0.5 - col, mode, half_c)
            whole += abs(w)
            if not math.isnan(band[r, c]):
                weight += w
                total += w * band[r, c]
    return total, weight, whole


@njit
def _is_clean(clean, reach):  # type: ignore[no-untyped-def]
    first_r, last_r, first_c, last_c = reach
    for r in range(first_r, last_r + 1):
        for c in range(first_c, last_c + 1):
            if not clean[r, c]:
                return False
    return True


@njit
def _band_by_band(values, row, col, mode, half_r, half_c, reach, out):  # type: ignore[no-untyped-def]
    """Values (bands,) of one place, each by its own valid pixels."""
    r, c = math.floor(row), math.floor(col)
    for b in range(out.size):
        if mode < 3 and math.isnan(values[b, r, c]):
            continue
        total, weight, whole = _weigh_one(values[b], row, col, mode, half_r, half_c, reach)
        least = LEAST_AVERAGE_SHARE * whole if mode == 3 else 0.0
        if weight > 1e-6 and weight >= least:
            out[b] = total / weight


@njit(nogil=True, cache=True)
def _resample(values, clean, row_at, col_at, mode, half_r, half_c, out):  # type: ignore[no-untyped-def]
    """All bands at once where none misses a pixel around a place, else band by band."""
    n_bands, n_rows, n_cols = values.shape
    sums = np.empty(n_bands)
    for i in range(row_at.shape[0]):
        for j in range(row_at.shape[1]):
            row, col = row_at[i, j], col_at[i, j]
            r, c = math.floor(row), math.floor(col)
            if r < 0 or c < 0 or r >= n_rows or c >= n_cols:
                continue
            if mode == 0:
                for b in range(n_bands):
                    out[b, i, j] = values[b, r, c]
                continue
            reach = _reach(row, col, mode, half_r, half_c, n_rows, n_cols)
            if _is_clean(clean, reach):
                weight = _weigh_all(values, row, col, mode, half_r, half_c, sums, reach)
                if weight > 1e-6:
                    for b in range(n_bands):
                        out[b, i, j] = sums[b] / weight
                continue
            _band_by_band(values, row, col, mode, half_r, half_c, reach, out[:, i, j])


def warm() -> bool:
    """Compile the kernel into its cache."""
    places = np.full((1, 1), 0.5)
    found = resample(np.zeros((1, 1, 1), np.float32), places, places, "nearest")
    return bool(np.isfinite(found).all())
