"""Drawn areas become no data, or everything but them."""

from typing import Any

from pydantic import Field

from kitesort.core.area_mask import area_mask
from kitesort.core.correct.methods._masked import MaskedRaster, Side, mask_side, mask_words
from kitesort.core.operation import ANY_KIND, Context, Operation, of_one
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import Settings


class AreaMaskSettings(Settings):
    areas: tuple[dict[str, Any], ...] = Field(
        title="Areas",
        description="Outlines in the scene's coordinate system.",
        min_length=1,
        max_length=500,
        json_schema_extra={"widget": "areas"},
    )
    mask: Side = mask_side("the areas", "all but the areas")


def _apply(raster: Raster, settings: AreaMaskSettings, _: Context) -> Raster:
    usable = area_mask(raster.grid, settings.areas, settings.mask == "outside")
    return MaskedRaster(raster, usable, repr(usable))


def _say(settings: AreaMaskSettings) -> str:
    n = len(settings.areas)
    what = "one drawn area" if n == 1 else f"{n} drawn areas"
    return mask_words(what, settings.mask)


SPEC = Operation(
    id="mask-areas",
    version=1,
    station="correct",
    title="Mask drawn areas",
    short="masked",
    family="mask",
    good_for="What no quality band marks: smoke, glint, a fault of the sensor.",
    source="Pixels whose centres lie inside",
    settings=AreaMaskSettings,
    open=of_one(_apply),
    say=_say,
    takes=ANY_KIND,
)
