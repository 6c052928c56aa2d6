"""Drawn areas given a class by hand, each with a note."""

from dataclasses import dataclass
from functools import partial
from typing import Any

import numpy as np
from pydantic import Field

from kitesort.core.area_mask import AreaMask, area_mask, window_of_areas
from kitesort.core.bands import Band
from kitesort.core.errors import BadSettingsError, OutsideSceneError
from kitesort.core.grid import Window
from kitesort.core.legend import NODATA_CODE
from kitesort.core.operation import Context, Inputs, Operation, Parts, of_one
from kitesort.core.raster.class_codes import Codes, codes_in
from kitesort.core.raster.class_file import class_bands
from kitesort.core.raster.lazy import OnSource
from kitesort.core.raster.protocol import Block, Raster, Shape, band_positions, masked_block
from kitesort.core.settings import Settings
from kitesort.core.tidy.methods._becomes import Becomes, legend_with
from kitesort.core.tidy.methods._codes import flags, legend_of, require_known

MOST_EDITS = 200


class Edit(Settings):
    """Pixels whose centres lie inside; of some classes only, where these are named."""

    outline: dict[str, Any]
    becomes: Becomes
    classes: tuple[int, ...] = Field((), max_length=255)
    note: str = Field("", max_length=500)


class EditsSettings(Settings):
    edits: tuple[Edit, ...] = Field(
        (),
        max_length=MOST_EDITS,
        title="Edits",
        description="A later one goes over an earlier one. Pixels without data stay without.",
        json_schema_extra={"widget": "edits"},
    )


@dataclass(frozen=True)
class _Edited(OnSource):
    source: Raster
    edits: tuple[Edit, ...]
    areas: tuple[AreaMask, ...]
    touched: tuple[Window, ...]

    @property
    def bands(self) -> tuple[Band, ...]:
        return class_bands(legend_with(legend_of(self.source), (e.becomes for e in self.edits)))

    def _told(self) -> tuple[str, ...]:
        told = (f"{e.outline} {e.becomes.code} {e.classes}" for e in self.edits)
        return "edited", self.source.fingerprint, *told

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        _ = band_positions(self.bands, roles)
        block = self.source.read(window, None, shape)
        codes = codes_in(block)
        last = self.last_edit(window, codes)
        table = np.array([0, *(edit.becomes.code for edit in self.edits)], np.uint8)
        out = np.where(last > 0, table[last], codes)
        return masked_block(out[None].astype(np.float32), block.valid)

    def last_edit(self, window: Window, codes: Codes) -> Codes:
        """By pixel (rows, cols) the number of the last edit that covers it, from 1; 0: none."""
        found = np.zeros(codes.shape, np.uint8)
        parts = zip(self.edits, self.areas, self.touched, strict=True)
        for number, (edit, area, touched) in enumerate(parts, start=1):
            if _overlap(touched, window):
                inside = area(window, codes.shape) & (codes != NODATA_CODE)
                found[inside & flags(edit.classes)[codes]] = number
        return found


def _overlap(a: Window, b: Window) -> bool:
    return (
        a.row < b.row + b.height and b.row < a.row + a.height
        and a.col < b.col + b.width and b.col < a.col + a.width
    )  # fmt: skip


def _edited(raster: Raster, settings: EditsSettings, _: Context) -> _Edited:
    areas, touched = [], []
    for number, edit in enumerate(settings.edits, start=1):
        require_known(raster, edit.classes, f"Edit {number}")
        areas.append(area_mask(raster.grid, [edit.outline]))
        try:
            touched.append(window_of_areas(raster.grid, [edit.outline]))
        except OutsideSceneError as error:
            raise BadSettingsError(
                f"Edit {number} lies outside the map. Leave it out, or draw it again."
            ) from error
    legend_with(legend_of(raster), (edit.becomes for edit in settings.edits))
    return _Edited(raster, settings.edits, tuple(areas), tuple(touched))


def _parts(inputs: Inputs, settings: EditsSettings, context: Context) -> Parts:
    (raster,) = inputs
    words = tuple(
        f"Edit {number}{f': {edit.note}' if edit.note else ''}"
        for number, edit in enumerate(settings.edits, start=1)
    )
    return Parts(words, partial(_last_in, _edited(raster, settings, context)))


def _last_in(edited: _Edited, window: Window) -> Codes:
    return edited.last_edit(window, codes_in(edited.source.read(window)))


def _say(s: EditsSettings) -> str:
    n = len(s.edits)
    noted = "; ".join(edit.note for edit in s.edits if edit.note)
    return f"{n} area{'' if n == 1 else 's'} edited by hand{f' ({noted})' if noted else ''}"


SPEC = Operation(
    id="edits",
    version=1,
    station="tidy",
    title="Edits by hand",
    short="edited",
    good_for="What you know and no layer shows; it stays when the map is made anew.",
    source="Pixels whose centres lie inside the outlines",
    settings=EditsSettings,
    open=of_one(_edited),
    say=_say,
    parts=_parts,
    takes=frozenset({"classes"}),
    silent=frozenset({"name", "colour", "note"}),
)
