"""Rasters with fewer usable pixels; their values stay as they are."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from pydantic import Field

from kitesort.core.grid import Window
from kitesort.core.raster.lazy import OnSource
from kitesort.core.raster.protocol import (
    Block,
    BoolArray,
    Raster,
    Shape,
    block_of,
    masked_block,
)
from kitesort.core.settings import titled

Side = Literal["inside", "outside"]


def mask_side(inside: str, outside: str, default: Side = "inside") -> Any:
    """The setting that says which side of something is masked, in the words of its choices."""
    return Field(
        default,
        title="What becomes no data",
        description="It takes no part in what follows.",
        json_schema_extra=titled({"inside": inside, "outside": outside}),
    )


def mask_words(what: str, side: Side) -> str:
    """A step that masks something ("inside"), or all but that ("outside")."""
    return f"{what} masked" if side == "inside" else f"all but {what} masked"


@dataclass(frozen=True)
class MaskedRaster(OnSource):
    """``usable(window, shape)`` says which pixels of the source's grid may be used."""

    source: Raster
    usable: Callable[[Window, Shape], BoolArray]
    signature: str

    def _told(self) -> tuple[str, ...]:
        return self.source.fingerprint, self.signature

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        block = self.source.read(window, roles, shape)
        return masked_block(block.values, self.usable(window, block.valid.shape))


@dataclass(frozen=True)
class MaskedLikeRaster(OnSource):
    """``source`` where ``pattern``, on the same grid and with the same bands, has values, band by
    band."""

    source: Raster
    pattern: Raster

    def _told(self) -> tuple[str, ...]:
        return self.source.fingerprint, f"like {self.pattern.fingerprint}"

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        values = self.source.read(window, roles, shape).values
        missing = np.isnan(self.pattern.read(window, roles, shape).values)
        return block_of(np.where(missing, np.float32(np.nan), values))
