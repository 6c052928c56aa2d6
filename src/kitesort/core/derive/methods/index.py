"""A published spectral index, found by name and computed by role."""

from typing import Any

from pydantic import Field

from kitesort.core.derive.formula.parse import parse_formula
from kitesort.core.derive.index_catalogue import get_index, require_bound
from kitesort.core.derive.methods._formula_raster import formula_raster
from kitesort.core.engine import Watch
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import Settings


class IndexSettings(Settings):
    index: str = Field(
        "ndvi",
        title="Index",
        description="By name, from the published catalogue.",
        max_length=40,
        json_schema_extra={"widget": "index"},
    )
    constants: dict[str, float] = Field(
        default_factory=dict,
        title="Constants",
        description="The published values where left empty.",
        json_schema_extra={"widget": "constants"},
    )
    formula: str = Field("", max_length=2000, json_schema_extra={"widget": "hidden"})


def _prepare(raster: Raster, settings: IndexSettings, _: Context, _watch: Watch) -> IndexSettings:
    bound = require_bound(get_index(settings.index), raster.bands, settings.constants)
    return settings.model_copy(update={"formula": bound.formula})


def _derive(raster: Raster, settings: IndexSettings, _: Context) -> Raster:
    return formula_raster(raster, parse_formula(settings.formula), settings.index)


def _say(settings: IndexSettings) -> str:
    index = get_index(settings.index)
    return f"{index.title}, {index.symbol} = {settings.formula}"


def _name(settings: Any) -> str:
    return get_index(settings.index).symbol


SPEC = Operation(
    id="index",
    version=1,
    station="derive",
    title="Index",
    good_for="One number per pixel that rises with vegetation, water, bare soil, burnt or built-up "
    "ground.",
    source="Each index names its own; the catalogue is open data (see the guide)",
    settings=IndexSettings,
    open=of_one(_derive),
    say=_say,
    name=_name,
    prepare=of_one(_prepare),
)
