"""Majority and minority filter."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from pydantic import Field, field_validator

from kitesort.core.errors import BadSettingsError
from kitesort.core.grid import Window
from kitesort.core.legend import (
    MOST_CLASSES,
    N_CODES,
    NODATA_CODE,
    UNCLASSIFIED_CODE,
    CodesOfTheMap,
    code_array,
)
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.class_codes import Places, codes_in, flags, legend_of, require_codes
from kitesort.core.raster.neighbourhood import Around, NativeRaster
from kitesort.core.raster.protocol import Float32Array, Raster, roles_of
from kitesort.core.settings import Settings, require_odd, titled
from kitesort.core.tidy.methods._shares import Shares, open_chosen, shares_chosen
from kitesort.core.tidy.methods._window_kernel import filter_round, filter_square

LARGEST = 31
NATIVE_SIDE = 2048


class MajoritySettings(Settings):
    rule: Literal["majority", "minority"] = Field(
        "majority",
        title="Rule",
        description="Which class of the window wins. Minority brings thin and rare classes out.",
        json_schema_extra=titled(
            {"majority": "the most frequent", "minority": "the least frequent"}
        ),
    )
    window_px: int = Field(
        3,
        ge=3,
        le=LARGEST,
        title="Window",
        description="Side in pixels, odd. 5 smooths without losing too much; what is narrower than "
        "half the window is lost.",
        json_schema_extra={"step": 2},
    )
    shape: Literal["square", "round"] = Field(
        "square",
        title="Shape",
        description="Of the window.",
        json_schema_extra=titled({"square": "square", "round": "round"}),
    )
    weight: int = Field(
        1,
        ge=1,
        le=100,
        title="Weight of the centre",
        description="The pixel itself counts so many times.",
    )
    changing: CodesOfTheMap = Field(
        (),
        max_length=MOST_CLASSES + 1,
        title="May change",
        description="Pixels of other classes stay as they are; none chosen means all.",
        json_schema_extra={"widget": "class codes"},
    )
    winning: CodesOfTheMap = Field(
        (),
        max_length=MOST_CLASSES + 1,
        title="May win",
        description="No pixel becomes another class; none chosen means all.",
        json_schema_extra={"widget": "class codes"},
    )
    shares_id: int | None = Field(
        None,
        title="Ties by shares",
        description="Where several classes are as frequent, and the pixel's own is none of them, "
        "the one with the largest share there wins, else the lower code.",
        json_schema_extra={"widget": "shares", "none": "not: the lower code wins"},
    )
    with_unclassified: bool = Field(
        False,
        title="Unclassified takes part",
        description="Else it neither changes nor wins nor counts. Pixels without data never do.",
    )

    @field_validator("window_px")
    @classmethod
    def _odd(cls, side: int) -> int:
        return require_odd(side)


@dataclass(frozen=True)
class _Filter:
    """Picklable. ``codes``: those that take part, in order."""

    settings: MajoritySettings
    codes: tuple[int, ...]
    shares: Shares | None

    def __call__(self, around: Around) -> Float32Array:
        table = np.full(N_CODES, len(self.codes), np.uint8)
        table[list(self.codes)] = np.arange(len(self.codes))
        whole = codes_in(around.block)
        found = self._filtered(table[whole], self._shares(around.window))
        back = code_array([*self.codes, NODATA_CODE])[found]
        kept = np.where(table[whole] == len(self.codes), whole, back)
        return around.pick(kept[None].astype(np.float32))

    def _shares(self, window: Window) -> Float32Array:
        """Of the codes; of none where ties are not decided by them."""
        if self.shares is None:
            return np.empty((0, window.height, window.width), np.float32)
        return self.shares.read_for(self.codes, window)

    def _filtered(self, places: Places, shares: Float32Array) -> Places:
        s, out = self.settings, np.empty_like(places)
        may_change, may_win = (flags(codes)[list(self.codes)] for codes in (s.changing, s.winning))
        minority, radius = s.rule == "minority", s.window_px // 2
        if s.shape == "square":
            filter_square(places, radius, s.weight, minority, may_change, may_win, shares, out)
        else:
            widths = half_widths(radius)
            filter_round(places, widths, s.weight, minority, may_change, may_win, shares, out)
        return out


def half_widths(radius: int) -> np.ndarray:
    """How far each row of a round window reaches to both sides: pixels whose centres are within
    radius + ½."""
    steps = np.arange(-radius, radius + 1)
    return np.floor(np.sqrt((radius + 0.5) ** 2 - steps**2)).astype(np.int64)


def _open(raster: Raster, settings: MajoritySettings, context: Context) -> Raster:
    legend = legend_of(raster)
    require_codes(legend, settings.changing, "May change")
    require_codes(legend, settings.winning, "May win")
    if settings.window_px > min(raster.grid.width, raster.grid.height):
        raise BadSettingsError("The window is larger than the map. Choose a smaller one.")
    left_out = () if settings.with_unclassified else (UNCLASSIFIED_CODE,)
    codes = tuple(sorted(e.code for e in legend if e.code not in (*left_out, NODATA_CODE)))
    if not set(codes) & (set(settings.winning) or set(codes)):
        raise BadSettingsError("No class is left that may win. Choose at least one.")
    radius, shares = settings.window_px // 2, open_chosen(raster, settings, context)
    told = f"{settings.rule} {settings} {shares.signature if shares else ''}"
    return NativeRaster(
        raster, roles_of(raster), raster.bands, (radius, radius),
        _Filter(settings, codes, shares), told, largest=NATIVE_SIDE,
    )  # fmt: skip


def _say(s: MajoritySettings) -> str:
    what = "the most frequent class" if s.rule == "majority" else "the least frequent class"
    return f"{what} of {s.window_px} × {s.window_px} pixels{', round' * (s.shape == 'round')}"


SPEC = Operation(
    id="majority",
    version=1,
    station="tidy",
    title="Majority filter",
    short="smoothed",
    good_for="Salt and pepper: single pixels take the class around them.",
    source="Textbook moving window, cut at the map's edge; ties: centre, larger share, lower code",
    settings=MajoritySettings,
    open=of_one(_open),
    say=_say,
    others=shares_chosen,
    takes=frozenset({"classes"}),
    native_side=NATIVE_SIDE,
)
