"""Corrections of layers, one at a time or many at once, and several layers made into one."""

from kitesort.api.maps import map_out
from kitesort.api.routes import api_router
from kitesort.api.scene_out import scene_out, stored_with_answers
from kitesort.api.scene_schemas import (
    CombinationCreate,
    CorrectionCreate,
    DarkValuesIn,
    MadeOut,
    OperationOut,
    ProblemWith,
    SceneOut,
    ShiftOut,
)
from kitesort.api.schemas import Id, MapOut
from kitesort.core.correct.methods.dark_object import find_dark_values
from kitesort.core.correct.methods.move import measure_shift
from kitesort.core.correct.registry import COMBINATIONS, CORRECTIONS
from kitesort.core.errors import InputError
from kitesort.core.geometry import reproject_geometry
from kitesort.core.operation import Operation
from kitesort.core.recipe import LayerLeaf, Recipe, apply_operation
from kitesort.store.layers import get_layer, require_in_study
from kitesort.store.records import Layer
from kitesort.study.derive import title_of
from kitesort.study.maps import make_layer
from kitesort.study.rasters import READER, open_layer, study_crs
from kitesort.study.steps import Step, for_map, with_steps

router = api_router("correct")


@router.get("/corrections")
def get_corrections() -> list[OperationOut]:
    return [operation_out(spec) for spec in CORRECTIONS.values()]


@router.get("/combinations")
def get_combinations() -> list[OperationOut]:
    return [operation_out(spec) for spec in COMBINATIONS.values()]


@router.post("/studies/{study_id}/corrections", status_code=201)
def correct_layers(study_id: Id, body: CorrectionCreate) -> MadeOut:
    """The same steps for every layer named; what cannot be done for one is told, and the others
    are made. Codes in the settings are those of the first layer, where that is a class map; on
    another one its classes are found by their names."""
    made, problems = list[SceneOut | MapOut](), []
    steps = [Step(one.operation, one.settings) for one in body.steps]
    layers = require_in_study(study_id, body.layer_ids)
    for layer in layers:
        try:
            recipe = with_steps(study_id, layer, _steps_for(layer, steps, layers[0]))
            made += _store(study_id, recipe, body.title)
        except InputError as error:
            if len(body.layer_ids) == 1:
                raise
            problems.append(
                ProblemWith(layer_id=layer.id, title=layer.title, sentence=error.sentence)
            )
    return _made_out(made, problems)


def _steps_for(layer: Layer, steps: list[Step], made_for: Layer) -> list[Step]:
    if layer.id == made_for.id or not layer.kind == made_for.kind == "classes":
        return steps
    return for_map(layer, steps, {entry.code: entry.name for entry in made_for.map.legend})


def _store(study_id: int, recipe: Recipe, title: str | None) -> list[SceneOut | MapOut]:
    return stored_with_answers(lambda: [make_layer(study_id, recipe, title)], _layer_out)


def _layer_out(layer: Layer) -> SceneOut | MapOut:
    return map_out(layer) if layer.kind == "classes" else scene_out(layer)


def _made_out(made: list[SceneOut | MapOut], problems: list[ProblemWith]) -> MadeOut:
    return MadeOut(
        made=[one for one in made if isinstance(one, SceneOut)],
        maps=[one for one in made if isinstance(one, MapOut)],
        problems=problems,
    )


@router.post("/studies/{study_id}/combinations", status_code=201)
def combine_layers(study_id: Id, body: CombinationCreate) -> MadeOut:
    """One layer of several: a mosaic of tiles, or a composite of dates."""
    members = tuple(
        LayerLeaf(layer_id=s.id, name=s.title) for s in require_in_study(study_id, body.layer_ids)
    )
    _ = COMBINATIONS[body.method]
    recipe = apply_operation(members, body.method, body.settings, READER, title_of)
    return _made_out(_store(study_id, recipe, body.title), [])


@router.post("/scenes/{scene_id}/dark-values")
def get_dark_values(scene_id: Id, body: DarkValuesIn) -> dict[str, float]:
    """The dark value of each band, from the histogram's foot or a drawn area."""
    raster, area = open_layer(scene_id), body.area
    if area is not None:
        crs = study_crs(get_layer(scene_id).study_id)
        area = reproject_geometry(area, crs, raster.grid.crs)
    return find_dark_values(raster, body.foot_percent, area)


@router.get("/scenes/{scene_id}/shift")
def get_shift(scene_id: Id, reference_id: Id) -> ShiftOut:
    """By how many pixels a scene must be moved to lie on another one."""
    found = measure_shift(open_layer(scene_id), open_layer(reference_id))
    return ShiftOut.model_validate(found, from_attributes=True)


def operation_out(spec: Operation) -> OperationOut:
    return OperationOut(
        id=spec.id,
        title=spec.title,
        otherwise=spec.otherwise,
        good_for=spec.good_for,
        source=spec.source,
        takes=sorted(spec.takes),
        settings_schema=spec.settings.model_json_schema(),
    )
