"""A raster whose bands are called otherwise; pixels are not touched."""

import hashlib
from dataclasses import dataclass

from kitesort.core.bands import Band
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.protocol import Block, Raster, Shape, band_positions, roles_of


@dataclass(frozen=True)
class RenamedRaster:
    """The bands of ``source``, in order, described as ``named``."""

    source: Raster
    named: tuple[Band, ...]

    @property
    def grid(self) -> Grid:
        return self.source.grid

    @property
    def bands(self) -> tuple[Band, ...]:
        return self.named

    @property
    def fingerprint(self) -> str:
        text = f"{self.source.fingerprint}|{self.named!r}"
        return hashlib.blake2s(text.encode(), digest_size=8).hexdigest()

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        """Raises MissingRoleError."""
        wanted = None
        if roles is not None:
            at = band_positions(self.named, roles)
            own = roles_of(self.source)
            wanted = tuple(own[position] for position in at)
        return self.source.read(window, wanted, shape)
