"""Two rasters on the same grid as one, valid where both are."""

import hashlib
from dataclasses import dataclass

import numpy as np

from kitesort.core.bands import Band
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.protocol import Block, Raster, Shape, band_positions


@dataclass(frozen=True)
class PairRaster:
    """The bands ``roles`` of both; those of the second are called ``other_`` and the role."""

    first: Raster
    second: Raster
    roles: tuple[str, ...]

    @property
    def grid(self) -> Grid:
        return self.first.grid

    @property
    def bands(self) -> tuple[Band, ...]:
        return (*(Band(r) for r in self.roles), *(Band(f"other_{r}") for r in self.roles))

    @property
    def fingerprint(self) -> str:
        text = f"{self.first.fingerprint}|{self.second.fingerprint}|{self.roles}"
        return hashlib.blake2s(text.encode(), digest_size=8).hexdigest()

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        one = self.first.read(window, self.roles, shape)
        two = self.second.read(window, self.roles, shape)
        values = np.concatenate([one.values, two.values])
        return Block(values[band_positions(self.bands, roles)], one.valid & two.valid)
