"""From rows to rasters: scenes as they are shown, as they are used, and kept layers."""

from functools import lru_cache

from kitesort.core.bands import Band
from kitesort.core.delivery import DEFAULT_EXCLUDED, open_delivery
from kitesort.core.display.stretch import Limits, percentile_limits, sample_band
from kitesort.core.display.tile import read_tile
from kitesort.core.grid import Window
from kitesort.core.raster.cog import NODATA_CODE
from kitesort.core.raster.file import FileRaster
from kitesort.core.raster.protocol import Block, Raster
from kitesort.store.files import layer_path
from kitesort.store.layers import get_layer
from kitesort.store.records import Layer
from kitesort.store.studies import get_scene

SHOWN_EXCLUDED = ("fill",)
KEPT_TILES = 96  # of 256 × 256 pixels and some bands: at eight bands 2 MiB each

# A delivery never changes once it is in the study, and a layer's file is never written twice.
scene_record = lru_cache(maxsize=256)(get_scene)


@lru_cache(maxsize=256)
def usable_scene(scene_id: int, excluded: tuple[str, ...] = DEFAULT_EXCLUDED) -> Raster:
    """Reflectance of a scene; what takes no part in statistics and maps is not valid."""
    return open_delivery(scene_record(scene_id).delivery, excluded)


@lru_cache(maxsize=KEPT_TILES)
def usable_tile(scene_id: int, level: int, row: int, col: int, roles: tuple[str, ...]) -> Block:
    """A tile of a scene's usable pixels, remembered: the live map asks again after every edit."""
    block = read_tile(usable_scene(scene_id), level, row, col, roles)
    block.values.flags.writeable = block.valid.flags.writeable = False
    return block


def shown_scene(scene_id: int) -> Raster:
    """Reflectance of a scene as it is looked at: clouds are seen, fill is not."""
    return usable_scene(scene_id, SHOWN_EXCLUDED)


@lru_cache(maxsize=4096)
def stretch_limits(scene_id: int, role: str, low: float, high: float) -> Limits:
    """Percentile limits over the usable pixels, so that cloud does not darken the ground."""
    usable = _band_sample(scene_id, role)
    return percentile_limits(usable, low, high)


_band_sample = lru_cache(maxsize=64)(
    lambda scene_id, role: sample_band(usable_scene(scene_id), role)
)


@lru_cache(maxsize=1024)
def _layer_path(layer_id: int) -> str:
    return str(layer_path(get_layer(layer_id).path))


def layer_raster(layer_id: int) -> FileRaster:
    """Class codes of a kept layer."""
    return FileRaster(_layer_path(layer_id), (Band("class"),), nodata=float(NODATA_CODE))


def code_at(layer_id: int, x: float, y: float) -> int:
    """Class code of a kept layer at a point in its CRS; 0 (no data) outside."""
    raster = layer_raster(layer_id)
    at = raster.grid.pixel_at(x, y)
    return int(raster.read(Window(*at, 1, 1)).values[0, 0, 0]) if at else NODATA_CODE


def colours_of(layer: Layer) -> dict[int, tuple[int, int, int, int]]:
    return {e.code: (*e.rgb, 255) for e in layer.recipe.legend}
