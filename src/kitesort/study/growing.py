"""Sites that are made of pixels: grown from one, and painted."""

from collections.abc import Sequence
from typing import Any

import numpy as np
from shapely.geometry import mapping

from kitesort.core.errors import NoValidPixelsError, OutsideSceneError
from kitesort.core.geometry import reproject_point, reproject_shape, shape_of
from kitesort.core.grid import Window
from kitesort.core.newest import Newest
from kitesort.core.raster.protocol import Block, roles_of
from kitesort.core.site_pixels import site_mask
from kitesort.core.statistics import quick_statistics
from kitesort.core.training.grow import Grown, Measure, grow
from kitesort.core.training.reshape import outline_of_pixels
from kitesort.study.rasters import layer_record, open_layer, study_crs

KEPT_WINDOWS = 4  # while a slider is moved


def grow_site(
    scene_id: int,
    roles: tuple[str, ...],
    x: float,
    y: float,
    measure: Measure,
    threshold: float,
) -> tuple[dict[str, Any], Grown]:
    """A site grown from the pixel at a place in the study's CRS: its outline there (GeoJSON).

    Raises
    ------
    MissingRoleError, OutsideSceneError, SiteError
    """
    raster, crs = open_layer(scene_id), study_crs(layer_record(scene_id).study_id)
    at = raster.grid.pixel_at(*reproject_point(x, y, crs, raster.grid.crs))
    if at is None:
        raise OutsideSceneError("There is no pixel of the scene. Click where there is imagery.")

    def read(window: Window) -> Block:
        return _windows.get((scene_id, roles, window), lambda: raster.read(window, roles))

    found = grow(
        read, raster.grid, *at, measure=measure, threshold=threshold,
        spread=_spread(scene_id, roles),
    )  # fmt: skip
    return dict(mapping(reproject_shape(found.outline, raster.grid.crs, crs))), found


def paint(
    scene_id: int,
    geometry: dict[str, Any] | None,
    places: Sequence[tuple[float, float]],
    on: bool,
) -> dict[str, Any] | None:
    """An outline (in the study's CRS; None for none yet) with the pixels at some places added, or
    taken out; None where nothing is left.

    Raises
    ------
    OutsideSceneError : there is no pixel at any of them.
    """
    grid, crs = open_layer(scene_id).grid, study_crs(layer_record(scene_id).study_id)
    painted = {grid.pixel_at(*reproject_point(x, y, crs, grid.crs)) for x, y in places} - {None}
    if not painted:
        raise OutsideSceneError("There is no pixel of the scene. Paint where there is imagery.")
    pixels: set[Any] = set()
    if geometry is not None:
        try:
            window, inside = site_mask(reproject_shape(shape_of(geometry), crs, grid.crs), grid)
        except (NoValidPixelsError, OutsideSceneError):
            pass  # it had no pixel
        else:
            pixels = {(r + window.row, c + window.col) for r, c in np.argwhere(inside).tolist()}
    left = pixels | painted if on else pixels - painted
    if not left:
        return None
    rows, cols = np.array(sorted(left), np.int32).T
    return dict(mapping(reproject_shape(outline_of_pixels(rows, cols, grid), grid.crs, crs)))


def _spread(scene_id: int, roles: tuple[str, ...]) -> np.ndarray:
    """Standard deviation of each band over the scene."""
    known = _spreads.get(scene_id, lambda: _spreads_of(scene_id))
    return np.array([known[role] for role in roles])


def _spreads_of(scene_id: int) -> dict[str, float]:
    raster = open_layer(scene_id)
    found = quick_statistics(raster).bands
    return {
        role: band.standard_deviation or 0.0
        for role, band in zip(roles_of(raster), found, strict=True)
    }


_windows: Newest[tuple[int, tuple[str, ...], Window], Block] = Newest(KEPT_WINDOWS)
_spreads: Newest[int, dict[str, float]] = Newest(64)
