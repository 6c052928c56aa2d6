"""What helps to derive: the index catalogue, formulas as they are typed, coefficients, presets."""

from kitesort.api.derive_schemas import (
    CoefficientSetOut,
    FormulaIn,
    FormulaOut,
    FunctionOut,
    IndexConstantOut,
    IndexOut,
    LayerNameOut,
    PresetIn,
    TableOut,
    TableText,
    TypicalOut,
)
from kitesort.api.routes import api_router
from kitesort.api.schemas import Id
from kitesort.core.derive.coefficients import (
    PUBLISHED_SETS,
    find_remarks,
    is_meant_for,
    parse_table,
)
from kitesort.core.derive.formula.parse import parse_formula
from kitesort.core.derive.formula.tree import FUNCTIONS, names_in, require_known_names
from kitesort.core.derive.formula.typeset import typeset
from kitesort.core.derive.index_catalogue import (
    USUAL,
    BoundIndex,
    all_indices,
    bind_index,
    known_range,
    typical_values,
)
from kitesort.core.errors import FormulaError
from kitesort.core.newest import remembered
from kitesort.core.raster.protocol import roles_of
from kitesort.store import presets
from kitesort.store.layers import require_in_study
from kitesort.store.records import Preset
from kitesort.study.derive import layer_names
from kitesort.study.rasters import delivery_of, layer_record, open_layer

router = api_router("derive")


@router.get("/scenes/{scene_id}/indices")
def get_indices(scene_id: Id) -> list[IndexOut]:
    """The whole catalogue, the usual ones first; what the scene can give says nothing missing."""
    return list(_indices_of(scene_id))


@remembered(64)
def _indices_of(scene_id: int) -> tuple[IndexOut, ...]:
    bands = open_layer(scene_id).bands
    found = [_index_out(bind_index(index, bands)) for index in all_indices().values()]
    return tuple(sorted(found, key=lambda one: USUAL.index(one.id) if one.usual else len(USUAL)))


def _index_out(bound: BoundIndex) -> IndexOut:
    index = bound.index
    ends = known_range(index) or (None, None)
    return IndexOut(
        id=index.id,
        symbol=index.symbol,
        title=index.title,
        use=index.use,
        formula=bound.formula,
        mathml=typeset(parse_formula(bound.formula)),
        missing=list(bound.missing),
        constants=[IndexConstantOut(name=n, value=v) for n, v in index.constants.items()],
        reference=index.reference,
        low=ends[0],
        high=ends[1],
        typical=[TypicalOut(cover=c, value=v) for c, v in typical_values(index.id).items()],
        usual=index.id in USUAL,
    )


@router.get("/functions")
def get_functions() -> list[FunctionOut]:
    """What a formula may call."""
    return [FunctionOut(name=name, words=f.words) for name, f in FUNCTIONS.items()]


@router.get("/studies/{study_id}/layer-names")
def get_layer_names(study_id: Id) -> list[LayerNameOut]:
    """What formulas may name beside the roles of their own scene."""
    return [
        LayerNameOut(
            name=name, scene_id=ref.scene_id, role=ref.role, title=layer_record(ref.scene_id).title
        )
        for name, ref in layer_names(study_id).items()
    ]


@router.post("/studies/{study_id}/formula-checks")
def check_formula(study_id: Id, body: FormulaIn) -> FormulaOut:
    """A formula as it stands while it is typed."""
    require_in_study(study_id, [body.scene_id])
    try:
        node = parse_formula(body.formula)
        known = (*roles_of(open_layer(body.scene_id)), *layer_names(study_id))
        require_known_names(node, known)
    except FormulaError as error:
        return FormulaOut(
            problem=error.sentence, start=error.start, end=error.end, instead=error.instead,
            mathml=None, names=[],
        )  # fmt: skip
    return FormulaOut(
        problem=None, start=0, end=0, instead=None, mathml=typeset(node),
        names=list(names_in(node)),
    )  # fmt: skip


@router.get("/scenes/{scene_id}/coefficient-sets")
def get_coefficient_sets(scene_id: Id) -> list[CoefficientSetOut]:
    """The published sets, and whether they were made for the scene's sensor."""
    delivery = delivery_of(scene_id)
    sensor = delivery.sensor if delivery else None
    found = []
    for one in PUBLISHED_SETS:
        fits = is_meant_for(one, sensor)
        reason = "" if fits else f"made for another sensor than {sensor or 'that of this scene'}"
        found.append(
            CoefficientSetOut(
                id=one.id, title=one.title, source=one.source, fits=fits, reason=reason,
                table=one.table,
            )
        )  # fmt: skip
    return found


@router.post("/coefficient-tables/text")
def read_coefficients(body: TableText) -> TableOut:
    """A pasted table of coefficients, and what is unusual about it."""
    table = parse_table(body.text)
    return TableOut(table=table, remarks=find_remarks(table))


@router.get("/studies/{study_id}/presets")
def get_presets(study_id: Id) -> list[Preset]:
    """What was saved for reuse."""
    return presets.list_presets(study_id)


@router.post("/studies/{study_id}/presets", status_code=201)
def save_preset(study_id: Id, body: PresetIn) -> Preset:
    return presets.save_preset(study_id, body.kind, body.name, body.content)


@router.delete("/presets/{preset_id}", status_code=204)
def remove_preset(preset_id: Id) -> None:
    presets.remove_preset(preset_id)
