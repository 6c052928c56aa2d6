"""Corrections of scenes, one at a time or many at once, and several scenes made into one."""

from fastapi import APIRouter

from kitesort.api.scene_out import stored_with_answer
from kitesort.api.scene_schemas import (
    CombinationCreate,
    CorrectionCreate,
    CorrectionOut,
    DarkValuesIn,
    OperationOut,
    ProblemWith,
    SceneOut,
    ShiftOut,
)
from kitesort.api.schemas import Id
from kitesort.core.correct.methods.dark_object import find_dark_values
from kitesort.core.correct.methods.move import measure_shift
from kitesort.core.correct.protocol import CombinationSpec, CorrectionSpec
from kitesort.core.correct.registry import COMBINATIONS, CORRECTIONS
from kitesort.core.errors import InputError
from kitesort.core.geometry import reproject_geometry
from kitesort.core.scene_recipe import (
    CombinedSource,
    SceneRecipe,
    SceneSource,
    add_step,
    open_recipe,
)
from kitesort.core.settings import validate_settings
from kitesort.store.rasters import READER, study_crs, usable_scene
from kitesort.store.records import Scene
from kitesort.store.scenes import derive_scene, get_scene, require_in_study

router = APIRouter(tags=["correct"])


@router.get("/corrections")
def get_corrections() -> list[OperationOut]:
    return [_operation_out(spec) for spec in CORRECTIONS.values()]


@router.get("/combinations")
def get_combinations() -> list[OperationOut]:
    return [_operation_out(spec) for spec in COMBINATIONS.values()]


@router.post("/studies/{study_id}/corrections", status_code=201)
def correct_scenes(study_id: Id, body: CorrectionCreate) -> CorrectionOut:
    """The same steps for every scene named; what cannot be done for one is told, and the others
    are made."""
    made, problems = [], []
    for scene in require_in_study(study_id, body.scene_ids):
        try:
            recipe = _with_steps(study_id, scene, body)
            made.append(_keep(study_id, recipe, body.title))
        except InputError as error:
            if len(body.scene_ids) == 1:
                raise
            problems.append(
                ProblemWith(scene_id=scene.id, title=scene.title, sentence=error.sentence)
            )
    return CorrectionOut(made=made, problems=problems)


def _with_steps(study_id: int, scene: Scene, body: CorrectionCreate) -> SceneRecipe:
    """Outlines are drawn in the study's CRS and kept in that of the scene as it is by then."""
    recipe = SceneRecipe(source=SceneSource(scene_id=scene.id, name=scene.title))
    crs = study_crs(study_id)
    for step in body.steps:
        there = open_recipe(recipe, READER).grid.crs
        settings = dict(step.settings)
        if isinstance(settings.get("area"), dict):
            settings["area"] = reproject_geometry(settings["area"], crs, there)
        if isinstance(settings.get("areas"), list):
            settings["areas"] = [reproject_geometry(a, crs, there) for a in settings["areas"]]
        recipe = add_step(recipe, step.operation, settings, READER)
    return recipe


@router.post("/studies/{study_id}/combinations", status_code=201)
def combine_scenes(study_id: Id, body: CombinationCreate) -> SceneOut:
    """One scene of several: a mosaic of tiles, or a composite of dates."""
    members = tuple(
        SceneSource(scene_id=s.id, name=s.title) for s in require_in_study(study_id, body.scene_ids)
    )
    spec = COMBINATIONS[body.method]
    settings = validate_settings(spec, body.settings).model_dump(mode="json")
    source = CombinedSource(
        method=body.method, version=spec.version, settings=settings, members=members
    )
    recipe = SceneRecipe(source=source)
    _ = open_recipe(recipe, READER).grid
    return _keep(study_id, recipe, body.title)


def _keep(study_id: int, recipe: SceneRecipe, title: str | None) -> SceneOut:
    return stored_with_answer(lambda: derive_scene(study_id, recipe, title))


@router.post("/scenes/{scene_id}/dark-values")
def get_dark_values(scene_id: Id, body: DarkValuesIn) -> dict[str, float]:
    """The dark value of each band, from the histogram's foot or a drawn area."""
    raster, area = usable_scene(scene_id), body.area
    if area is not None:
        crs = study_crs(get_scene(scene_id).study_id)
        area = reproject_geometry(area, crs, raster.grid.crs)
    return find_dark_values(raster, body.foot_percent, area)


@router.get("/scenes/{scene_id}/shift")
def get_shift(scene_id: Id, reference_id: Id) -> ShiftOut:
    """By how many pixels a scene must be moved to lie on another one."""
    found = measure_shift(usable_scene(scene_id), usable_scene(reference_id))
    return ShiftOut.model_validate(found, from_attributes=True)


def _operation_out(spec: CorrectionSpec | CombinationSpec) -> OperationOut:
    return OperationOut(
        id=spec.id,
        title=spec.title,
        otherwise=spec.otherwise if isinstance(spec, CorrectionSpec) else None,
        good_for=spec.good_for,
        source=spec.source,
        settings_schema=spec.settings.model_json_schema(),
    )
