"""A raster computed from another one, pixel by pixel, at whatever resolution it is asked for."""

from collections.abc import Callable
from dataclasses import dataclass

from kitesort.core.bands import Band
from kitesort.core.grid import Window
from kitesort.core.raster.lazy import Computed
from kitesort.core.raster.protocol import Block, Raster, Shape, band_positions, block_of


@dataclass(frozen=True)
class DerivedRaster(Computed):
    """``compute`` turns a block with the bands ``inputs`` into a block with the bands ``bands``.

    ``signature`` names the computation and its settings, for the fingerprint. Roles that are not
    asked for are still computed; give ``per_band`` when output band i only needs input band i.
    """

    source: Raster
    inputs: tuple[str, ...]
    bands: tuple[Band, ...]
    compute: Callable[[Block, tuple[str, ...]], Block]
    signature: str
    per_band: bool = False

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        positions = band_positions(self.bands, roles)
        if self.per_band:
            needed = tuple(self.inputs[p] for p in positions)
            return self.compute(self.source.read(window, needed, shape), needed)
        block = self.compute(self.source.read(window, self.inputs, shape), self.inputs)
        if positions == list(range(len(self.bands))):
            return block
        return block_of(block.values[positions])
