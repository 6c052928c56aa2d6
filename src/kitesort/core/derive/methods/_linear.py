"""Weighted sums of bands as a lazy raster: tasseled cap, principal components, noise fractions."""

import hashlib
from collections.abc import Sequence

import numba
import numpy as np
import numpy.typing as npt
from numba import float32, float64, void

from kitesort.core.bands import Band
from kitesort.core.kernels import read_only
from kitesort.core.raster.derived import DerivedRaster
from kitesort.core.raster.protocol import Block, Raster, block_of

CHUNK = 1024
Float64 = npt.NDArray[np.float64]


@numba.njit(
    void(read_only(float32, 2), read_only(float64, 2), read_only(float64, 1), float32[:, ::1]),
    nogil=True,
    cache=True,
)
def weigh(
    values: npt.NDArray[np.float32],
    matrix: Float64,
    offsets: Float64,
    out: npt.NDArray[np.float32],
) -> None:
    """out (sums, n) = matrix (sums, bands) @ values (bands, n) + offsets (sums,), added up in
    double precision and in band order, so that no block's shape changes a pixel."""
    n_sums, n_bands = matrix.shape
    n_pixels = values.shape[1]
    x = np.zeros((n_bands, CHUNK), np.float64)
    row = np.empty(CHUNK, np.float64)
    for first in range(0, n_pixels, CHUNK):
        n = min(CHUNK, n_pixels - first)
        for j in range(n_bands):
            for i in range(n):
                x[j, i] = values[j, first + i]
        for k in range(n_sums):
            row[:] = offsets[k]
            for j in range(n_bands):
                weight = matrix[k, j]
                for i in range(CHUNK):  # beyond n stands what is never written
                    row[i] += weight * x[j, i]
            for i in range(n):
                out[k, first + i] = row[i]


class _Weigh:
    """Picklable block function."""

    def __init__(self, matrix: Float64, offsets: Float64) -> None:
        self._matrix, self._offsets = matrix, offsets

    def __call__(self, block: Block, _roles: tuple[str, ...]) -> Block:
        shape = block.valid.shape
        values = np.ascontiguousarray(block.values).reshape(len(block.values), -1)
        out = np.empty((len(self._matrix), values.shape[1]), np.float32)
        weigh(values, self._matrix, self._offsets, out)
        return block_of(out.reshape(-1, *shape))


def linear_raster(
    source: Raster,
    roles: tuple[str, ...],
    names: tuple[str, ...],
    matrix: Sequence[Sequence[float]],
    centre: Sequence[float] | None = None,
) -> DerivedRaster:
    """Sums ``names``, one for each row of ``matrix``, of the bands ``roles`` less ``centre``.

    Raises
    ------
    MissingRoleError
    """
    weights = np.array(matrix, np.float64)
    offsets = np.zeros(len(names)) if centre is None else -(weights @ np.array(centre, np.float64))
    digest = hashlib.blake2s(weights.tobytes() + offsets.tobytes(), digest_size=8).hexdigest()
    bands = tuple(Band(name) for name in names)  # of no unit
    return DerivedRaster(source, roles, bands, _Weigh(weights, offsets), digest)
