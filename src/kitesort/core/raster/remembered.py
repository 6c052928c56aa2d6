"""A raster whose blocks are remembered, for what asks for the same ones again and again."""

from dataclasses import dataclass, field

from kitesort.core.bands import Band
from kitesort.core.grid import Grid, Window
from kitesort.core.newest import Newest
from kitesort.core.raster.protocol import Block, Raster, Shape

_Key = tuple[str, Window, tuple[str, ...] | None, Shape | None]
Blocks = Newest[_Key, Block]


def n_bytes(block: Block) -> int:
    return block.values.nbytes + block.valid.nbytes


@dataclass(frozen=True)
class RememberedRaster:
    """Gives the blocks of another raster, which may not be written to; ``blocks`` are shared by
    many and bounded by their bytes."""

    raster: Raster
    blocks: Blocks
    fingerprint: str = field(init=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "fingerprint", self.raster.fingerprint)

    @property
    def grid(self) -> Grid:
        return self.raster.grid

    @property
    def bands(self) -> tuple[Band, ...]:
        return self.raster.bands

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        return self.blocks.get(
            (self.fingerprint, window, roles, shape), lambda: self._read(window, roles, shape)
        )

    def _read(self, window: Window, roles: tuple[str, ...] | None, shape: Shape | None) -> Block:
        block = self.raster.read(window, roles, shape)
        block.values.flags.writeable = block.valid.flags.writeable = False
        return block
