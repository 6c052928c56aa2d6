"""What lies under a point: values, the live class, the kept maps' classes."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from pyproj import Transformer

from kitesort.core.delivery import DeliveredScene
from kitesort.core.grid import Window
from kitesort.core.raster.protocol import roles_of
from kitesort.store.rasters import code_at, shown_scene, usable_scene
from kitesort.store.training import remembered_state

COARSE_SHARE = 512  # pixels a side in the coarse view that the usable share is taken from
COARSEST_DEFAULT_M = 30.0


@dataclass(frozen=True)
class Readout:
    row: int
    column: int
    longitude: float
    latitude: float
    values: dict[str, float | None]
    usable: bool
    live_code: int | None
    layer_codes: dict[int, int]


def read_point(
    scene_id: int, x: float, y: float, live_version: str | None, layer_ids: tuple[int, ...]
) -> Readout | None:
    """Values at a point in the scene's CRS; None outside the scene."""
    raster = usable_scene(scene_id)
    at = raster.grid.pixel_at(x, y)
    if at is None:
        return None
    window = Window(*at, 1, 1)
    shown = shown_scene(scene_id).read(window)
    usable = bool(raster.read(window).valid[0, 0])
    spectrum = shown.values[:, 0, 0]
    there = bool(shown.valid[0, 0])
    values = {
        role: float(v) if there else None
        for role, v in zip(roles_of(raster), spectrum, strict=True)
    }
    lon, lat = _to_degrees(raster.grid.crs).transform(x, y)
    live = _live_code(live_version, scene_id, window) if usable else None
    layers = {layer_id: code_at(layer_id, x, y) for layer_id in layer_ids}
    return Readout(*at, lon, lat, values, usable, live, layers)


@lru_cache(maxsize=16)
def _to_degrees(crs: str) -> Transformer:
    return Transformer.from_crs(crs, "EPSG:4326", always_xy=True)


def _live_code(version: str | None, scene_id: int, window: Window) -> int | None:
    state = remembered_state(version) if version else None
    if state is None or state.model is None:
        return None
    block = usable_scene(scene_id).read(window, state.recipe.roles)
    pixel = np.ascontiguousarray(block.values.reshape(len(state.recipe.roles), 1))
    return int(state.model.classify(pixel)[0])


def default_roles(delivery: DeliveredScene) -> tuple[str, ...]:
    """Bands that go into a classifier unless the analyst says otherwise: none coarser than 30 m."""
    return tuple(str(b.role) for b in delivery.bands if b.resolution_m <= COARSEST_DEFAULT_M)


@lru_cache(maxsize=256)
def coarse_usable_share(scene_id: int) -> float:
    """Share of pixels that take part, from a coarse view."""
    raster = usable_scene(scene_id)
    factor = max(1.0, max(raster.grid.height, raster.grid.width) / COARSE_SHARE)
    shape = (round(raster.grid.height / factor), round(raster.grid.width / factor))
    role = roles_of(raster)[0]
    return float(raster.read(raster.grid.whole, (role,), shape).valid.mean())
