"""A formula of the analyst's own, in roles and layers."""

from pydantic import Field

from kitesort.core.delivery.scene import ROLE_PATTERN
from kitesort.core.derive.formula.parse import MAX_CHARACTERS, parse_formula
from kitesort.core.derive.formula.tree import names_in, require_known_names
from kitesort.core.derive.layer_ref import find_layers, join_layers
from kitesort.core.derive.methods._formula_raster import formula_raster
from kitesort.core.derive.methods._named_layers import NamedLayersSettings, named_scenes
from kitesort.core.engine import Watch
from kitesort.core.operation import ANY_KIND, Context, Operation, of_one
from kitesort.core.raster.protocol import Raster, roles_of


class FormulaSettings(NamedLayersSettings):
    formula: str = Field(
        "",
        title="Formula",
        description="Arithmetic in band roles and layers, such as (nir - red) / (nir + red).",
        max_length=MAX_CHARACTERS,
        json_schema_extra={"widget": "formula"},
    )
    name: str = Field(
        "formula",
        title="Short name",
        description="What the layer is called in other formulas and stacks: small letters, digits "
        "and _.",
        pattern=f"^{ROLE_PATTERN.pattern}$",
        json_schema_extra={"widget": "short name"},
    )


def _prepare(
    raster: Raster, settings: FormulaSettings, context: Context, _: Watch
) -> FormulaSettings:
    node = parse_formula(settings.formula)
    known = (*roles_of(raster), *settings.layers, *context.layers)
    require_known_names(node, known)
    found = find_layers(names_in(node), raster, settings.layers, context)
    return settings.model_copy(update={"layers": found})


def _derive(raster: Raster, settings: FormulaSettings, context: Context) -> Raster:
    node = parse_formula(settings.formula)
    source = join_layers(names_in(node), raster, settings.layers, context, settings.align)
    return formula_raster(source, node, settings.name)


SPEC = Operation(
    id="formula",
    version=1,
    station="derive",
    title="Formula",
    good_for="Anything that arithmetic can say of bands, of layers and of dates.",
    source="Ordinary arithmetic in double precision; division by zero, roots and logarithms of "
    "negatives give no data",
    settings=FormulaSettings,
    open=of_one(_derive),
    say=lambda s: f"{s.name} = {s.formula}",
    name=lambda s: s.name,
    prepare=of_one(_prepare),
    others=named_scenes,
    takes=ANY_KIND,
)
