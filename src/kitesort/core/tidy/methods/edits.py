"""Drawn areas given a class by hand, each with a note."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from pydantic import Field

from kitesort.core.area_mask import AreaMask, area_mask, window_of_areas
from kitesort.core.errors import BadSettingsError, OutsideSceneError
from kitesort.core.grid import Window
from kitesort.core.legend import MOST_CLASSES, NODATA_CODE, CodeArray, CodesOfTheMap
from kitesort.core.operation import Context, Inputs, Operation, Parts, of_one
from kitesort.core.raster.class_codes import flags, legend_of, require_codes
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import Settings
from kitesort.core.tidy.methods._becomes import Becomes, DecidedRaster, Numbers, prepare_meant

MOST_EDITS = 200


class Edit(Settings):
    """Pixels whose centres lie inside; of some classes only, where these are named."""

    outline: dict[str, Any]
    becomes: Becomes
    classes: CodesOfTheMap = Field((), max_length=MOST_CLASSES + 1)
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
class _LastEdit:
    """The last edit that covers a pixel. ``areas``, and where on the grid each lies."""

    edits: tuple[Edit, ...]
    areas: tuple[AreaMask, ...]
    touched: tuple[Window, ...]

    def __call__(self, window: Window, codes: CodeArray) -> Numbers:
        found = np.zeros(codes.shape, np.uint8)
        parts = zip(self.edits, self.areas, self.touched, strict=True)
        for number, (edit, area, touched) in enumerate(parts, start=1):
            if _overlap(touched, window):
                inside = area(window, (codes.shape[0], codes.shape[1])) & (codes != NODATA_CODE)
                found[inside & flags(edit.classes)[codes]] = number
        return found


def _overlap(a: Window, b: Window) -> bool:
    return (
        a.row < b.row + b.height and b.row < a.row + a.height
        and a.col < b.col + b.width and b.col < a.col + a.width
    )  # fmt: skip


def _open(raster: Raster, settings: EditsSettings, _: Context) -> DecidedRaster:
    areas, touched = [], []
    for number, edit in enumerate(settings.edits, start=1):
        require_codes(legend_of(raster), edit.classes, f"Edit {number}")
        areas.append(area_mask(raster.grid, [edit.outline]))
        try:
            touched.append(window_of_areas(raster.grid, [edit.outline]))
        except OutsideSceneError as error:
            raise BadSettingsError(
                f"Edit {number} lies outside the map. Leave it out, or draw it again."
            ) from error
    told = tuple(f"{e.outline} {e.becomes.code} {e.classes}" for e in settings.edits)
    which = _LastEdit(settings.edits, tuple(areas), tuple(touched))
    becomes = tuple(edit.becomes for edit in settings.edits)
    return DecidedRaster(raster, becomes, which, told, "Edits")


def _parts(inputs: Inputs, settings: EditsSettings, context: Context) -> Parts:
    (raster,) = inputs
    words = tuple(
        f"Edit {number}{f': {edit.note}' if edit.note else ''}"
        for number, edit in enumerate(settings.edits, start=1)
    )
    return Parts(words, _open(raster, settings, context).decided_by)


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
    open=of_one(_open),
    prepare=prepare_meant(of_one(_open), "Edits"),
    say=_say,
    parts=_parts,
    takes=frozenset({"classes"}),
    silent=frozenset({"name", "colour", "note"}),
)
