"""Drawn or imported areas as a mask, at any resolution."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from affine import Affine
from rasterio.features import geometry_mask
from shapely import union_all
from shapely.geometry import mapping
from shapely.geometry.base import BaseGeometry

from kitesort.core.errors import OutsideSceneError
from kitesort.core.grid import Grid, Window
from kitesort.core.outline import parse_site
from kitesort.core.raster.protocol import BoolArray, Shape

Geometry = dict[str, Any]


@dataclass(frozen=True)
class AreaMask:
    """True inside the areas (outside, when ``inside`` is False); areas in the grid's CRS."""

    grid: Grid
    areas: str
    inside: bool = True

    @cached_property
    def shapes(self) -> list[BaseGeometry]:
        return [parse_site(area) for area in json.loads(self.areas)]

    def __call__(self, window: Window, shape: Shape) -> BoolArray:
        scale = Affine.scale(window.width / shape[1], window.height / shape[0])
        transform = self.grid.transform @ Affine.translation(window.col, window.row) @ scale
        shapes = [mapping(s) for s in self.shapes]
        covered = geometry_mask(shapes, shape, transform, invert=True)
        return np.asarray(covered if self.inside else ~covered)


def area_mask(grid: Grid, areas: Sequence[Geometry], inside: bool = True) -> AreaMask:
    """Raises SiteError for what is no outline."""
    mask = AreaMask(grid, json.dumps(list(areas), sort_keys=True), inside)
    _ = mask.shapes
    return mask


def window_of_areas(grid: Grid, areas: Sequence[Geometry]) -> Window:
    """The pixels around all areas.

    Raises
    ------
    OutsideSceneError : no part of them lies on the grid.
    """
    whole = union_all([parse_site(area) for area in areas])
    window = grid.window_of_bounds(whole.bounds)
    if window is None:
        raise OutsideSceneError(
            "The area misses the scene altogether. Check its coordinate system, or choose another "
            "scene."
        )
    return window
