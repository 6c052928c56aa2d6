"""Derived layers of a study: previews while they are made, then scenes like any other."""

import re
from typing import Any

from kitesort.core.derive.formula.parse import WORDS
from kitesort.core.derive.formula.tree import FUNCTIONS
from kitesort.core.derive.registry import DERIVATIONS
from kitesort.core.engine import UNWATCHED, Watch
from kitesort.core.errors import KiteSortError
from kitesort.core.operation import LayerRef
from kitesort.core.raster.class_file import class_bands
from kitesort.core.raster.protocol import roles_of
from kitesort.core.recipe import LayerLeaf, Recipe, apply_operation, layers_in, parents_of
from kitesort.core.settings import validate_settings
from kitesort.store.drafts import store_draft
from kitesort.store.layers import get_layer, list_layers, require_in_study
from kitesort.store.records import Layer
from kitesort.store.scenes import list_scenes, usual_title
from kitesort.study.rasters import READER, layer_record, open_layer, require_own

HANDLE_LENGTH = 40


def layer_names(study_id: int) -> dict[str, LayerRef]:
    """Every band of every scene by the name that formulas call it by: the scene's title in small
    letters, a dot, the role; for a layer of one band its title alone will do."""
    names: dict[str, LayerRef] = {}
    handles: set[str] = set()
    for scene in (*list_scenes(study_id), *list_layers(study_id, "classes")):
        handle = _free_handle(scene.title, handles)
        handles.add(handle)
        try:
            roles = _roles_of_layer(scene)
        except KiteSortError:
            continue  # one whose files have gone has no layers to name
        for role in roles:
            names[f"{handle}.{role}"] = LayerRef(scene_id=scene.id, role=role)
        if len(roles) == 1:
            names[handle] = LayerRef(scene_id=scene.id, role=roles[0])
    return names


def _roles_of_layer(layer: Layer) -> tuple[str, ...]:
    """A map has one band, whatever made it: to open dozens would be to train for each."""
    if layer.kind == "classes":
        return tuple(band.role for band in class_bands(()))
    return roles_of(open_layer(layer.id))


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
) -> Recipe:
    """The recipe of layers derived from a scene; nothing is recorded yet.

    Raises
    ------
    InputError, BadSettingsError, NotFoundError, CancelledError
    """
    spec = DERIVATIONS[operation]
    named = spec.first_of(validate_settings(spec, settings))
    (scene,) = require_in_study(study_id, [scene_id if named is None else named])
    leaf = LayerLeaf(layer_id=scene.id, name=scene.title)
    recipe = apply_operation(
        (leaf,), operation, settings, READER, title_of, layer_names(study_id), watch
    )
    require_own(study_id, layers_in(recipe))
    return recipe


def title_of(layer_id: int) -> str:
    return layer_record(layer_id).title


def make_draft(study_id: int, recipe: Recipe) -> Layer:
    """A preview of a recipe: it can be looked at like any scene, and is in no list. The same
    recipe is the same preview; the oldest ones go."""
    return store_draft(study_id, recipe, usual_title(recipe, get_layer(parents_of(recipe)[0])))
