"""A map of a part of a scene: what the panes show, or drawn areas."""

import json
from typing import Any

from shapely.geometry import shape

from kitesort.core.correct.methods.crop import SPEC as CROP
from kitesort.core.correct.methods.crop import CropSettings, Extent
from kitesort.core.correct.methods.mask_classes import SPEC as MASK
from kitesort.core.correct.methods.mask_classes import ClassMaskSettings, MapClasses
from kitesort.core.raster.protocol import Raster
from kitesort.core.recipe import LayerLeaf, Node, Recipe, apply_operation, chain_of, open_steps
from kitesort.store.layers import get_layer
from kitesort.study.derive import title_of
from kitesort.study.look import make_region
from kitesort.study.rasters import READER, open_layer, require_own
from kitesort.study.site_reading import outline_in


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
    steps = [] if within is None else [_within(scene_id, within)]
    steps += _cut(scene_id, extent, outlines)
    for step in steps:
        recipe = step.model_copy(update={"inputs": (recipe, *step.inputs[1:])})
    return recipe


def _within(scene_id: int, within: MapClasses) -> Node:
    """Checked on the scene itself: its pixels are the map's."""
    study_id = get_layer(scene_id).study_id
    require_own(study_id, [within.layer_id])
    scene = LayerLeaf(layer_id=scene_id, name=title_of(scene_id))
    settings = ClassMaskSettings(ground=within).model_dump(mode="json")
    return apply_operation((scene,), MASK.id, settings, READER, title_of)


def _cut(scene_id: int, extent: str | None, outlines: tuple[dict[str, Any], ...]) -> list[Node]:
    region = make_region(extent, (), outlines)
    if not region.outlines:
        return []
    raster, study_id = open_layer(scene_id), get_layer(scene_id).study_id
    shapes = [outline_in(raster, study_id, json.loads(one)) for one in region.outlines]
    if outlines:
        settings = CropSettings(areas=tuple(shapes))
    else:
        left, bottom, right, top = shape(shapes[0]).bounds
        settings = CropSettings(extent=Extent(left=left, bottom=bottom, right=right, top=top))
    scene = LayerLeaf(layer_id=scene_id, name=title_of(scene_id))
    told = settings.model_dump(mode="json")
    return [apply_operation((scene,), CROP.id, told, READER, title_of)]


def under_steps(recipe: Node, like: Recipe) -> Node:
    """A recipe with the steps of another one on top of it."""
    for step in chain_of(like)[1]:
        recipe = step.model_copy(update={"inputs": (recipe, *step.inputs[1:])})
    return recipe


def with_steps(raster: Raster, like: Recipe) -> Raster:
    """What a recipe is made on, opened already, with the recipe's steps on top of it."""
    return open_steps(raster, chain_of(like)[1], READER)
