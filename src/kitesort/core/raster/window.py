"""Part of a raster, and a raster whose grid is said to lie elsewhere; pixels are not touched."""

import hashlib
from dataclasses import dataclass

from kitesort.core.bands import Band
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.protocol import Block, Raster, Shape


@dataclass(frozen=True)
class WindowRaster:
    """The part of ``source`` inside ``part``."""

    source: Raster
    part: Window

    @property
    def grid(self) -> Grid:
        return self.source.grid.sub_grid(self.part)

    @property
    def bands(self) -> tuple[Band, ...]:
        return self.source.bands

    @property
    def fingerprint(self) -> str:
        text = f"{self.source.fingerprint}|{self.part!r}"
        return hashlib.blake2s(text.encode(), digest_size=8).hexdigest()

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        moved = Window(
            window.row + self.part.row, window.col + self.part.col, window.height, window.width
        )
        return self.source.read(moved, roles, shape)


@dataclass(frozen=True)
class PlacedRaster:
    """The pixels of ``source`` on a grid of the same shape with another CRS or origin."""

    source: Raster
    placed: Grid

    @property
    def grid(self) -> Grid:
        return self.placed

    @property
    def bands(self) -> tuple[Band, ...]:
        return self.source.bands

    @property
    def fingerprint(self) -> str:
        text = f"{self.source.fingerprint}|{self.placed!r}"
        return hashlib.blake2s(text.encode(), digest_size=8).hexdigest()

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        return self.source.read(window, roles, shape)
