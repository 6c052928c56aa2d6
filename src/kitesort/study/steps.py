"""Steps that make a layer better, one after the other: the recipe, and what they change of a class
map before anything is kept."""

import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from kitesort.core.correct.registry import CORRECTIONS
from kitesort.core.geodesy import pixel_areas_ha
from kitesort.core.geometry import reproject_geometry
from kitesort.core.legend import Legend
from kitesort.core.operation import Context, Operation, Parts
from kitesort.core.raster.class_codes import codes_in
from kitesort.core.raster.patches import pieces_by_code
from kitesort.core.raster.protocol import Raster, require_same_grid
from kitesort.core.raster.sample import sampled_blocks
from kitesort.core.recipe import (
    LayerLeaf,
    LayerReader,
    Node,
    Recipe,
    apply_operation,
    chain_of,
    layers_in,
    open_recipe,
)
from kitesort.core.tidy.registry import TIDYINGS
from kitesort.store.layers import get_layer, kept_beside
from kitesort.store.records import Layer
from kitesort.study.derive import title_of
from kitesort.study.once import remember_once
from kitesort.study.rasters import PREVIEW_READER, READER, open_layer, require_own, study_crs

MOST_COUNTED = 2**20  # pixels that are looked at while somebody waits
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
        spec, settings = step_spec(step.operation), step.settings
        if _has_outlines(settings):
            there = open_recipe(recipe, reader).grid.crs
            settings = _brought(settings, study_crs(study_id), there)
        recipe = apply_operation((recipe,), spec.id, settings, reader, title_of)
    require_own(study_id, layers_in(recipe))
    return recipe


@remember_once(maxsize=32, version=kept_beside)
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


Counts = npt.NDArray[np.int64]


@dataclass(frozen=True)
class Touched:
    """A part of a step (a rule, an edit) in words, and the pixels that it decided."""

    step: int
    words: str
    n: int


@dataclass(frozen=True)
class Changed:
    """Pixels before and after (256, 256) by code, no data among them, and pieces of each class
    (256,), pixels that touch at corners hanging together. ``exact``: all of the map was looked at,
    else windows spread over it. ``changed_ha``: of those that changed, on the ellipsoid, where all
    were looked at. ``legend`` of both."""

    from_to: Counts
    changed_ha: float | None
    pieces_before: Counts
    pieces_after: Counts
    touched: tuple[Touched, ...]
    exact: bool
    legend: Legend

    @property
    def before(self) -> Counts:
        return np.asarray(self.from_to.sum(axis=1))

    @property
    def after(self) -> Counts:
        return np.asarray(self.from_to.sum(axis=0))

    @property
    def share(self) -> float:
        """Of the pixels that had a class or have one now, those that changed."""
        changed = int(self.from_to.sum() - np.trace(self.from_to))
        return changed / max(int(self.from_to.sum() - self.from_to[0, 0]), 1)


def what_changes(layer: Layer, steps: Sequence[Step]) -> Changed:
    """What steps would change of a class map.

    Raises
    ------
    GridMismatchError : they move it. InputError, BadSettingsError
    """
    first = open_layer(layer.id, "work")
    recipe = with_steps(layer.study_id, layer, steps)
    second = open_recipe(recipe, READER)
    require_same_grid(first, second)
    parts = {i: _parts_of(node) for i, node in enumerate(chain_of(recipe)[1]) if node.spec.parts}
    blocks, exact = sampled_blocks(first, None, most=MOST_COUNTED)
    from_to, pieces = np.zeros(256 * 256, np.int64), np.zeros((2, 256), np.int64)
    hectares = 0.0
    touched = {i: np.zeros(256, np.int64) for i in parts}
    for window, block, _ in blocks:
        one, other = codes_in(block), codes_in(second.read(window))
        from_to += np.bincount((256 * one.astype(np.int64) + other).ravel(), minlength=256 * 256)
        hectares += float(pixel_areas_ha(first.grid, window)[one != other].sum())
        pieces += [pieces_by_code(one), pieces_by_code(other)]
        for i, part in parts.items():
            touched[i] += np.bincount(part.which(window).ravel(), minlength=256)
    known = {e.code: e for r in (second, first) for e in r.bands[0].legend}
    return Changed(
        from_to.reshape(256, 256), hectares if exact else None, pieces[0], pieces[1],
        tuple(
            Touched(i, words, int(touched[i][number]))
            for i, part in parts.items()
            for number, words in enumerate(part.words, start=1)
        ),
        exact, tuple(known[code] for code in sorted(known)),
    )  # fmt: skip


def _parts_of(node: Node) -> Parts:
    """Of a step with parts."""
    assert node.spec.parts
    inputs = tuple(open_recipe(part, READER) for part in node.applied_to)
    return node.spec.parts(inputs, node.checked, Context(READER.open_layer))
