"""A scale and an offset given by hand, for scenes whose metadata gives none."""

from pydantic import Field, model_validator

from kitesort.core.bands import MeasuredQuantity
from kitesort.core.correct.methods._band_table import linear_per_band
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.protocol import Raster, band_positions, roles_of
from kitesort.core.settings import Settings, titled


class BandFactors(Settings):
    role: str = Field(min_length=1, max_length=80)
    scale: float = Field(gt=0)
    offset: float


class ScaleSettings(Settings):
    scale: float = Field(
        0.0001, title="Scale", description="Every value is multiplied by this first.", gt=0
    )
    offset: float = Field(0.0, title="Offset", description="Then this is added.")
    by_band: tuple[BandFactors, ...] = Field(
        (),
        title="Band by band",
        description="Bands with a scale and an offset of their own.",
        max_length=500,
        json_schema_extra={"widget": "band factors"},
    )
    result: MeasuredQuantity = Field(
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

    @model_validator(mode="after")
    def _each_band_once(self) -> "ScaleSettings":
        named = [band.role for band in self.by_band]
        if len(set(named)) < len(named):
            raise ValueError("a band has factors twice")
        return self


def _apply(raster: Raster, settings: ScaleSettings, _: Context) -> Raster:
    roles = roles_of(raster)
    band_positions(raster.bands, tuple(band.role for band in settings.by_band))
    factors = dict.fromkeys(roles, (settings.scale, settings.offset))
    factors |= {band.role: (band.scale, band.offset) for band in settings.by_band}
    return linear_per_band(raster, factors, quantities=dict.fromkeys(roles, settings.result))


def _say(settings: ScaleSettings) -> str:
    own = "".join(f", {b.role} × {b.scale:g} + {b.offset:g}" for b in settings.by_band)
    return f"values × {settings.scale:g} + {settings.offset:g}{own}, as {settings.result}"


SPEC = Operation(
    id="scale",
    version=1,
    station="correct",
    title="Scale and offset",
    short="scaled",
    family="values",
    good_for="Whole numbers that stand for reflectance or an index, when no metadata gives the "
    "factors.",
    source="value = number × scale + offset",
    settings=ScaleSettings,
    open=of_one(_apply),
    say=_say,
)
