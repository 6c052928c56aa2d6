"""One layer over another."""

from pydantic import Field

from kitesort.core.derive.formula.tree import Binary, Name
from kitesort.core.derive.layer_ref import find_layers, join_layers
from kitesort.core.derive.methods._formula_raster import formula_raster
from kitesort.core.derive.methods._named_layers import NamedLayersSettings, named_scenes
from kitesort.core.engine import Watch
from kitesort.core.errors import BadSettingsError
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.protocol import Raster


class RatioSettings(NamedLayersSettings):
    upper: str = Field(
        "nir",
        title="Above",
        max_length=80,
        json_schema_extra={"widget": "layer name", "differs_from": "lower"},
    )
    lower: str = Field(
        "blue",
        title="Below",
        max_length=80,
        json_schema_extra={"widget": "layer name", "differs_from": "upper"},
    )


def _prepare(raster: Raster, settings: RatioSettings, context: Context, _: Watch) -> RatioSettings:
    if settings.upper == settings.lower:
        raise BadSettingsError("A layer over itself is 1 everywhere. Choose two layers.")
    names = (settings.upper, settings.lower)
    found = find_layers(names, raster, settings.layers, context)
    return settings.model_copy(update={"layers": found})


def _derive(raster: Raster, settings: RatioSettings, context: Context) -> Raster:
    names = (settings.upper, settings.lower)
    source = join_layers(names, raster, settings.layers, context, settings.align)
    node = Binary("/", Name(settings.upper), Name(settings.lower))
    return formula_raster(source, node, _short(settings))


def _short(settings: RatioSettings) -> str:
    """Names may have a handle before the role; a role may not be longer than 32 letters."""
    upper, lower = (name.replace(".", "_") for name in (settings.upper, settings.lower))
    return f"{upper[:13]}_over_{lower[:13]}"


SPEC = Operation(
    id="ratio",
    version=1,
    station="derive",
    title="Ratio",
    good_for="Telling covers apart by the shape of their spectra whatever the light on a slope.",
    source="Textbook band ratio",
    settings=RatioSettings,
    open=of_one(_derive),
    say=lambda s: f"{s.upper} / {s.lower}",
    name=lambda s: f"{s.upper} / {s.lower}",
    prepare=of_one(_prepare),
    others=named_scenes,
)
