"""The scenes of a study: as delivered, and made of others by corrections."""

from collections.abc import Sequence
from datetime import date

from kitesort.core.correct.registry import COMBINATIONS, CORRECTIONS
from kitesort.core.delivery import DeliveredScene
from kitesort.core.derive.registry import DERIVATIONS
from kitesort.core.errors import ConflictError, DuplicateNameError, InputError, NotFoundError
from kitesort.core.scene_recipe import (
    CombinedSource,
    DeliveredSource,
    DerivedSource,
    SceneRecipe,
    SceneSource,
)
from kitesort.core.settings import validate_settings
from kitesort.store.database import transaction
from kitesort.store.edits import Change, apply_edit
from kitesort.store.files import remove_kept
from kitesort.store.models import SceneRow
from kitesort.store.records import Scene
from kitesort.store.studies import fetch, get_study


def add_scene(
    study_id: int, title: str, delivery: DeliveredScene, series: str | None = None
) -> Scene:
    """Take a delivered scene into the study.

    Raises
    ------
    DuplicateNameError
    """
    recipe = SceneRecipe(source=DeliveredSource(delivery=delivery))
    return _create(study_id, title, recipe, delivery.acquired, delivery.sensor, series)


def derive_scene(study_id: int, recipe: SceneRecipe, title: str | None = None) -> Scene:
    """Record a scene made of others; its title is made from theirs when none is given.

    Raises
    ------
    DuplicateNameError
    """
    parents = [get_scene(scene_id) for scene_id in parents_of(recipe)]
    first = parents[0]
    wanted = title or usual_title(recipe, first)
    dates = {p.acquired for p in parents}
    acquired = first.acquired if len(dates) == 1 else None
    sensors = list(dict.fromkeys(p.sensor for p in parents))
    free = wanted if title else free_title(study_id, wanted)
    return _create(study_id, free, recipe, acquired, " and ".join(sensors), None)


def usual_title(recipe: SceneRecipe, first: Scene) -> str:
    """What a scene made of others is called, ``first`` among them, unless it is named."""
    source = recipe.source
    if isinstance(source, DerivedSource):
        spec = DERIVATIONS[source.operation]
        return f"{spec.name(validate_settings(spec, source.settings))}, {first.title}"[:120]
    return f"{first.title}, {_short_words(recipe)}"


def _short_words(recipe: SceneRecipe) -> str:
    """What was done, in a few words."""
    done = [CORRECTIONS[step.operation].short for step in recipe.steps]
    if isinstance(recipe.source, CombinedSource):
        done.insert(0, COMBINATIONS[recipe.source.method].short)
    return ", ".join(dict.fromkeys(done))


def parents_of(recipe: SceneRecipe) -> list[int]:
    """Ids of the scenes that a recipe is made of."""
    if isinstance(recipe.source, SceneSource):
        return [recipe.source.scene_id]
    if isinstance(recipe.source, CombinedSource):
        return [member.scene_id for member in recipe.source.members]
    if isinstance(recipe.source, DerivedSource):
        return [scene.scene_id for scene in recipe.source.inputs]
    return []


def uses_scene(recipe: SceneRecipe, scene_id: int) -> bool:
    """Whether a recipe needs a scene, as its source or as the pattern of a step."""
    named = {step.settings.get("scene_id") for step in recipe.steps}
    return scene_id in named or scene_id in parents_of(recipe)


def list_scenes(study_id: int) -> list[Scene]:
    """Scenes by date, those without one last; of one date in the order they came."""
    with transaction():
        rows = SceneRow.select().where(SceneRow.study_id == study_id, ~SceneRow.removed)
        scenes = [Scene.model_validate(row) for row in rows.order_by(SceneRow.id)]
    return sorted(scenes, key=lambda scene: scene.acquired or date.max)


def get_scene(scene_id: int) -> Scene:
    return fetch(SceneRow, Scene, scene_id, "The scene")


def first_scene_id(study_id: int) -> int:
    """The scene that came first, removed or not: the study's CRS never changes by accident.

    Raises
    ------
    NotFoundError
    """
    with transaction():
        row = SceneRow.select().where(SceneRow.study_id == study_id).order_by(SceneRow.id).first()
    if row is None:
        raise NotFoundError("The study has no scene yet. Bring one in first.")
    return int(row.id)


def require_in_study(study_id: int, scene_ids: Sequence[int]) -> list[Scene]:
    """The scenes, all of this study.

    Raises
    ------
    NotFoundError, InputError
    """
    scenes = [get_scene(scene_id) for scene_id in scene_ids]
    if any(scene.study_id != study_id for scene in scenes):
        raise InputError("The scene belongs to another study.")
    return scenes


def rename_scene(scene_id: int, title: str) -> Scene:
    old = get_scene(scene_id)
    _require_free(old.study_id, title, scene_id)
    change = Change("scene", scene_id, {"title": old.title}, {"title": title})
    apply_edit(old.study_id, f"Rename {old.title}", [change])
    return get_scene(scene_id)


def remove_scene(scene_id: int) -> None:
    """Take a scene out of the study. What it was made of stays, so that this can be undone; a kept
    copy, which can be made again, goes at once.

    Raises
    ------
    ConflictError : it is the study's last one.
    """
    old = get_scene(scene_id)
    if [s.id for s in list_scenes(old.study_id)] == [scene_id]:
        raise ConflictError("This is the study's only scene. Bring another one in first.")
    change = Change("scene", scene_id, {"removed": False}, {"removed": True})
    with transaction():
        apply_edit(old.study_id, f"Remove {old.title}", [change])
        copy = set_kept(scene_id, None)
    remove_kept(copy)


def dependants_of(scene_id: int) -> list[Scene]:
    """Scenes that are made of this one, directly."""
    study_id = get_scene(scene_id).study_id
    return [s for s in list_scenes(study_id) if uses_scene(s.recipe, scene_id)]


def free_title(study_id: int, wanted: str) -> str:
    """The title, with a number behind it when it is taken."""
    taken = _titles(study_id)
    names = (wanted if n == 1 else f"{wanted} {n}" for n in range(1, len(taken) + 2))
    return next(name for name in names if name.casefold() not in taken)


def set_kept(scene_id: int, path: str | None) -> str | None:
    """Remember the complete file of a kept scene, or that there is none; what it was before. That
    one is to be removed once the transaction is done."""
    with transaction():
        row = SceneRow.select().where(SceneRow.id == scene_id).for_update().get()
        SceneRow.update(kept_path=path).where(SceneRow.id == scene_id).execute()
        return row.kept_path if row.kept_path != path else None


def kept_files() -> set[str]:
    with transaction():
        rows = SceneRow.select(SceneRow.kept_path).where(SceneRow.kept_path.is_null(False))
        return {str(row.kept_path) for row in rows}


def _create(
    study_id: int,
    title: str,
    recipe: SceneRecipe,
    acquired: date | None,
    sensor: str,
    series: str | None,
) -> Scene:
    get_study(study_id)
    _require_free(study_id, title)
    with transaction():
        row = SceneRow.create(
            study_id=study_id,
            title=title,
            recipe=recipe.model_dump(mode="json"),
            acquired=acquired,
            sensor=sensor,
            series=series,
        )
        return get_scene(row.id)


def _titles(study_id: int, but: int | None = None) -> set[str]:
    return {s.title.casefold() for s in list_scenes(study_id) if s.id != but}


def _require_free(study_id: int, title: str, but: int | None = None) -> None:
    if title.casefold() in _titles(study_id, but):
        raise DuplicateNameError(f"There is a scene called “{title}” already.")
