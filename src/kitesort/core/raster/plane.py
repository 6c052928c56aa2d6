"""One band of a raster beside one of another (or the same): the plane of a feature space."""

import hashlib
from dataclasses import dataclass

import numpy as np

from kitesort.core.bands import Band
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.protocol import Block, Raster, Shape, band_positions
from kitesort.core.raster.warp import WarpedRaster

X, Y = "x", "y"


@dataclass(frozen=True)
class PlaneRaster:
    """Bands ``x`` and ``y``, valid where both are; on the grid of the first raster, onto which
    the second is brought (nearest neighbour) when its own differs."""

    first: Raster
    x_role: str
    second: Raster
    y_role: str

    @property
    def grid(self) -> Grid:
        return self.first.grid

    @property
    def bands(self) -> tuple[Band, ...]:
        return Band(X), Band(Y)

    @property
    def is_aligned(self) -> bool:
        """Whether both are on one grid, so that nothing has to be brought onto another."""
        return self.first.grid == self.second.grid

    @property
    def fingerprint(self) -> str:
        parts = (self.first.fingerprint, self.x_role, self.second.fingerprint, self.y_role)
        return hashlib.blake2s("|".join(parts).encode(), digest_size=8).hexdigest()

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        positions = band_positions(self.bands, roles)
        if self.first is self.second:
            block = self.first.read(window, (self.x_role, self.y_role), shape)
            return Block(block.values[positions], block.valid)
        second = self.second if self.is_aligned else WarpedRaster(self.second, self.first.grid)
        x = self.first.read(window, (self.x_role,), shape)
        y = second.read(window, (self.y_role,), shape)
        values = np.concatenate([x.values, y.values])[positions]
        return Block(values, x.valid & y.valid)
