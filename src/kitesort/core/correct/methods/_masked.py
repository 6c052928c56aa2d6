"""A raster with fewer valid pixels; its values stay as they are."""

import hashlib
from collections.abc import Callable
from dataclasses import dataclass

from kitesort.core.bands import Band
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.protocol import Block, BoolArray, Raster, Shape


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
        return Block(block.values, block.valid & self.usable(window, block.valid.shape))
