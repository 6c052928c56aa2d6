"""Derived layers of a study: previews while they are made, then scenes like any other."""

import hashlib
import re
from typing import Any

from kitesort.core.derive.formula.parse import WORDS
from kitesort.core.derive.formula.tree import FUNCTIONS
from kitesort.core.derive.protocol import LayerRef
from kitesort.core.derive.registry import DERIVATIONS
from kitesort.core.engine import UNWATCHED, Watch
from kitesort.core.errors import InputError, KiteSortError
from kitesort.core.raster.protocol import roles_of
from kitesort.core.scene_recipe import SceneRecipe, SceneSource, make_derived
from kitesort.core.settings import validate_settings
from kitesort.store.database import transaction
from kitesort.store.models import SceneRow
from kitesort.store.rasters import READER, scene_record, usable_scene
from kitesort.store.records import Scene
from kitesort.store.scenes import (
    get_scene,
    list_scenes,
    parents_of,
    require_in_study,
    usual_title,
)

KEPT_DRAFTS = 60  # of a study
HANDLE_LENGTH = 40


def layer_names(study_id: int) -> dict[str, LayerRef]:
    """Every band of every scene by the name that formulas call it by: the scene's title in small
    letters, a dot, the role; for a layer of one band its title alone will do."""
    names: dict[str, LayerRef] = {}
    handles: set[str] = set()
    for scene in list_scenes(study_id):
        handle = _free_handle(scene.title, handles)
        handles.add(handle)
        try:
            roles = roles_of(usable_scene(scene.id))
        except KiteSortError:
            continue  # one whose files have gone has no layers to name
        for role in roles:
            names[f"{handle}.{role}"] = LayerRef(scene_id=scene.id, role=role)
        if len(roles) == 1:
            names[handle] = LayerRef(scene_id=scene.id, role=roles[0])
    return names


def _free_handle(title: str, taken: set[str]) -> str:
    slug = re.sub(r"[^a-z0-9]+", "_", title.lower()).strip("_")[:HANDLE_LENGTH].strip("_")
    if not slug or not slug[0].isalpha() or slug in FUNCTIONS or slug in WORDS:
        slug = f"layer_{slug}".strip("_")
    tries = (slug if n == 1 else f"{slug}_{n}" for n in range(1, len(taken) + 2))
    return next(handle for handle in tries if handle not in taken)


def prepare_derived(
    study_id: int,
    scene_id: int,
    operation: str,
    settings: dict[str, Any],
    watch: Watch = UNWATCHED,
) -> SceneRecipe:
    """The recipe of layers derived from a scene; nothing is recorded yet.

    Raises
    ------
    InputError, BadSettingsError, NotFoundError, CancelledError
    """
    spec = DERIVATIONS[operation]
    named = spec.first_of(validate_settings(spec, settings))
    (scene,) = require_in_study(study_id, [scene_id if named is None else named])
    source = SceneSource(scene_id=scene.id, name=scene.title)
    recipe = make_derived(
        source, operation, settings, READER, layer_names(study_id),
        lambda other: scene_record(other).title, watch,
    )  # fmt: skip
    _require_one_study(study_id, recipe)
    return recipe


def _require_one_study(study_id: int, recipe: SceneRecipe) -> None:
    """Ids that a request named itself may be of another study."""
    members = getattr(recipe.source, "inputs", ())
    if any(scene_record(m.scene_id).study_id != study_id for m in members):
        raise InputError("A layer belongs to another study.")


def make_draft(study_id: int, recipe: SceneRecipe) -> Scene:
    """A preview of a recipe: it can be looked at like any scene, and is in no list. The same
    recipe is the same preview; the oldest ones go."""
    content = recipe.model_dump(mode="json")
    key = hashlib.blake2s(recipe.model_dump_json().encode(), digest_size=16).hexdigest()
    title = usual_title(recipe, get_scene(parents_of(recipe)[0]))
    with transaction():
        (
            SceneRow.insert(
                study_id=study_id, title=title, recipe=content, removed=True, draft_key=key
            )
            .on_conflict(
                conflict_target=[SceneRow.study_id, SceneRow.draft_key],
                conflict_where=SceneRow.draft_key.is_null(False),
                action="ignore",
            )
            .execute()
        )
        row = SceneRow.get(SceneRow.study_id == study_id, SceneRow.draft_key == key)
        _forget_old_drafts(study_id)
        return get_scene(row.id)


def _forget_old_drafts(study_id: int) -> None:
    drafts = SceneRow.study_id == study_id, SceneRow.draft_key.is_null(False)
    newest = (
        SceneRow.select(SceneRow.id).where(*drafts).order_by(SceneRow.id.desc()).limit(KEPT_DRAFTS)
    )
    kept = [row.id for row in newest]
    SceneRow.delete().where(*drafts, SceneRow.id.not_in(kept or [0])).execute()
