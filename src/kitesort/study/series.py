"""Series of dates: the values of a point or a site through them."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np

from kitesort.core.errors import SiteError
from kitesort.core.geometry import reproject_geometry, reproject_point
from kitesort.core.grid import Window
from kitesort.core.outline import parse_site
from kitesort.core.raster.protocol import Raster, roles_of
from kitesort.core.site_pixels import site_pixels
from kitesort.store.records import Layer
from kitesort.store.scenes import list_scenes
from kitesort.study.rasters import open_layer, study_crs


@dataclass(frozen=True)
class SeriesValue:
    """Mean of the valid pixels on a date; None where there is none."""

    scene_id: int
    acquired: date
    value: float | None
    standard_deviation: float | None
    n_valid: int


def list_series(study_id: int) -> dict[str, list[Layer]]:
    """Scenes by the name of their series, each in order of date."""
    found: dict[str, list[Layer]] = {}
    for scene in list_scenes(study_id):
        if scene.series is not None and scene.acquired is not None:
            found.setdefault(scene.series, []).append(scene)
    return found


def values_at_point(
    study_id: int, scenes: Sequence[Layer], role: str | None, x: float, y: float
) -> list[SeriesValue]:
    """Values of one pixel through a series; the point is in the study's CRS."""
    crs = study_crs(study_id)
    values = []
    for scene in scenes:
        raster = open_layer(scene.id)
        at = raster.grid.pixel_at(*reproject_point(x, y, crs, raster.grid.crs))
        read = np.empty(0, np.float32)
        if at is not None:
            block = raster.read(Window(*at, 1, 1), (_role(raster, role),))
            read = block.values[0][block.valid]
        values.append(_summary(scene, read))
    return values


def values_in_site(
    study_id: int, scenes: Sequence[Layer], role: str | None, geometry: dict[str, Any]
) -> list[SeriesValue]:
    """Mean over a site through a series; the outline is in the study's CRS.

    Raises
    ------
    SiteError : no outline at all.
    """
    parse_site(geometry)
    crs = study_crs(study_id)
    values = []
    for scene in scenes:
        raster = open_layer(scene.id)
        outline = parse_site(reproject_geometry(geometry, crs, raster.grid.crs))
        try:
            read = site_pixels(raster, outline, (_role(raster, role),)).values[:, 0]
        except SiteError:
            read = np.empty(0, np.float32)
        values.append(_summary(scene, read))
    return values


def _role(raster: Raster, role: str | None) -> str:
    return role or roles_of(raster)[0]


def _summary(scene: Layer, values: np.ndarray[Any, np.dtype[np.float32]]) -> SeriesValue:
    assert scene.acquired is not None
    if values.size == 0:
        return SeriesValue(scene.id, scene.acquired, None, None, 0)
    deviation = float(values.std(ddof=1)) if values.size > 1 else 0.0
    return SeriesValue(scene.id, scene.acquired, float(values.mean()), deviation, values.size)
