"""Part of a raster, and a raster whose grid is said to lie elsewhere; pixels are not touched."""

from dataclasses import dataclass

from kitesort.core.grid import Grid, Window
from kitesort.core.raster.lazy import OnSource
from kitesort.core.raster.protocol import Block, Raster, Shape


@dataclass(frozen=True)
class WindowRaster(OnSource):
    """The part of ``source`` inside ``part``."""

    source: Raster
    part: Window

    @property
    def grid(self) -> Grid:
        return self.source.grid.sub_grid(self.part)

    def _told(self) -> tuple[str, ...]:
        return self.source.fingerprint, repr(self.part)

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        moved = Window(
            window.row + self.part.row, window.col + self.part.col, window.height, window.width
        )
        return self.source.read(moved, roles, shape)


@dataclass(frozen=True)
class PlacedRaster(OnSource):
    """The pixels of ``source`` on a grid of the same shape with another CRS or origin."""

    source: Raster
    placed: Grid

    @property
    def grid(self) -> Grid:
        return self.placed

    def _told(self) -> tuple[str, ...]:
        return self.source.fingerprint, repr(self.placed)

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        return self.source.read(window, roles, shape)
