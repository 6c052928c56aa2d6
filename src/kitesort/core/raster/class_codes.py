"""Class codes as whole numbers, and codes exchanged for codes."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from kitesort.core.bands import Band
from kitesort.core.errors import BadSettingsError
from kitesort.core.grid import Window
from kitesort.core.legend import N_CODES, NODATA_CODE, CodeArray, Legend
from kitesort.core.raster.class_file import class_bands
from kitesort.core.raster.lazy import OnSource
from kitesort.core.raster.protocol import Block, Raster, Shape, masked_block

Places = npt.NDArray[np.uint8]  # among the classes of a map


def codes_in(block: Block) -> CodeArray:
    """(rows, cols) of a class map's block; 0 where there is no data."""
    return np.where(block.valid, block.values[0], NODATA_CODE).astype(np.uint16)


def legend_of(raster: Raster) -> Legend:
    """Of a class map.

    Raises
    ------
    BadSettingsError : a layer of measured bands.
    """
    band = raster.bands[0]
    if band.kind != "classes":
        raise BadSettingsError("The layer that is named has no classes. Choose a class map.")
    return band.legend


def require_codes(legend: Legend, codes: Iterable[int], what: str) -> None:
    """Raises BadSettingsError : a class that the map has not; ``what`` names the setting."""
    known = {entry.code for entry in legend}
    if unknown := [str(code) for code in codes if code not in known]:
        raise BadSettingsError(
            f"{what}: the map has no class of the code {', '.join(unknown)} any more. Choose again."
        )


def flags(codes: Sequence[int]) -> npt.NDArray[np.bool_]:
    """By code: which are named; all of them where none is."""
    found = np.full(N_CODES, not codes)
    found[list(codes)] = True
    return found


@dataclass(frozen=True)
class RecodedRaster(OnSource):
    """A class map some of whose codes ``become`` others, and what the new ones stand for; all the
    ``rest`` becomes one code, or stays where that is None."""

    source: Raster
    legend: Legend
    become: tuple[tuple[int, int], ...]
    rest: int | None = None

    @property
    def bands(self) -> tuple[Band, ...]:
        return class_bands(self.legend)

    def _told(self) -> tuple[str, ...]:
        return self.source.fingerprint, f"recoded {self.become} {self.rest}"

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        block = self.source.read(window, roles, shape)
        table = np.arange(N_CODES, dtype=np.float32)
        if self.rest is not None:
            table[:] = self.rest
        for code, to in self.become:
            table[code] = to
        values = table[codes_in(block)]
        return masked_block(values[None], block.valid)
