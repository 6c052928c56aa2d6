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


def mask_words(what: str, side: str) -> str:
    """A step that masks something ("inside"), or all but that ("outside")."""
    return f"{what} masked" if side == "inside" else f"all but {what} masked"


@dataclass(frozen=True)
class _OnSourceRaster:
    """Grid and bands are the source's; ``_mask_words`` tell masks apart, for the fingerprint."""

    source: Raster

    @property
    def _mask_words(self) -> str:
        raise NotImplementedError

    @property
    def grid(self) -> Grid:
        return self.source.grid

    @property
    def bands(self) -> tuple[Band, ...]:
        return self.source.bands

    @property
    def fingerprint(self) -> str:
        text = f"{self.source.fingerprint}|{self._mask_words}"
        return hashlib.blake2s(text.encode(), digest_size=8).hexdigest()


@dataclass(frozen=True)
class MaskedRaster(_OnSourceRaster):
    """``usable(window, shape)`` says which pixels of the source's grid may be used."""

    usable: Callable[[Window, Shape], BoolArray]
    signature: str

    @property
    def _mask_words(self) -> str:
        return self.signature

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        block = self.source.read(window, roles, shape)
        return masked_block(block.values, self.usable(window, block.valid.shape))


@dataclass(frozen=True)
class MaskedLikeRaster(_OnSourceRaster):
    """``source`` where ``pattern``, on the same grid and with the same bands, has values, band by
    band."""

    pattern: Raster

    @property
    def _mask_words(self) -> str:
        return f"like {self.pattern.fingerprint}"

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        values = self.source.read(window, roles, shape).values
        missing = np.isnan(self.pattern.read(window, roles, shape).values)
        return block_of(np.where(missing, np.float32(np.nan), values))
