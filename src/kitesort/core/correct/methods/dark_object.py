"""Haze out: what the darkest ground still shows is taken as the sky's own light."""

from typing import Any

import numpy as np
from pydantic import Field

from kitesort.core.correct.methods._band_table import linear_per_band
from kitesort.core.engine import Watch
from kitesort.core.errors import NoValidPixelsError
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.outline import parse_site
from kitesort.core.raster.protocol import Raster
from kitesort.core.raster.sample import sample_pixels
from kitesort.core.settings import Settings
from kitesort.core.site_pixels import site_pixels


class DarkObjectSettings(Settings):
    foot_percent: float = Field(
        0.1,
        title="Foot of the histogram, %",
        description="The value below which this share of the valid pixels lies is the dark value.",
        ge=0.0,
        le=10,
        json_schema_extra={"step": 0.1},
    )
    left: float = Field(
        0.01,
        title="Left to the darkest ground",
        description="Even deep water or shadow reflects a little; about one percent is usual. "
        "It is meant for reflectance: of numbers and radiance the whole dark value is taken.",
        ge=0,
        le=0.2,
        json_schema_extra={"step": 0.005},
    )
    area: dict[str, Any] | None = Field(
        None,
        title="Dark area",
        description="A drawn area of deep water or shadow; its median is the dark value.",
        json_schema_extra={"widget": "area"},
    )
    dark: dict[str, float] = Field(
        default_factory=dict,
        title="Dark value per band",
        description="Found in the scene when left empty.",
        json_schema_extra={"widget": "dark values"},
    )


def find_dark_values(
    raster: Raster, foot_percent: float, area: dict[str, Any] | None = None
) -> dict[str, float]:
    """Dark value by role, from valid pixels only: fill zeros never count; no haze lies on what is
    sent out as warmth.

    From the drawn area its median; else the percentile at the histogram's foot, of native pixels:
    all where there are few, else windows spread evenly. It is a value that occurs, never one
    between two.

    Raises
    ------
    NoValidPixelsError, SiteError
    """
    roles = tuple(band.role for band in raster.bands if band.quantity != "temperature")
    if not roles:
        return {}
    if area is not None:
        values = site_pixels(raster, parse_site(area), roles).values
        return dict(zip(roles, (float(v) for v in np.median(values, axis=0)), strict=True))
    values = sample_pixels(raster, roles).values
    if values.shape[1] == 0:
        raise NoValidPixelsError("The scene has no valid pixel to find a dark value in.")
    foot = np.percentile(values, foot_percent, axis=1, method="inverted_cdf")
    return dict(zip(roles, (float(v) for v in foot), strict=True))


def _prepare(
    raster: Raster, settings: DarkObjectSettings, _: Context, _watch: Watch
) -> DarkObjectSettings:
    found = find_dark_values(raster, settings.foot_percent, settings.area)
    kept = {role: v for role, v in settings.dark.items() if role in found}
    return settings.model_copy(update={"dark": found | kept})


def _apply(raster: Raster, settings: DarkObjectSettings, _: Context) -> Raster:
    left = {b.role: settings.left if b.quantity == "reflectance" else 0.0 for b in raster.bands}
    shifts = {role: (1.0, -max(0.0, v - left[role])) for role, v in settings.dark.items()}
    return linear_per_band(raster, shifts, floor=0.0)


def _say(settings: DarkObjectSettings) -> str:
    where = "a drawn dark area" if settings.area else "the histogram's foot"
    values = ", ".join(f"{role} {v:.3f}" for role, v in settings.dark.items())
    return f"haze taken out by dark objects from {where} ({values or 'to be found'})"


SPEC = Operation(
    id="dark-object",
    version=1,
    station="correct",
    title="Haze: dark object subtraction",
    short="haze out",
    family="haze",
    good_for="Bringing dates with different haze near to one another when no model of the air is "
    "at hand.",
    source="P. S. Chavez 1988, Remote Sensing of Environment 24:459-479",
    settings=DarkObjectSettings,
    open=of_one(_apply),
    say=_say,
    prepare=of_one(_prepare),
)
