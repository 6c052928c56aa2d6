"""Steps that make a layer better, one after the other: the recipe, and what they change of a class
map before anything is kept."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from kitesort.core.correct.registry import CORRECTIONS
from kitesort.core.geometry import reproject_geometry
from kitesort.core.legend import Legend
from kitesort.core.operation import Operation
from kitesort.core.raster.class_codes import codes_in
from kitesort.core.raster.protocol import Raster, require_same_grid
from kitesort.core.raster.sample import sampled_blocks
from kitesort.core.recipe import LayerLeaf, Recipe, apply_operation, layers_in, open_recipe
from kitesort.core.settings import is_outline
from kitesort.core.tidy.registry import TIDYINGS
from kitesort.store.records import Layer
from kitesort.study.derive import title_of
from kitesort.study.rasters import READER, open_layer, require_own, study_crs

MOST_COUNTED = 2**20  # pixels that are looked at while somebody waits


@dataclass(frozen=True)
class Step:
    operation: str
    settings: dict[str, Any]


def step_spec(operation: str) -> Operation:
    """Raises NotFoundError : no correction, and no step of tidying."""
    return TIDYINGS[operation] if operation in TIDYINGS else CORRECTIONS[operation]


def with_steps(study_id: int, layer: Layer, steps: Iterable[Step]) -> Recipe:
    """The recipe of a layer with steps done to it. Outlines are drawn in the study's CRS and kept
    in that of the layer as it is by then.

    Raises
    ------
    InputError, BadSettingsError, NotFoundError
    """
    recipe: Recipe = LayerLeaf(layer_id=layer.id, name=layer.title)
    crs = study_crs(study_id)
    for step in steps:
        there = open_recipe(recipe, READER).grid.crs
        spec = step_spec(step.operation)
        settings = {k: _brought(spec, k, v, crs, there) for k, v in step.settings.items()}
        recipe = apply_operation((recipe,), step.operation, settings, READER, title_of)
    require_own(study_id, layers_in(recipe))
    return recipe


def _brought(spec: Operation, key: str, value: Any, crs: str, there: str) -> Any:
    """A setting; outlines in another coordinate system."""
    field = spec.settings.model_fields.get(key)
    if field is None or not is_outline(field):
        return value
    if isinstance(value, list):
        return [reproject_geometry(one, crs, there) for one in value]
    return reproject_geometry(value, crs, there) if isinstance(value, dict) else value


@dataclass(frozen=True)
class Changed:
    """Pixels by code before and after (256,), of those that had a class or have one now; how many
    of them changed; ``exact``: all of the map was looked at. ``legend`` of both."""

    before: tuple[int, ...]
    after: tuple[int, ...]
    n_changed: int
    n: int
    exact: bool
    legend: Legend


def what_changes(layer: Layer, steps: Sequence[Step]) -> Changed:
    """What steps would change of a class map.

    Raises
    ------
    GridMismatchError : they move it. InputError, BadSettingsError
    """
    first = open_layer(layer.id, "work")
    second = open_recipe(with_steps(layer.study_id, layer, steps), READER)
    require_same_grid(first, second)
    return _count(first, second)


def _count(first: Raster, second: Raster) -> Changed:
    blocks, exact = sampled_blocks(first, None, most=MOST_COUNTED)
    before, after = np.zeros(256, np.int64), np.zeros(256, np.int64)
    n_changed = 0
    for window, block, _ in blocks:
        new = second.read(window)
        one, other = codes_in(block), codes_in(new)
        before += np.bincount(one.reshape(-1), minlength=256)
        after += np.bincount(other.reshape(-1), minlength=256)
        n_changed += int((one != other).sum())
    known = {e.code: e for r in (second, first) for e in r.bands[0].legend}
    return Changed(
        tuple(before.tolist()), tuple(after.tolist()), n_changed,
        int(max(before[1:].sum(), after[1:].sum())), exact,
        tuple(known[code] for code in sorted(known)),
    )  # fmt: skip
