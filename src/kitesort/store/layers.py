"""Layers of a study, scenes and class maps alike: one table, one life."""

from collections.abc import Sequence
from datetime import date
from typing import Any

from kitesort.core.bands import Kind
from kitesort.core.errors import (
    BadSettingsError,
    ConflictError,
    DuplicateNameError,
    InputError,
    NotFoundError,
)
from kitesort.core.newest import remembered
from kitesort.core.recipe import Recipe, as_data, layers_in, read_recipe
from kitesort.store.database import transaction
from kitesort.store.edits import Change, apply_edit
from kitesort.store.files import layer_path, remove_kept
from kitesort.store.models import LayerRow
from kitesort.store.records import Layer, MapAreas, ToldMap
from kitesort.store.studies import get_study

# A class map's recipe holds every site: nobody reads it to list maps.
WITHOUT_RECIPE = [
    field for field in LayerRow._meta.sorted_fields if field.name not in ("recipe", "statistics")
]


def list_layers(study_id: int, kind: Kind | None = None) -> list[Layer]:
    """Oldest first."""
    wanted = (LayerRow.study_id == study_id) & ~LayerRow.removed
    if kind is not None:
        wanted &= LayerRow.kind == kind
    with transaction():
        rows = LayerRow.select(*WITHOUT_RECIPE).where(wanted).order_by(LayerRow.id)
        return [Layer.model_validate(row) for row in rows]


def get_layer(layer_id: int) -> Layer:
    with transaction():
        row = LayerRow.select(*WITHOUT_RECIPE).where(LayerRow.id == layer_id).get_or_none()
    if row is None:
        raise _gone()
    return Layer.model_validate(row)


@remembered(1024)
def recipe_of(layer_id: int) -> Recipe:
    """How a layer came to be; that never changes."""
    with transaction():
        row = LayerRow.select(LayerRow.recipe).where(LayerRow.id == layer_id).get_or_none()
    if row is None:
        raise _gone()
    return read_recipe(row.recipe)


def readable_recipe(layer_id: int) -> Recipe | None:
    """As ``recipe_of``; None where it is none, for lists that look at every layer."""
    try:
        return recipe_of(layer_id)
    except BadSettingsError:
        return None


def _gone() -> NotFoundError:
    return NotFoundError("The layer is not there any more. Reload to see what is.")


def require_in_study(study_id: int, layer_ids: Sequence[int]) -> list[Layer]:
    """The layers, all of this study.

    Raises
    ------
    NotFoundError, InputError
    """
    layers = [get_layer(layer_id) for layer_id in layer_ids]
    if any(layer.study_id != study_id for layer in layers):
        raise InputError("The layer belongs to another study.")
    return layers


def add_layer(
    study_id: int,
    title: str,
    recipe: Recipe,
    kind: Kind,
    *,
    acquired: date | None = None,
    sensor: str = "",
    series: str | None = None,
    told: ToldMap | None = None,
    areas: MapAreas | None = None,
    kept_path: str | None = None,
) -> Layer:
    """Record a layer; ``told`` and ``areas`` of a class map, ``kept_path`` when its file is
    complete.

    Raises
    ------
    NotFoundError, DuplicateNameError
    """
    get_study(study_id)
    _require_free(study_id, title)
    with transaction():
        row = LayerRow.create(
            study_id=study_id,
            kind=kind,
            title=title,
            recipe=as_data(recipe),
            acquired=acquired,
            sensor=sensor,
            series=series,
            told=told and told.model_dump(mode="json"),
            areas=areas and areas.model_dump(mode="json"),
            kept_path=kept_path,
        )
        return get_layer(row.id)


def rename_layer(layer_id: int, title: str) -> Layer:
    old = get_layer(layer_id)
    _require_free(old.study_id, title, layer_id)
    change = Change("layer", layer_id, {"title": old.title}, {"title": title})
    apply_edit(old.study_id, f"Rename {old.title}", [change])
    return get_layer(layer_id)


def remove_layer(layer_id: int) -> None:
    """Take a layer out of the study. What it was made of stays, so that this can be undone; the
    kept copy of a scene, which can be made again, goes at once.

    Raises
    ------
    ConflictError : it is the study's last scene.
    """
    old = get_layer(layer_id)
    change = Change("layer", layer_id, {"removed": False}, {"removed": True})
    with transaction():
        is_scene = old.kind == "measured"
        if is_scene and [s.id for s in list_layers(old.study_id, "measured")] == [layer_id]:
            raise ConflictError("This is the study's only scene. Bring another one in first.")
        apply_edit(old.study_id, f"Remove {old.title}", [change])
        copy = set_kept(layer_id, None) if is_scene else None
    remove_kept(copy)


