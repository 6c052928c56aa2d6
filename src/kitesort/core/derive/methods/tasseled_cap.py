"""Tasseled cap: brightness, greenness, wetness by published or own coefficients, by role."""

from pydantic import Field

from kitesort.core.derive.coefficients import (
    CoefficientTable,
    get_published,
    is_meant_for,
    published_for,
)
from kitesort.core.derive.methods._linear import linear_raster
from kitesort.core.engine import Watch
from kitesort.core.errors import BadSettingsError, InputError
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.protocol import Raster, band_positions
from kitesort.core.settings import Settings

OWN = "own"


class TasseledCapSettings(Settings):
    coefficients: str = Field(
        "",
        title="Coefficients",
        description="The set published for the scene's sensor, or a table of your own.",
        max_length=40,
        json_schema_extra={"widget": "coefficients"},
    )
    own_name: str = Field("", max_length=120, json_schema_extra={"widget": "hidden"})
    table: CoefficientTable | None = Field(None, json_schema_extra={"widget": "hidden"})


def _prepare(
    raster: Raster, settings: TasseledCapSettings, context: Context, _: Watch
) -> TasseledCapSettings:
    if settings.coefficients == OWN:
        if settings.table is None:
            raise BadSettingsError("Type or paste a table of coefficients first.")
        band_positions(raster.bands, settings.table.roles)
        return settings
    sensor = context.sensor or "a scene made of several"
    chosen = (
        get_published(settings.coefficients)
        if settings.coefficients
        else published_for(context.sensor)
    )
    if chosen is None:
        raise InputError(
            f"No set of coefficients is published here for {sensor}. Give a table of your own: "
            "coefficients of another sensor do not fit its bands."
        )
    if not is_meant_for(chosen, context.sensor):
        raise InputError(
            f"The set “{chosen.title}” was made for that sensor, and the scene is of {sensor}: its "
            "bands are centred elsewhere. Copy the set into a table of your own to use it all the "
            "same."
        )
    bands = [raster.bands[p] for p in band_positions(raster.bands, chosen.table.roles)]
    others = [band for band in bands if band.quantity != "reflectance"]
    if others:
        raise InputError(
            f"The set “{chosen.title}” is for reflectance, and {others[0].role} holds "
            f"{others[0].quantity}. Convert the scene first, in Correct."
        )
    return settings.model_copy(update={"coefficients": chosen.id, "table": chosen.table})


def _derive(raster: Raster, settings: TasseledCapSettings, _: Context) -> Raster:
    if settings.table is None:
        raise BadSettingsError("The recipe holds no coefficients.")
    names = tuple(component.name for component in settings.table.components)
    return linear_raster(raster, settings.table.roles, names, settings.table.matrix)


def _say(settings: TasseledCapSettings) -> str:
    names = ", ".join(c.name for c in settings.table.components) if settings.table else ""
    if settings.coefficients == OWN:
        whose = f"own coefficients{f' “{settings.own_name}”' if settings.own_name else ''}"
    else:
        whose = f"the coefficients of {get_published(settings.coefficients).source}"
    return f"tasseled cap ({names}) by {whose}"


SPEC = Operation(
    id="tasseled-cap",
    version=1,
    station="derive",
    title="Tasseled cap",
    good_for="Soil brightness, green vegetation and wetness as three axes that mean the same in "
    "every scene of a sensor.",
    source="Kauth & Thomas 1976; each set of coefficients names its own source",
    settings=TasseledCapSettings,
    open=of_one(_derive),
    say=_say,
    name=lambda _: "Tasseled cap",
    prepare=of_one(_prepare),
)
