"""A scale and an offset given by hand, for scenes whose metadata gives none."""

from pydantic import Field

from kitesort.core.bands import Quantity
from kitesort.core.correct.methods._band_table import linear_per_band
from kitesort.core.correct.protocol import CorrectionContext, CorrectionSpec
from kitesort.core.raster.protocol import Raster, roles_of
from kitesort.core.settings import Settings, titled


class ScaleSettings(Settings):
    scale: float = Field(
        0.0001, title="Scale", description="Every value is multiplied by this first.", gt=0
    )
    offset: float = Field(0.0, title="Offset", description="Then this is added.")
    result: Quantity = Field(
        "reflectance",
        title="The result is",
        description="Reflectance runs from 0 to 1; radiance is in watts per square metre, "
        "steradian and micrometre; temperature in kelvin; values, such as an index, have no unit.",
        json_schema_extra=titled(
            {
                "reflectance": "reflectance",
                "radiance": "radiance",
                "temperature": "temperature",
                "numbers": "numbers as delivered",
                "values": "values without a unit",
            }
        ),
    )


def _apply(raster: Raster, settings: ScaleSettings, _: CorrectionContext) -> Raster:
    roles = roles_of(raster)
    return linear_per_band(
        raster,
        dict.fromkeys(roles, (settings.scale, settings.offset)),
        quantities=dict.fromkeys(roles, settings.result),
    )


def _say(settings: ScaleSettings) -> str:
    return f"values × {settings.scale:g} + {settings.offset:g}, as {settings.result}"


SPEC = CorrectionSpec(
    id="scale",
    version=1,
    title="Scale and offset",
    short="scaled",
    good_for="Whole numbers that stand for reflectance or an index, when no metadata gives the "
    "factors.",
    source="value = number × scale + offset",
    settings=ScaleSettings,
    apply=_apply,
    say=_say,
)
