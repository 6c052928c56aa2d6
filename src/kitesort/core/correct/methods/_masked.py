"""Rasters with fewer usable pixels; their values stay as they are."""

import hashlib
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from kitesort.core.bands import Band
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.protocol import (
    Block,
    BoolArray,
    Raster,
    Shape,
    block_of,
    masked_block,
)


@dataclass(frozen=True)
class MaskedRaster:
    """``usable(window, shape)`` says which pixels of the source's grid may be used."""

    source: Raster
    usable: Callable[[Window, Shape], BoolArray]
    signature: str

    @property
    def grid(self) -> Grid:
        return self.source.grid

    @property
    def bands(self) -> tuple[Band, ...]:
        return self.source.bands

    @property
    def fingerprint(self) -> str:
        text = f"{self.source.fingerprint}|{self.signature}"
        return hashlib.blake2s(text.encode(), digest_size=8).hexdigest()

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        block = self.source.read(window, roles, shape)
        return masked_block(block.values, self.usable(window, block.valid.shape))


@dataclass(frozen=True)
class MaskedLikeRaster:
    """``source`` where ``pattern``, on the same grid and with the same bands, has values, band by
    band."""

    source: Raster
    pattern: Raster

    @property
    def grid(self) -> Grid:
        return self.source.grid

    @property
    def bands(self) -> tuple[Band, ...]:
        return self.source.bands

    @property
    def fingerprint(self) -> str:
        text = f"{self.source.fingerprint}|like {self.pattern.fingerprint}"
        return hashlib.blake2s(text.encode(), digest_size=8).hexdigest()

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        values = self.source.read(window, roles, shape).values
        missing = np.isnan(self.pattern.read(window, roles, shape).values)
        return block_of(np.where(missing, np.float32(np.nan), values))
