"""Layers whose pixels come from a pixel and its neighbours, always those of the native grid."""

from abc import ABC, abstractmethod
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from kitesort.core.bands import Band
from kitesort.core.grid import Window
from kitesort.core.raster.lazy import Computed, OnSource
from kitesort.core.raster.protocol import (
    Block,
    Float32Array,
    Raster,
    Shape,
    band_positions,
    blank_block,
    block_of,
    masked_block,
)

# A coarse view is taken from native windows; of a larger part of a scene it would take too long:
# where only the pixels that are shown are computed, and where all between them are, too.
FEW_SIDE, ALL_SIDE = 4096, 1024
Positions = npt.NDArray[np.int64]


@dataclass(frozen=True)
class Around:
    """What was read for the part ``asked`` of a layer: native pixels, ``block`` of ``window``. The
    layer is wanted at ``rows`` and ``cols`` of it."""

    block: Block
    window: Window
    asked: Window
    rows: Positions
    cols: Positions

    def pick(self, values: npt.NDArray[np.floating[Any]]) -> Float32Array:
        """Those wanted of values (bands, rows, cols) of all that was read."""
        return values[:, self.rows[:, None], self.cols[None, :]].astype(np.float32)


@dataclass(frozen=True)
class NativeRaster(Computed):
    """``compute`` gives the bands (bands, wanted rows, wanted cols) from the bands ``inputs`` up
    to ``halo`` pixels (rows, columns) around, not-a-number where there is no value. A coarse view
    shows the pixels in the middle of its own, and nothing where that would read too much.

    With ``tile``, whole tiles of so many pixels are read, and the halo around those. ``per_band``:
    band i needs input i only. ``largest``: the side of the square of the
    most pixels read for a coarse view.
    ``signature`` names the computation and its settings, for the fingerprint.
    """

    source: Raster
    inputs: tuple[str, ...]
    bands: tuple[Band, ...]
    halo: tuple[int, int]
    compute: Callable[[Around], Float32Array]
    signature: str
    tile: int = 1
    per_band: bool = False
    largest: int = FEW_SIDE

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        positions = band_positions(self.bands, roles)
        out = shape or (window.height, window.width)
        if _is_too_large(window, out, self.largest):
            return blank_block(len(positions), out)
        if not self.per_band:
            block = self._compute(window, out, self.inputs)
            return block_of(block.values[positions])
        # One at a time: what is missing in one band must not change another.
        blocks = [self._compute(window, out, (self.inputs[p],)) for p in positions]
        return block_of(np.concatenate([block.values for block in blocks]))

    def _compute(self, window: Window, shape: Shape, inputs: tuple[str, ...]) -> Block:
        wide = self._with_halo(window)
        rows, cols = _centres(window, shape)
        rows, cols = rows + window.row - wide.row, cols + window.col - wide.col
        block = self.source.read(wide, inputs)
        found = self.compute(Around(block, wide, window, rows, cols))
        defined = np.where(np.isfinite(found), found, np.float32(np.nan))
        return masked_block(defined, block.valid[np.ix_(rows, cols)])

    def _with_halo(self, window: Window) -> Window:
        tile, (halo_rows, halo_cols) = self.tile, self.halo
        top = max(0, window.row // tile * tile - halo_rows)
        left = max(0, window.col // tile * tile - halo_cols)
        last_row, last_col = window.row + window.height - 1, window.col + window.width - 1
        bottom = min(self.grid.height, (last_row // tile + 1) * tile + halo_rows)
        right = min(self.grid.width, (last_col // tile + 1) * tile + halo_cols)
        return Window(top, left, bottom - top, right - left)


class NativeReading(OnSource, ABC):
    """For rasters that can only be computed at native resolution (``read_native``): coarse views
    by the same rules as those of ``NativeRaster``."""

    source: Raster

    @property
    @abstractmethod
    def bands(self) -> tuple[Band, ...]: ...

    @abstractmethod
    def read_native(self, window: Window, roles: tuple[str, ...]) -> Block: ...

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        wanted = tuple(self.bands[p].role for p in band_positions(self.bands, roles))
        out = shape or (window.height, window.width)
        if _is_too_large(window, out, ALL_SIDE):
            return blank_block(len(wanted), out)
        block = self.read_native(window, wanted)
        if out == block.valid.shape:
            return block
        at = np.ix_(*_centres(window, out))
        return block_of(block.values[:, at[0], at[1]])


def _is_too_large(window: Window, shape: Shape, side: int) -> bool:
    return shape != (window.height, window.width) and window.n_pixels > side**2


def _centres(window: Window, shape: Shape) -> tuple[Positions, Positions]:
    """Rows and columns of the window's pixels in the middle of each coarse one."""
    rows, cols = (
        np.floor((np.arange(n) + 0.5) * (length / n)).astype(np.int64)
        for length, n in zip((window.height, window.width), shape, strict=True)
    )
    return rows, cols
