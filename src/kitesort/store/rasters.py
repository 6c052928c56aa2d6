"""From rows to rasters: scenes as they are shown, as they are used, and kept layers."""

from functools import lru_cache
from typing import Any

import numpy as np

from kitesort.core.bands import SceneQuantity, common_quantity
from kitesort.core.delivery import DEFAULT_EXCLUDED, DeliveredScene
from kitesort.core.derive.registry import DERIVATIONS
from kitesort.core.display.tile import read_tile
from kitesort.core.geometry import is_same_crs, reproject_point
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.cog import NODATA_CODE
from kitesort.core.raster.file import FileRaster
from kitesort.core.raster.protocol import Block, Raster, band_positions
from kitesort.core.raster.warp import WarpedRaster, suggest_grid
from kitesort.core.scene_recipe import (
    CombinedSource,
    DeliveredSource,
    DerivedSource,
    SceneReader,
    delivery_behind,
    open_recipe,
)
from kitesort.store.files import layer_path
from kitesort.store.layers import get_layer, open_codes
from kitesort.store.records import Layer, Scene
from kitesort.store.scenes import first_scene_id, get_scene, parents_of
from kitesort.store.studies import store_crs, stored_crs

SHOWN_EXCLUDED = ("fill",)
KEPT_TILES = 96  # of 256 × 256 pixels and some bands: at eight bands 2 MiB each


@lru_cache(maxsize=1024)
def scene_record(scene_id: int) -> Scene:
    """A scene's record; its recipe never changes (its title may, see ``forget_scene_titles``)."""
    return get_scene(scene_id)


def forget_scene_titles() -> None:
    """After a title has changed."""
    scene_record.cache_clear()


@lru_cache(maxsize=1024)
def delivery_of(scene_id: int) -> DeliveredScene | None:
    """The delivery that a scene stems from; None for one combined of several."""
    return delivery_behind(scene_record(scene_id).recipe, READER)


@lru_cache(maxsize=1024)
def usable_scene(scene_id: int, excluded: tuple[str, ...] = DEFAULT_EXCLUDED) -> Raster:
    """A scene's values; what takes no part in statistics and maps is not valid."""
    return open_recipe(scene_record(scene_id).recipe, READER, excluded)


def working_scene(scene_id: int) -> Raster:
    """As ``usable_scene``, from the kept file when there is one: the same pixels, sooner."""
    kept = get_scene(scene_id).kept_path
    raster = usable_scene(scene_id)
    if kept is None or not layer_path(kept).is_file():
        return raster
    return FileRaster(str(layer_path(kept)), raster.bands, np.nan)


READER = SceneReader(usable_scene, delivery_of)


@lru_cache(maxsize=KEPT_TILES)
def usable_tile(scene_id: int, level: int, row: int, col: int, roles: tuple[str, ...]) -> Block:
    """A tile of a scene's usable pixels, remembered: the live map asks again after every edit."""
    raster = for_display(working_scene(scene_id), scene_record(scene_id).study_id)
    block = read_tile(raster, level, row, col, roles)
    block.values.flags.writeable = block.valid.flags.writeable = False
    return block


def shown_scene(scene_id: int) -> Raster:
    """A scene's values as they are looked at: clouds are seen, fill is not."""
    return usable_scene(scene_id, SHOWN_EXCLUDED)


@lru_cache(maxsize=256)
def study_crs(study_id: int) -> str:
    """The CRS in which a study is shown and drawn: that of the scene that came first, remembered
    from then on."""
    known = stored_crs(study_id)
    if known is None:
        known = usable_scene(first_scene_id(study_id)).grid.crs
        store_crs(study_id, known)
    return known


def for_display(raster: Raster, study_id: int) -> Raster:
    """The raster in the study's CRS and in square pixels, nearest neighbour, where it is not."""
    square = display_grid(raster.grid, study_id)
    return raster if square == raster.grid else WarpedRaster(raster, square)


def display_grid(grid: Grid, study_id: int) -> Grid:
    """The grid in which panes show what lies on this one."""
    crs = study_crs(study_id)
    return (grid if is_same_crs(grid.crs, crs) else suggest_grid(grid, crs)).squared()


def kept_version(scene_id: int, *_: Any) -> str | None:
    """The kept file of a layer that looks at neighbours, which is seen in its place once it is
    there; None for all others, which look the same kept or not."""
    source = scene_record(scene_id).recipe.source
    is_local = isinstance(source, DerivedSource) and DERIVATIONS[source.operation].is_local
    return get_scene(scene_id).kept_path if is_local else None


def sampled_scene(scene_id: int) -> int:
    """The scene whose values tell how to stretch another one's: the one behind it where it is the
    same but for its neighbours' part, which would have to be computed everywhere first."""
    source = scene_record(scene_id).recipe.source
    if not isinstance(source, DerivedSource) or kept_version(scene_id):
        return scene_id
    spec = DERIVATIONS[source.operation]
    return source.inputs[0].scene_id if spec.is_local and spec.keeps_units else scene_id


def seen_scene(scene_id: int) -> Raster:
    """As ``usable_scene``; a layer that looks at neighbours from its kept file, whose overviews
    show it at any zoom."""
    return working_scene(scene_id) if kept_version(scene_id) else usable_scene(scene_id)


def display_scene(scene_id: int) -> Raster:
    """What the panes show of a scene."""
    if kept_version(scene_id):
        return for_display(seen_scene(scene_id), scene_record(scene_id).study_id)
    return _display_scene(scene_id)


@lru_cache(maxsize=1024)
def _display_scene(scene_id: int) -> Raster:
    return for_display(shown_scene(scene_id), scene_record(scene_id).study_id)


def quantity_of(scene_id: int, roles: tuple[str, ...] | None = None) -> SceneQuantity:
    """What the values of a scene, or of some of its bands, mean after all its steps."""
    bands = usable_scene(scene_id).bands
    return common_quantity(bands[p] for p in band_positions(bands, roles))


@lru_cache(maxsize=1024)
def flags_of(scene_id: int) -> tuple[str, ...]:
    """Quality flags that a scene's pixels come with; of derived layers those of their inputs."""
    recipe = scene_record(scene_id).recipe
    if isinstance(recipe.source, DeliveredSource):
        return recipe.source.delivery.flag_names
    if isinstance(recipe.source, CombinedSource):
        return ()
    return tuple(dict.fromkeys(flag for i in parents_of(recipe) for flag in flags_of(i)))


def left_out_flags(scene_id: int) -> tuple[str, ...]:
    """Those whose pixels take no part in statistics and maps, of those that the scene has."""
    known = flags_of(scene_id)
    return tuple(name for name in DEFAULT_EXCLUDED if name in known)


@lru_cache(maxsize=1024)
def _layer_path(layer_id: int) -> str:
    return get_layer(layer_id).path


def layer_raster(layer_id: int) -> FileRaster:
    """Class codes of a kept layer."""
    return open_codes(_layer_path(layer_id))


def code_at(layer_id: int, x: float, y: float, crs: str) -> int:
    """Class code of a kept layer at a point given in ``crs``; 0 (no data) outside."""
    raster = layer_raster(layer_id)
    at = raster.grid.pixel_at(*reproject_point(x, y, crs, raster.grid.crs))
    block = raster.read(Window(*at, 1, 1)) if at else None
    return int(block.values[0, 0, 0]) if block and block.valid[0, 0] else NODATA_CODE


def colours_of(layer: Layer) -> dict[int, tuple[int, int, int, int]]:
    return {e.code: (*e.rgb, 255) for e in layer.told.legend}
