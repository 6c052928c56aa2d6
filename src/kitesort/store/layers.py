"""Kept layers. A row never points at a file that is not complete."""

from pydantic import TypeAdapter

from kitesort.core.bands import Band
from kitesort.core.errors import InputError, NotFoundError
from kitesort.core.grid import Grid
from kitesort.core.grid_data import GridData
from kitesort.core.raster.cog import NODATA_CODE, ClassMapResult
from kitesort.core.raster.file import FileRaster
from kitesort.core.recipe import ClassMapRecipe
from kitesort.store.database import transaction
from kitesort.store.edits import Change, apply_edit
from kitesort.store.files import layer_path
from kitesort.store.models import LayerRow
from kitesort.store.records import AnyMapRecipe, Layer, ToldMap

WITHOUT_RECIPE = [field for field in LayerRow._meta.sorted_fields if field.name != "recipe"]
RECIPES: TypeAdapter[AnyMapRecipe] = TypeAdapter(AnyMapRecipe)


def list_layers(study_id: int) -> list[Layer]:
    with transaction():
        rows = LayerRow.select(*WITHOUT_RECIPE).where(
            LayerRow.study_id == study_id, ~LayerRow.removed
        )
        return [_layer_of(row) for row in rows.order_by(LayerRow.id.desc())]


def get_layer(layer_id: int) -> Layer:
    with transaction():
        row = LayerRow.select(*WITHOUT_RECIPE).where(LayerRow.id == layer_id).get_or_none()
        if row is None:
            raise _gone()
        return _layer_of(row)


def get_map_recipe(layer_id: int) -> AnyMapRecipe:
    """All that a map was made of, every site included."""
    with transaction():
        row = LayerRow.select(LayerRow.recipe).where(LayerRow.id == layer_id).get_or_none()
    if row is None:
        raise _gone()
    return RECIPES.validate_python(row.recipe)


def _gone() -> NotFoundError:
    return NotFoundError("The layer is not there any more. Reload to see what is.")


def open_codes(path: str) -> FileRaster:
    """Class codes of a kept map, by the name of its file."""
    return FileRaster(str(layer_path(path)), (Band("class"),), nodata=float(NODATA_CODE))


def _layer_of(row: LayerRow) -> Layer:
    """Maps from before they told of themselves do so now."""
    if row.told is None:
        try:
            grid = open_codes(row.path).grid
        except InputError:
            grid = None
        row.told = _tell(get_map_recipe(row.id), grid).model_dump(mode="json")
        LayerRow.update(told=row.told).where(LayerRow.id == row.id).execute()
    return Layer.model_validate(row)


def _tell(recipe: AnyMapRecipe, grid: Grid | None) -> ToldMap:
    trained = recipe if isinstance(recipe, ClassMapRecipe) else None
    return ToldMap(
        sentence=recipe.sentence,
        method=recipe.method,
        method_version=trained.method_version if trained else None,
        roles=recipe.roles,
        n_sites=recipe.n_sites,
        trained_on=trained.trained_on if trained else None,
        legend=recipe.legend,
        grid=GridData.of(grid) if grid else None,
    )


def add_layer(
    study_id: int,
    recipe: AnyMapRecipe,
    path: str,
    result: ClassMapResult,
    grid: Grid,
    seconds: float,
) -> Layer:
    """Record a file that is complete; its name is made from the recipe."""
    with transaction():
        n = LayerRow.select().where(LayerRow.study_id == study_id).count() + 1
        row = LayerRow.create(
            study_id=study_id,
            scene_id=recipe.scene_id,
            name=f"{recipe.scene_name}, class map {n}",
            recipe=recipe.model_dump(mode="json"),
            told=_tell(recipe, grid).model_dump(mode="json"),
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
