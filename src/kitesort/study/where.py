"""A map of a part of a scene: what the panes show, or drawn areas."""

import json
from typing import Any

from shapely.geometry import shape

from kitesort.core.correct.methods.crop import SPEC as CROP
from kitesort.core.correct.methods.mask_classes import SPEC as MASK
from kitesort.core.correct.methods.mask_classes import MapClasses
from kitesort.core.raster.protocol import Raster
from kitesort.core.recipe import Node, Recipe, chain_of, open_steps
from kitesort.store.layers import get_layer
from kitesort.study.look import make_region
from kitesort.study.rasters import READER, open_layer
from kitesort.study.site_reading import outline_in
from kitesort.study.steps import Step, with_steps


def only_in(
    recipe: Node,
    scene_id: int,
    extent: str | None,
    outlines: tuple[dict[str, Any], ...],
    within: MapClasses | None = None,
) -> Node:
    """The recipe of a map of a scene, within some classes of another map, and cut to an extent
    (left, bottom, right, top) or to outlines in the study's CRS; as it is where none is given.

    Raises
    ------
    BadSettingsError, SiteError, GridMismatchError. OutsideSceneError : nothing of the scene lies
    there.
    """
    steps = [] if within is None else [Step(MASK.id, {"ground": within.model_dump(mode="json")})]
    steps += _cut(scene_id, extent, outlines)
    if not steps:
        return recipe
    layer = get_layer(scene_id)
    return under_steps(recipe, with_steps(layer.study_id, layer, steps))


def _cut(scene_id: int, extent: str | None, outlines: tuple[dict[str, Any], ...]) -> list[Step]:
    region = make_region(extent, (), outlines)
    if not region.outlines:
        return []
    if outlines:
        return [Step(CROP.id, {"areas": list(outlines)})]
    raster, study_id = open_layer(scene_id), get_layer(scene_id).study_id
    (drawn,) = (outline_in(raster, study_id, json.loads(one)) for one in region.outlines)
    left, bottom, right, top = shape(drawn).bounds
    bounds = {"left": left, "bottom": bottom, "right": right, "top": top}
    return [Step(CROP.id, {"extent": bounds})]


def under_steps(recipe: Node, like: Recipe) -> Node:
    """A recipe with the steps of another one on top of it."""
    for step in chain_of(like)[1]:
        recipe = step.model_copy(update={"inputs": (recipe, *step.inputs[1:])})
    return recipe


def opened_with(raster: Raster, like: Recipe) -> Raster:
    """What a recipe is made on, opened already, with the recipe's steps on top of it."""
    return open_steps(raster, chain_of(like)[1], READER)
