"""A raster whose blocks are remembered, for what asks for the same ones again and again."""

from dataclasses import dataclass
from functools import cached_property

from kitesort.core.grid import Window
from kitesort.core.newest import Newest
from kitesort.core.raster.lazy import OnSource
from kitesort.core.raster.protocol import Block, Raster, Shape

_Key = tuple[str, Window, tuple[str, ...] | None, Shape | None]
Blocks = Newest[_Key, Block]


def n_bytes(block: Block) -> int:
    return block.values.nbytes + block.valid.nbytes


@dataclass(frozen=True)
class RememberedRaster(OnSource):
    """Gives the blocks of another raster, which may not be written to; ``blocks`` are shared by
    many and bounded by their bytes."""

    source: Raster
    blocks: Blocks

    @cached_property
    def fingerprint(self) -> str:
        """The source's, asked for once: the pixels are the same."""
        return self.source.fingerprint

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        return self.blocks.get(
            (self.fingerprint, window, roles, shape), lambda: self._read(window, roles, shape)
        )

    def _read(self, window: Window, roles: tuple[str, ...] | None, shape: Shape | None) -> Block:
        block = self.source.read(window, roles, shape)
        block.values.flags.writeable = block.valid.flags.writeable = False
        return block
