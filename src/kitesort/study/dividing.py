"""One cluster of a map, or one class, clustered again by itself."""

import os
from collections.abc import Collection
from dataclasses import replace

from kitesort.core.class_colours import most_apart
from kitesort.core.classify.given import given_of
from kitesort.core.classify.operations.divide import SPEC as DIVIDE
from kitesort.core.classify.operations.divide import DivideSettings
from kitesort.core.classify.stored import StoredClassifier, write_classifier
from kitesort.core.cluster.groups import cluster_colours, find_groups, has_mixed_units
from kitesort.core.cluster.protocol import CountedSettings
from kitesort.core.errors import InputError
from kitesort.core.legend import LAST_CODE, MOST_CLASSES, UNCLASSIFIED_CODE, LegendEntry
from kitesort.core.recipe import LayerLeaf, Recipe, open_recipe
from kitesort.store.classifiers import keep_classifier
from kitesort.store.cluster_names import first_names, names_of
from kitesort.store.database import transaction
from kitesort.store.layers import free_title, recipe_of
from kitesort.store.records import Layer
from kitesort.study.cluster_maps import coded_sample, require_clusters
from kitesort.study.clustering import LIVE_PIXELS, ClusterOrder, Found
from kitesort.study.maps import add_map, get_map
from kitesort.study.rasters import READER, left_out_flags, open_layer
from kitesort.study.training import map_recipe

READ_FOR_PARTS = 400_000  # pixels of which those of one class are taken
MOST_TITLE = 118
SPARE = 24  # colours to choose from


def divide_cluster(layer_id: int, code: int, order: ClusterOrder) -> Layer:
    """A new map in which one cluster is clustered again by itself; the others, and their classes,
    stay as they are.

    Raises
    ------
    InputError : no such cluster, or its pixels cannot be divided. TooFewPixelsError
    """
    layer = require_clusters(layer_id)
    _require(layer, code, "cluster")
    if layer.map.scene_id != order.scene_id:
        raise InputError("A cluster is divided by bands of the scene that it was found in.")
    names = {c: k for c, k in names_of(layer_id).items() if c != code}
    parts = _find_parts(layer, code, order)
    with transaction():
        made = _add_divided(layer, recipe_of(layer_id), code, order.scene_id, parts)
        first_names(layer.study_id, made.id, names)
    return made


def divide_class(layer_id: int, code: int, order: ClusterOrder) -> Layer:
    """A new map in which one class of any map is parted into clusters, by bands of a scene on the
    same grid.

    Raises
    ------
    InputError : no such class, another grid, or its pixels cannot be divided. TooFewPixelsError
    """
    layer = get_map(layer_id)
    _require(layer, code, "class")
    parts = _find_parts(layer, code, order)
    source = LayerLeaf(layer_id=layer.id, name=layer.title)
    with transaction():
        return _add_divided(layer, source, code, order.scene_id, parts)


def _add_divided(
    layer: Layer, source: Recipe, code: int, scene_id: int, stored: StoredClassifier
) -> Layer:
    entries = _entries(layer)
    name, n = entries[code].name, len(stored.told.classes)
    if len(entries) - 1 + n > MOST_CLASSES:
        raise InputError(f"A map has at most {MOST_CLASSES} classes; there is no room for more.")
    first = first_free(entries, n)
    title = free_title(layer.study_id, f"{layer.title}, {name} divided"[:MOST_TITLE])
    file = f"parts-{layer.id}-{code}-{os.urandom(4).hex()}.zip"  # divided again, another one
    kept = keep_classifier(layer.study_id, title, stored, file)
    settings = DivideSettings(
        code=code,
        name=name,
        classifier=given_of(kept.id, write_classifier(stored), title, stored.told),
        first_code=first,
        n_parts=n,
        excluded=left_out_flags(scene_id),
    )
    recipe = map_recipe(scene_id, DIVIDE.id, settings)
    recipe = recipe.model_copy(update={"inputs": (source, *recipe.inputs)})
    return add_map(layer.study_id, recipe, open_recipe(recipe, READER), title=title)


def _require(layer: Layer, code: int, what: str) -> None:
    if code not in _entries(layer):
        raise InputError(f"There is no such {what} in this map any more.")


def first_free(taken: Collection[int], n: int) -> int:
    """From where on ``n`` codes in a row are none of those taken, nor unclassified.

    Raises
    ------
    InputError : the last codes are taken.
    """
    first = max(taken) + 1
    if first <= UNCLASSIFIED_CODE < first + n:
        first = UNCLASSIFIED_CODE + 1
    if first + n - 1 > LAST_CODE:
        raise InputError(
            f"The parts would have codes beyond {LAST_CODE}. Recode the map's last classes first."
        )
    return first


def _entries(layer: Layer) -> dict[int, LegendEntry]:
    return {e.code: e for e in layer.map.legend if e.code != UNCLASSIFIED_CODE}


def _find_parts(layer: Layer, code: int, order: ClusterOrder) -> StoredClassifier:
    if not isinstance(order.settings, CountedSettings):
        raise InputError("Say in how many parts the class is to be divided.")
    codes, sample = coded_sample(layer.id, order.scene_id, order.roles, READ_FOR_PARTS)
    mine = sample.where(codes == code).drawn(LIVE_PIXELS)
    mixed = has_mixed_units(open_layer(order.scene_id), order.roles)
    groups = find_groups(mine, order.spec, order.settings, order.seed, mixed_units=mixed)
    title = f"{_entries(layer)[code].name} of {layer.title}, divided"
    stored = Found(order, mine, groups).stored(open_layer(order.scene_id, "work"), title)
    return _coloured(stored, {entry.colour.lower() for entry in layer.map.legend})


def _coloured(stored: StoredClassifier, taken: set[str]) -> StoredClassifier:
    """In colours that are told from those that the map has."""
    parts = stored.told.classes
    candidates = (c for c in cluster_colours(len(taken) + len(parts) + SPARE) if c not in taken)
    chosen = most_apart(candidates, taken, len(parts))
    named = [part.model_copy(update={"colour": c}) for part, c in zip(parts, chosen, strict=True)]
    return replace(stored, told=stored.told.model_copy(update={"classes": tuple(named)}))
