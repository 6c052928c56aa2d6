"""Texture: how grey levels lie beside one another in a window around each pixel."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from pydantic import Field

from kitesort.core.bands import Band
from kitesort.core.derive.methods._texture_kernel import MEASURES, co_occurrence
from kitesort.core.engine import Watch
from kitesort.core.errors import BadSettingsError, NoValidPixelsError
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.neighbourhood import FEW_SIDE, Around, NativeRaster
from kitesort.core.raster.protocol import Float32Array, Raster, band_positions
from kitesort.core.raster.sample import sample_pixels
from kitesort.core.settings import Settings, titled

Measure = Literal[
    "contrast", "dissimilarity", "homogeneity", "energy", "entropy", "correlation", "mean",
    "variance",
]  # fmt: skip
# Rows down and columns across to the other pixel of a pair, one pixel away.
DIRECTIONS = {"across": (0, 1), "up right": (-1, 1), "down": (1, 0), "down right": (1, 1)}


class TextureSettings(Settings):
    role: str = Field("nir", title="Band", max_length=64, json_schema_extra={"widget": "role"})
    measures: tuple[Measure, ...] = Field(
        ("contrast", "entropy"), title="Measures", min_length=1, max_length=len(MEASURES),
        json_schema_extra={"widget": "measures"},
    )  # fmt: skip
    window_px: int = Field(
        7,
        title="Window, pixels",
        description="Odd; about the size of the pattern that tells the covers apart.",
        ge=3,
        le=31,
        json_schema_extra={"step": 2},
    )
    levels: int = Field(
        16, title="Grey levels", description="Few are quicker and steadier; 16 or 32 are usual.",
        ge=2, le=64,
    )  # fmt: skip
    direction: Literal["all", "across", "up right", "down", "down right"] = Field(
        "all",
        title="Direction",
        description="Of the neighbours that are compared.",
        json_schema_extra=titled(
            {
                "all": "all four, blind to direction",
                "across": "across",
                "up right": "up to the right",
                "down": "down",
                "down right": "down to the right",
            }
        ),
    )
    distance_px: int = Field(1, title="Distance, pixels", ge=1, le=15)
    low: float | None = Field(
        None,
        title="Lowest level from",
        description="The 2nd percentile when left empty.",
        allow_inf_nan=False,
    )
    high: float | None = Field(
        None,
        title="Highest level from",
        description="The 98th percentile when left empty.",
        allow_inf_nan=False,
    )


def _prepare(
    raster: Raster, settings: TextureSettings, _: Context, _watch: Watch
) -> TextureSettings:
    band_positions(raster.bands, (settings.role,))
    if settings.window_px % 2 == 0:
        raise BadSettingsError("The window has an odd number of pixels, so that it has a middle.")
    if settings.distance_px >= settings.window_px:
        raise BadSettingsError("The distance is smaller than the window.")
    values = sample_pixels(raster, (settings.role,)).values
    if values.size == 0:
        raise NoValidPixelsError("The scene has no valid pixel to take grey levels from.")
    ends = np.percentile(values, [2, 98])
    low = float(ends[0]) if settings.low is None else settings.low
    high = float(ends[1]) if settings.high is None else settings.high
    if not low < high:
        raise BadSettingsError(
            f"The lowest level must be below the highest: {low:g} and {high:g}. "
            "A band that is the same everywhere has no texture."
        )
    return settings.model_copy(update={"low": low, "high": high})


@dataclass(frozen=True)
class _Measure:
    """Picklable: the measures of the windows around the wanted pixels."""

    settings: TextureSettings

    def __call__(self, around: Around) -> Float32Array:
        s, block = self.settings, around.block
        low, high = s.low or 0.0, s.high if s.high is not None else 1.0
        levels = np.floor((block.values[0].astype(np.float64) - low) / (high - low) * s.levels)
        codes = np.where(block.valid, np.clip(levels, 0, s.levels - 1), -1).astype(np.int32)
        found = np.empty((len(MEASURES), len(around.rows), len(around.cols)), np.float32)
        offsets = np.array(_offsets(s), np.int64)
        co_occurrence(codes, around.rows, around.cols, s.window_px // 2, offsets, s.levels, found)
        return found[[MEASURES.index(measure) for measure in s.measures]]


def _offsets(settings: TextureSettings) -> list[tuple[int, int]]:
    names = list(DIRECTIONS) if settings.direction == "all" else [settings.direction]
    d = settings.distance_px
    return [(DIRECTIONS[name][0] * d, DIRECTIONS[name][1] * d) for name in names]


def _short(role: str, measure: str) -> str:
    return f"{role[:17]}_{measure}"


def _derive(raster: Raster, settings: TextureSettings, _: Context) -> Raster:
    bands = tuple(Band(_short(settings.role, measure)) for measure in settings.measures)
    reach = settings.window_px // 2
    return NativeRaster(
        raster, (settings.role,), bands, (reach, reach), _Measure(settings), repr(settings)
    )


def _say(s: TextureSettings) -> str:
    where = "in all directions" if s.direction == "all" else s.direction
    return (
        f"texture of {s.role} ({', '.join(s.measures)}) in windows of {s.window_px} × "
        f"{s.window_px} pixels, {s.levels} levels, neighbours {s.distance_px} apart {where}"
    )


SPEC = Operation(
    id="texture",
    version=1,
    station="derive",
    title="Texture",
    good_for="Covers of the same colour and another grain: wood and scrub, reed and pasture.",
    source="Haralick, Shanmugam & Dinstein 1973, IEEE Transactions on Systems, Man and Cybernetics "
    "3:610-621",
    settings=TextureSettings,
    open=of_one(_derive),
    say=_say,
    name=lambda s: f"Texture of {s.role}",
    prepare=of_one(_prepare),
    native_side=FEW_SIDE,
)
