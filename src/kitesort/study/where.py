"""A map of a part of a scene: what the panes show, or drawn areas."""

import json
from typing import Any

from shapely.geometry import shape

from kitesort.core.correct.methods.crop import SPEC as CROP
from kitesort.core.correct.methods.crop import CropSettings, Extent
from kitesort.core.raster.protocol import Raster
from kitesort.core.recipe import LayerLeaf, Node, Recipe, chain_of, open_recipe, open_steps
from kitesort.store.layers import get_layer
from kitesort.study.look import make_region
from kitesort.study.rasters import READER, open_layer
from kitesort.study.site_reading import outline_in


def only_in(
    recipe: Node, scene_id: int, extent: str | None, outlines: tuple[dict[str, Any], ...]
) -> Node:
    """The recipe of a map of a scene, cut to an extent (left, bottom, right, top) or to outlines in
    the study's CRS; as it is where neither is given.

    Raises
    ------
    BadSettingsError, SiteError. OutsideSceneError : nothing of the scene lies there.
    """
    region = make_region(extent, (), outlines)
    if not region.outlines:
        return recipe
    raster, study_id = open_layer(scene_id), get_layer(scene_id).study_id
    shapes = [outline_in(raster, study_id, json.loads(one)) for one in region.outlines]
    if outlines:
        settings = CropSettings(areas=tuple(shapes))
    else:
        left, bottom, right, top = shape(shapes[0]).bounds
        settings = CropSettings(extent=Extent(left=left, bottom=bottom, right=right, top=top))
    node = Node(
        operation=CROP.id,
        version=CROP.version,
        settings=settings.model_dump(mode="json"),
        inputs=(recipe,),
    )
    leaf = LayerLeaf(layer_id=scene_id, name="")
    _ = open_recipe(node.model_copy(update={"inputs": (leaf,)}), READER).grid
    return node


def under_steps(recipe: Node, like: Recipe) -> Node:
    """A recipe with the steps of another one on top of it."""
    for step in chain_of(like)[1]:
        recipe = step.model_copy(update={"inputs": (recipe, *step.inputs[1:])})
    return recipe


def with_steps(raster: Raster, like: Recipe) -> Raster:
    """What a recipe is made on, opened already, with the recipe's steps on top of it."""
    return open_steps(raster, chain_of(like)[1], READER)
