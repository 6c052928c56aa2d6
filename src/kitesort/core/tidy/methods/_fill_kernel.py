"""The nearest class to pixels that have none."""

import numba
from numba import int64, uint16, void

from kitesort.core.kernels import read_only


@numba.njit(
    void(
        read_only(uint16, 2), read_only(int64, 2), read_only(int64, 2), read_only(int64, 1),
        uint16[:, ::1],
    ),
    nogil=True,
    cache=True,
)  # fmt: skip
def fill_nearest(codes, away, steps, starts, out):  # type: ignore[no-untyped-def]
    """Give pixels (rows, cols) the lowest code of the nearest classes. ``away``: squared distance
    to these, -1 where nothing is wanted. ``steps`` (n, 2), down and right, by squared distance;
    those of d lie from ``starts[d]`` to ``starts[d + 1]``."""
    rows, cols = codes.shape
    for r in range(rows):
        for c in range(cols):
            out[r, c] = codes[r, c]
            if away[r, c] < 0:
                continue
            best = 0
            for i in range(starts[away[r, c]], starts[away[r, c] + 1]):
                y, x = r + steps[i, 0], c + steps[i, 1]
                if 0 <= y < rows and 0 <= x < cols:
                    code = codes[y, x]
                    if code not in (0, 255) and (best == 0 or code < best):
                        best = code
            out[r, c] = best if best > 0 else codes[r, c]
