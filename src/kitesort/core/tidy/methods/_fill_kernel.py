"""The nearest class to pixels that have none."""

import numba
from numba import boolean, int64, uint8, void

from kitesort.core.kernels import read_only


@numba.njit(
    void(read_only(uint8, 2), read_only(boolean, 2), read_only(int64, 2), uint8[:, ::1]),
    nogil=True,
    cache=True,
)
def fill_nearest(codes, wanted, steps, out):  # type: ignore[no-untyped-def]
    """Give ``wanted`` pixels (rows, cols) the nearest class, the lowest code of equally near ones.
    ``steps`` (n, 3): down, right and squared distance, the nearest first."""
    rows, cols = codes.shape
    for r in range(rows):
        for c in range(cols):
            out[r, c] = codes[r, c]
            if not wanted[r, c]:
                continue
            best, reach = 0, -1
            for i in range(steps.shape[0]):
                if best > 0 and steps[i, 2] > reach:
                    break
                y, x = r + steps[i, 0], c + steps[i, 1]
                if y < 0 or x < 0 or y >= rows or x >= cols:
                    continue
                code = codes[y, x]
                if code != 0 and code != 255 and (best == 0 or code < best):
                    best, reach = code, steps[i, 2]
            if best > 0:
                out[r, c] = best