def dependants_of(layer_id: int) -> list[Layer]:
    """Layers that are made of this one, directly."""
    study_id = get_layer(layer_id).study_id
    return [one for one in list_layers(study_id) if uses_layer(one.id, layer_id)]


def uses_layer(layer_id: int, other_id: int) -> bool:
    """Whether a layer's recipe needs another one, as an input or as the pattern of a step."""
    recipe = readable_recipe(layer_id)
    return recipe is not None and other_id in layers_in(recipe)


def free_title(study_id: int, wanted: str) -> str:
    """The title, with a number behind it when it is taken."""
    taken = _titles(study_id)
    names = (wanted if n == 1 else f"{wanted} {n}" for n in range(1, len(taken) + 2))
    return next(name for name in names if name.casefold() not in taken)


def set_kept(layer_id: int, path: str | None, areas: MapAreas | None = None) -> str | None:
    """Remember the complete file of a kept layer, or that there is none; what it was before. That
    one is to be removed once the transaction is done. ``areas``: what was counted of a map."""
    changes: dict[str, Any] = {"kept_path": path}
    if areas is not None:
        changes["areas"] = areas.model_dump(mode="json")
    with transaction():
        row = LayerRow.select(LayerRow.kept_path).where(LayerRow.id == layer_id).for_update().get()
        LayerRow.update(changes).where(LayerRow.id == layer_id).execute()
        return row.kept_path if row.kept_path != path else None


def kept_file(layer: Layer) -> str:
    """Where a kept layer's file lies.

    Raises
    ------
    NotFoundError : it was not kept, or its file has gone.
    """
    if layer.kept_path is None:
        raise NotFoundError(f"“{layer.title}” has not been kept. Keep it first.")
    path = layer_path(layer.kept_path)
    if not path.is_file():
        raise NotFoundError(f"The file of “{layer.title}” is not there any more. Keep it again.")
    return str(path)


def kept_files() -> set[str]:
    with transaction():
        rows = LayerRow.select(LayerRow.kept_path).where(LayerRow.kept_path.is_null(False))
        return {str(row.kept_path) for row in rows}


def kept_beside(layer_id: int, *_: Any) -> tuple[tuple[int, str | None], ...]:
    """Files of the kept layers of a layer's study: layers and their paths, in order."""
    own = LayerRow.select(LayerRow.study_id).where(LayerRow.id == layer_id)
    wanted = (LayerRow.study_id == own) & LayerRow.kept_path.is_null(False)
    with transaction():
        rows = LayerRow.select(LayerRow.id, LayerRow.kept_path).where(wanted).order_by(LayerRow.id)
        return tuple((row.id, row.kept_path) for row in rows)


def count_layers(study_id: int, kind: Kind) -> int:
    """How many there are of a kind and have been, removed ones among them."""
    with transaction():
        wanted = (LayerRow.study_id == study_id) & (LayerRow.kind == kind)
        return int(LayerRow.select().where(wanted).count())


def store_told(layer_id: int, told: ToldMap) -> None:
    """What a class map from before tells of itself."""
    with transaction():
        values = told.model_dump(mode="json")
        LayerRow.update(told=values).where(LayerRow.id == layer_id).execute()


def stored_statistics(layer_id: int) -> dict[str, Any] | None:
    """What a run has counted over every pixel."""
    with transaction():
        row = LayerRow.select(LayerRow.statistics).where(LayerRow.id == layer_id).get_or_none()
    return row.statistics if row else None


def store_statistics(layer_id: int, found: dict[str, Any]) -> None:
    with transaction():
        LayerRow.update(statistics=found).where(LayerRow.id == layer_id).execute()


def _titles(study_id: int, but: int | None = None) -> set[str]:
    wanted = (LayerRow.study_id == study_id) & ~LayerRow.removed
    with transaction():
        rows = LayerRow.select(LayerRow.id, LayerRow.title).where(wanted)
        return {row.title.casefold() for row in rows if row.id != but}


def _require_free(study_id: int, title: str, but: int | None = None) -> None:
    if title.casefold() in _titles(study_id, but):
        raise DuplicateNameError(f"There is a layer called “{title}” already.")
