"""Kept layers. A row never points at a file that is not complete."""

from kitesort.core.raster.cog import ClassMapResult
from kitesort.store.database import transaction
from kitesort.store.edits import Change, apply_edit
from kitesort.store.models import LayerRow
from kitesort.store.records import AnyMapRecipe, Layer
from kitesort.store.studies import fetch


def list_layers(study_id: int) -> list[Layer]:
    with transaction():
        rows = LayerRow.select().where(LayerRow.study_id == study_id, ~LayerRow.removed)
        return [Layer.model_validate(row) for row in rows.order_by(LayerRow.id.desc())]


def get_layer(layer_id: int) -> Layer:
    return fetch(LayerRow, Layer, layer_id, "The layer")


def add_layer(
    study_id: int, recipe: AnyMapRecipe, path: str, result: ClassMapResult, seconds: float
) -> Layer:
    """Record a file that is complete; its name is made from the recipe."""
    with transaction():
        n = LayerRow.select().where(LayerRow.study_id == study_id).count() + 1
        row = LayerRow.create(
            study_id=study_id,
            scene_id=recipe.scene_id,
            name=f"{recipe.scene_name}, class map {n}",
            recipe=recipe.model_dump(mode="json"),
            path=path,
            pixels=result.pixels,
            hectares=result.hectares,
            seconds=seconds,
        )
        return get_layer(row.id)


def rename_layer(layer_id: int, name: str) -> Layer:
    old = get_layer(layer_id)
    change = Change("layer", layer_id, {"name": old.name}, {"name": name})
    apply_edit(old.study_id, f"Rename {old.name}", [change])
    return get_layer(layer_id)


def remove_layer(layer_id: int) -> None:
    """Take a layer out of the study; its file stays, so that this can be undone."""
    old = get_layer(layer_id)
    change = Change("layer", layer_id, {"removed": False}, {"removed": True})
    apply_edit(old.study_id, f"Remove {old.name}", [change])


def known_files() -> set[str]:
    with transaction():
        return {row.path for row in LayerRow.select(LayerRow.path)}
