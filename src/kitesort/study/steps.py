"""Steps that make a layer better, one after the other: the recipe, and how it looks."""

import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from kitesort.core.correct.registry import CORRECTIONS
from kitesort.core.errors import BadSettingsError
from kitesort.core.geometry import reproject_geometry
from kitesort.core.newest import always, remembered
from kitesort.core.operation import Operation
from kitesort.core.raster.class_codes import legend_of
from kitesort.core.raster.protocol import Raster
from kitesort.core.recipe import (
    LayerLeaf,
    LayerReader,
    Recipe,
    apply_operation,
    layers_in,
    open_recipe,
)
from kitesort.core.settings import validate_settings
from kitesort.core.tidy.other_map import classes_named, for_other_map
from kitesort.core.tidy.registry import TIDYINGS
from kitesort.store.layers import get_layer, kept_beside
from kitesort.store.records import Layer
from kitesort.study.derive import title_of
from kitesort.study.rasters import PREVIEW_READER, READER, require_own, study_crs

OUTLINES = ("Polygon", "MultiPolygon")


@dataclass(frozen=True)
class Step:
    operation: str
    settings: dict[str, Any]


def step_spec(operation: str) -> Operation:
    """Raises NotFoundError : no correction, and no step of tidying."""
    return TIDYINGS[operation] if operation in TIDYINGS else CORRECTIONS[operation]


def with_steps(
    study_id: int, layer: Layer, steps: Iterable[Step], reader: LayerReader = READER
) -> Recipe:
    """The recipe of a layer with steps done to it. Outlines are drawn in the study's CRS and kept
    in that of the layer as it is by then, wherever in the settings they stand.

    Raises
    ------
    InputError, BadSettingsError, NotFoundError
    """
    recipe: Recipe = LayerLeaf(layer_id=layer.id, name=layer.title)
    for step in steps:
        recipe = _with_step(study_id, recipe, step, reader)
    require_own(study_id, layers_in(recipe))
    return recipe


def _with_step(study_id: int, recipe: Recipe, step: Step, reader: LayerReader) -> Recipe:
    spec, settings = step_spec(step.operation), step.settings
    if _has_outlines(settings):
        there = open_recipe(recipe, reader).grid.crs
        settings = _brought(settings, study_crs(study_id), there)
    return apply_operation((recipe,), spec.id, settings, reader, title_of)


def for_map(layer: Layer, steps: Iterable[Step], classes: Mapping[int, str]) -> list[Step]:
    """Steps that were made for a map with other ``classes`` (names by code), for this one: each
    class by its name.

    Raises
    ------
    BadSettingsError : the map has no class of a name; the sentence says in which step.
    """
    found: list[Step] = []
    recipe: Recipe = LayerLeaf(layer_id=layer.id, name=layer.title)
    for number, step in enumerate(steps, start=1):
        spec = step_spec(step.operation)
        settings = validate_settings(spec, step.settings)
        try:
            mine = for_other_map(settings, classes, legend_of(open_recipe(recipe, READER)))
        except BadSettingsError as error:
            raise BadSettingsError(f"Step {number}, {spec.title}: {error.sentence}") from error
        found.append(Step(step.operation, mine.model_dump(mode="json")))
        recipe = _with_step(layer.study_id, recipe, found[-1], READER)
        classes = {**classes, **classes_named(settings)}
    return found


@remembered(32, version=kept_beside, once=always)
def open_with_steps(layer_id: int, steps: str) -> Raster:
    """A layer with steps done to it (JSON, a list of {operation, settings}), remembered: all tiles
    of a view want the same. Opened anew when a layer of the study was kept: what stands for a
    recipe then is another file.

    Raises
    ------
    InputError, BadSettingsError, NotFoundError
    """
    layer = get_layer(layer_id)
    told = [Step(one["operation"], one["settings"]) for one in json.loads(steps)]
    recipe = with_steps(layer.study_id, layer, told, PREVIEW_READER)
    return open_recipe(recipe, PREVIEW_READER)


def _has_outlines(value: Any) -> bool:
    if isinstance(value, dict):
        return value.get("type") in OUTLINES or any(map(_has_outlines, value.values()))
    return isinstance(value, list) and any(map(_has_outlines, value))


def _brought(value: Any, crs: str, there: str) -> Any:
    """Settings; outlines in another coordinate system."""
    if isinstance(value, list):
        return [_brought(one, crs, there) for one in value]
    if not isinstance(value, dict):
        return value
    if value.get("type") in OUTLINES:
        return reproject_geometry(value, crs, there)
    return {key: _brought(one, crs, there) for key, one in value.items()}
