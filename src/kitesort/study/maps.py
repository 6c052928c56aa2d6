"""Class maps of a study: layers of codes, and what each tells of itself."""

from kitesort.core.classify.operations import breaks, classify
from kitesort.core.classify.operations.divide import SPEC as DIVIDE
from kitesort.core.classify.training import Training
from kitesort.core.errors import KiteSortError
from kitesort.core.grid import Grid
from kitesort.core.grid_data import GridData
from kitesort.core.legend import Legend
from kitesort.core.raster.class_file import ClassMapResult
from kitesort.core.raster.protocol import Raster, kind_of
from kitesort.core.recipe import (
    LayerLeaf,
    Node,
    Recipe,
    leaves_of,
    open_recipe,
    parents_of,
    sentence_of,
    source_of,
)
from kitesort.store.layers import (
    add_layer,
    count_layers,
    free_title,
    get_layer,
    list_layers,
    recipe_of,
    store_told,
)
from kitesort.store.records import Layer, MapAreas, ToldMap
from kitesort.store.scenes import derive_scene, usual_title
from kitesort.study.rasters import READER, open_layer


def list_maps(study_id: int) -> list[Layer]:
    """Newest first; maps from before they told of themselves do so now."""
    return [_told(layer) for layer in reversed(list_layers(study_id, "classes"))]


def get_map(layer_id: int) -> Layer:
    """Raises NotFoundError, InputError : a layer that is no class map."""
    layer = get_layer(layer_id)
    if layer.kind == "classes":
        layer = _told(layer)
    _ = layer.map
    return layer


def _told(layer: Layer) -> Layer:
    if layer.told is not None:
        return layer
    try:
        told = _tell_now(layer.id)
    except KiteSortError as error:  # not stored: it may be told by another version
        return layer.model_copy(update={"told": _untold(error.sentence)})
    store_told(layer.id, told)
    return layer.model_copy(update={"told": told})


def _tell_now(layer_id: int) -> ToldMap:
    recipe = recipe_of(layer_id)
    try:
        raster = open_layer(layer_id)
        return tell(recipe, raster.bands[0].legend, raster.grid)
    except KiteSortError:
        return tell(recipe, _legend_in(recipe), None)


def _untold(sentence: str) -> ToldMap:
    """Of a map whose recipe cannot be followed: why."""
    return ToldMap(
        sentence=sentence, method="", method_version=None, scene_id=None, roles=(), n_sites=0,
        trained_on=None, legend=(), grid=None,
    )  # fmt: skip


def _legend_in(recipe: Recipe) -> Legend:
    """As the recipe itself says, without opening anything."""
    source = source_of(recipe)
    if isinstance(source, Node) and source.operation in (classify.SPEC.id, breaks.SPEC.id):
        legend: Legend = source.checked.legend
        return legend
    return ()


def tell(recipe: Recipe, legend: Legend, grid: Grid | None) -> ToldMap:
    source = source_of(recipe)
    training = training_in(recipe)
    made_of = next(leaves_of(source))
    return ToldMap(
        sentence=sentence_of(recipe),
        method=training.method if training else _made_by(recipe),
        method_version=training.method_version if training else None,
        scene_id=made_of.layer_id if isinstance(made_of, LayerLeaf) else None,
        roles=training.roles if training else _roles_in(source),
        n_sites=len(training.sites) if training else 0,
        trained_on=training.sites_fingerprint if training else None,
        legend=legend,
        grid=GridData.of(grid) if grid else None,
    )


def training_in(recipe: Recipe) -> Training | None:
    """What a map was trained on, steps since aside; None for one made otherwise."""
    source = source_of(recipe)
    if isinstance(source, Node) and source.operation == classify.SPEC.id:
        training: Training = source.checked
        return training
    return None


def _made_by(recipe: Recipe) -> str:
    source = source_of(recipe)
    if isinstance(source, Node):
        first = source.inputs[0]
        # A cluster is divided in the recipe of its map, a class of any other map on that map.
        is_class = source.operation == DIVIDE.id and isinstance(first, LayerLeaf)
        return "divided-class" if is_class else source.operation
    return recipe.operation if isinstance(recipe, Node) else ""


def _roles_in(recipe: Recipe) -> tuple[str, ...]:
    if isinstance(recipe, Node) and recipe.operation == breaks.SPEC.id:
        return (recipe.checked.role,)
    return ()


def add_map(
    study_id: int,
    recipe: Recipe,
    raster: Raster,
    *,
    title: str | None = None,
    file: str | None = None,
    areas: MapAreas | None = None,
) -> Layer:
    """Record a class map; its title is made from what it is made of where none is given. ``file``
    and ``areas``: of one that is kept, whose file is complete.

    Raises
    ------
    DuplicateNameError
    """
    return add_layer(
        study_id,
        title or _usual_title(study_id, recipe),
        recipe,
        "classes",
        told=tell(recipe, raster.bands[0].legend, raster.grid),
        areas=areas,
        kept_path=file,
        acquired=get_layer(parents_of(recipe)[0]).acquired,
    )


def make_layer(study_id: int, recipe: Recipe, title: str | None = None) -> Layer:
    """Record a layer made of others: a scene, or a class map where codes come out.

    Raises
    ------
    DuplicateNameError
    """
    raster = open_recipe(recipe, READER)
    if kind_of(raster) == "classes":
        return add_map(study_id, recipe, raster, title=title)
    return derive_scene(study_id, recipe, title)


def _usual_title(study_id: int, recipe: Recipe) -> str:
    first = get_layer(parents_of(recipe)[0])
    if first.kind == "classes":
        return free_title(study_id, usual_title(recipe, first))
    n = count_layers(study_id, "classes") + 1
    return free_title(study_id, f"{first.title}, class map {n}")


def areas_of(result: ClassMapResult, seconds: float) -> MapAreas:
    return MapAreas(pixels=result.pixels, hectares=result.hectares, seconds=seconds)
