"""What pixels become, by rule or by hand: a class of the map, another one of the study, or none."""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import Annotated

import numpy as np
import numpy.typing as npt
from pydantic import Field

from kitesort.core.bands import Band
from kitesort.core.engine import Watch
from kitesort.core.errors import BadSettingsError
from kitesort.core.grid import Window
from kitesort.core.legend import (
    OF_THE_MAP,
    UNCLASSIFIED,
    UNCLASSIFIED_CODE,
    CodeArray,
    Legend,
    LegendEntry,
    MapCode,
    code_array,
)
from kitesort.core.operation import Context, Inputs, Open, Prepare
from kitesort.core.raster.class_codes import codes_in, legend_of, require_codes
from kitesort.core.raster.class_file import class_bands
from kitesort.core.raster.lazy import OnSource
from kitesort.core.raster.protocol import Block, Raster, Shape, band_positions, masked_block
from kitesort.core.settings import Settings

Numbers = npt.NDArray[np.uint8]  # of parts
COLOUR = r"^(#[0-9a-fA-F]{6})?$"


class Becomes(Settings):
    """A class by its code; one that the map has not is named, and brings its colour."""

    code: Annotated[MapCode, OF_THE_MAP]
    name: str = Field("", max_length=80)
    colour: str = Field("", pattern=COLOUR)


def legend_with(legend: Legend, added: Iterable[Becomes], what: str) -> Legend:
    """A map's legend and the classes that come in, by code.

    Raises
    ------
    BadSettingsError : a class that is neither in the map nor named; ``what`` names the setting.
    """
    known = {entry.code: entry for entry in legend}
    for one in added:
        if one.code == UNCLASSIFIED_CODE:
            known.setdefault(one.code, UNCLASSIFIED)
        elif one.name and one.colour:
            known.setdefault(one.code, LegendEntry(one.code, one.name, one.colour))
        else:
            require_codes(legend, [one.code], what)
    return tuple(known[code] for code in sorted(known))


def brought_in(settings: Settings) -> Iterator[Becomes]:
    """Classes that settings name themselves, at any depth."""
    for name in type(settings).model_fields:
        value = getattr(settings, name)
        for part in value if isinstance(value, tuple) else (value,):
            if isinstance(part, Settings):
                becomes = getattr(part, "becomes", None)
                if isinstance(becomes, Becomes) and becomes.name:
                    yield becomes
                yield from brought_in(part)


def prepare_meant(open_step: Open, what: str) -> Prepare:
    """The ``prepare`` of a step that brings classes in: it refuses to paint one class for another.
    Where a setting names what a code stands for, the map that comes out must say the same, and no
    other code of it may have that name. ``what`` names the setting.
    """

    def prepare(inputs: Inputs, settings: Settings, context: Context, _: Watch) -> Settings:
        after = legend_of(open_step(inputs, settings, context))
        for one in brought_in(settings):
            if one.code != UNCLASSIFIED_CODE:
                _require_meant(after, one, what)
        return settings

    return prepare


def _require_meant(after: Legend, one: Becomes, what: str) -> None:
    """Raises BadSettingsError."""
    name = next(entry.name for entry in after if entry.code == one.code)
    if name.casefold() != one.name.casefold():
        raise BadSettingsError(
            f"{what}: the code {one.code} stands for “{name}” in this map, not for “{one.name}”. "
            "Choose another code, or a class of the map."
        )
    alike = [str(entry.code) for entry in after if entry.name.casefold() == name.casefold()]
    if len(alike) > 1:
        raise BadSettingsError(
            f"{what}: “{one.name}” would have the codes {' and '.join(alike)}. Give each class one "
            "code."
        )


@dataclass(frozen=True)
class DecidedRaster(OnSource):
    """A class map of which some pixels become what a part of the settings (a rule, an edit) says.

    ``which`` tells the part that decides each of a window's codes (rows, cols): its place among
    ``becomes`` from 1, 0 where none does. ``signature`` names the parts, for the fingerprint;
    ``what`` the setting that they stand in.

    Raises
    ------
    BadSettingsError : a class that is neither in the map nor named.
    """

    source: Raster
    becomes: tuple[Becomes, ...]
    which: Callable[[Window, CodeArray], Numbers]
    signature: tuple[str, ...]
    what: str

    def __post_init__(self) -> None:
        _ = self.bands

    @property
    def bands(self) -> tuple[Band, ...]:
        return class_bands(legend_with(legend_of(self.source), self.becomes, self.what))

    def _told(self) -> tuple[str, ...]:
        return self.source.fingerprint, self.what, *self.signature

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        _ = band_positions(self.bands, roles)
        block = self.source.read(window, None, shape)
        codes = codes_in(block)
        part = self.which(window, codes)
        becomes = code_array([0, *(one.code for one in self.becomes)])
        out = np.where(part > 0, becomes[part], codes)
        return masked_block(out[None].astype(np.float32), block.valid)

    def decided_by(self, window: Window) -> Numbers:
        """The part that decides each native pixel of a window."""
        return self.which(window, codes_in(self.source.read(window)))
