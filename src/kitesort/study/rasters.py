"""From rows to rasters: scenes as they are shown, as they are used, and kept layers."""

from collections.abc import Iterable
from typing import Any, Literal

import numpy as np

from kitesort.core.bands import SceneQuantity, common_quantity
from kitesort.core.delivery import DEFAULT_EXCLUDED, DeliveredScene
from kitesort.core.display.tile import read_tile
from kitesort.core.geometry import is_same_crs, reproject_point
from kitesort.core.grid import Grid, Window
from kitesort.core.legend import NODATA_CODE
from kitesort.core.newest import remembered
from kitesort.core.raster.class_file import class_bands
from kitesort.core.raster.file import FileRaster
from kitesort.core.raster.protocol import Block, Raster, band_positions
from kitesort.core.raster.remembered import Blocks, RememberedRaster, n_bytes
from kitesort.core.raster.warp import WarpedRaster, suggest_grid
from kitesort.core.recipe import (
    DeliveredLeaf,
    LayerReader,
    Node,
    delivery_behind,
    open_recipe,
    parents_of,
    source_of,
)
from kitesort.store.classifiers import classifier_content
from kitesort.store.files import layer_path
from kitesort.store.layers import get_layer, recipe_of, require_in_study
from kitesort.store.records import Layer
from kitesort.store.scenes import derived_node, first_scene_id
from kitesort.store.studies import store_crs, stored_crs

SHOWN_EXCLUDED = ("fill",)
KEPT_BLOCK_BYTES = 256 * 2**20
KEPT_TILES = 96  # of 256 × 256 pixels and some bands: at eight bands 2 MiB each


@remembered(1024)
def layer_record(layer_id: int) -> Layer:
    """A layer's record (its title may change, see ``forget_titles``)."""
    return get_layer(layer_id)


def require_own(study_id: int, layer_ids: Iterable[int]) -> None:
    """As ``require_in_study``, which is asked only where what is remembered says no.

    Raises
    ------
    NotFoundError, InputError
    """
    foreign = [i for i in layer_ids if layer_record(i).study_id != study_id]
    require_in_study(study_id, foreign)


def forget_titles() -> None:
    """After a title has changed."""
    layer_record.forget()


@remembered(1024)
def delivery_of(layer_id: int) -> DeliveredScene | None:
    """The delivery that a layer stems from; None for one combined of several, or derived."""
    return delivery_behind(recipe_of(layer_id), READER)


Purpose = Literal["use", "work", "see", "look"]


def open_layer(layer_id: int, purpose: Purpose = "use") -> Raster:
    """A layer's pixels. The one way to them; what for decides which are left out, and whether a
    kept file may stand for the recipe, with the same pixels:

    - use: for statistics, training and maps, without the pixels that take no part;
    - work: the same, from the kept file when there is one, which is sooner where all are read;
    - see: the same, from the kept file where the recipe alone could not be seen at any zoom;
    - look: as panes show it: clouds are seen, fill is not.

    Raises
    ------
    NotFoundError, InputError : what it is made of has gone, or cannot be followed.
    """
    if purpose == "work" or (purpose != "use" and kept_version(layer_id)):
        kept = _kept_raster(layer_id)
        if kept is not None:
            return kept
    return _from_recipe(layer_id, SHOWN_EXCLUDED if purpose == "look" else DEFAULT_EXCLUDED)


@remembered(1024)
def _from_recipe(layer_id: int, excluded: tuple[str, ...]) -> Raster:
    return open_recipe(recipe_of(layer_id), READER, excluded)


def _kept_raster(layer_id: int) -> Raster | None:
    layer = get_layer(layer_id)
    if layer.kept_path is None or not layer_path(layer.kept_path).is_file():
        return None
    path = str(layer_path(layer.kept_path))
    if layer.kind == "classes":
        legend = layer.told.legend if layer.told else open_layer(layer_id).bands[0].legend
        return FileRaster(path, class_bands(legend), float(NODATA_CODE))
    return FileRaster(path, open_layer(layer_id).bands, np.nan)


def _open_for_recipe(layer_id: int, excluded: tuple[str, ...] = DEFAULT_EXCLUDED) -> Raster:
    """A map that is kept from its file: training for it again would take time."""
    kept = _kept_raster(layer_id) if layer_record(layer_id).kind == "classes" else None
    return _from_recipe(layer_id, excluded) if kept is None else kept


def _open_for_preview(layer_id: int, excluded: tuple[str, ...] = DEFAULT_EXCLUDED) -> Raster:
    """What other settings ask for again."""
    return RememberedRaster(_open_for_recipe(layer_id, excluded), _blocks)


_blocks = Blocks(KEPT_BLOCK_BYTES, n_bytes)
READER = LayerReader(_open_for_recipe, delivery_of, classifier_content)
PREVIEW_READER = LayerReader(_open_for_preview, delivery_of, classifier_content)


@remembered(KEPT_TILES)
def usable_tile(layer_id: int, level: int, row: int, col: int, roles: tuple[str, ...]) -> Block:
    """A tile of a scene's usable pixels, remembered: the live map asks again after every edit."""
    raster = for_display(open_layer(layer_id, "work"), layer_record(layer_id).study_id)
    block = read_tile(raster, level, row, col, roles)
    block.values.flags.writeable = block.valid.flags.writeable = False
    return block


@remembered(256)
def study_crs(study_id: int) -> str:
    """The CRS in which a study is shown and drawn: that of the scene that came first, remembered
    from then on."""
    known = stored_crs(study_id)
    if known is None:
        known = open_layer(first_scene_id(study_id)).grid.crs
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


def kept_version(layer_id: int, *_: Any) -> str | None:
    """The kept file of a layer that looks at neighbours, or of a class map, which is seen in its
    place once it is there; None for all others, which are as quickly computed."""
    layer = get_layer(layer_id)
    if layer.kind == "classes":
        return layer.kept_path
    node = derived_node(recipe_of(layer_id))
    return layer.kept_path if node and node.spec.is_local else None


def sampled_layer(layer_id: int) -> int:
    """The scene whose values tell how to stretch another one's: the one behind it where it is the
    same but for its neighbours' part, which would have to be computed everywhere first."""
    node = derived_node(recipe_of(layer_id))
    if node is None or kept_version(layer_id) or not (node.spec.is_local and node.spec.keeps_units):
        return layer_id
    return parents_of(node)[0]


def display_layer(layer_id: int) -> Raster:
    """What the panes show of a layer, in their grid."""
    if kept_version(layer_id):
        return for_display(open_layer(layer_id, "look"), layer_record(layer_id).study_id)
    return _display_layer(layer_id)


@remembered(1024)
def _display_layer(layer_id: int) -> Raster:
    return for_display(open_layer(layer_id, "look"), layer_record(layer_id).study_id)


def quantity_of(layer_id: int, roles: tuple[str, ...] | None = None) -> SceneQuantity:
    """What the values of a scene, or of some of its bands, mean after all its steps."""
    bands = open_layer(layer_id).bands
    return common_quantity(bands[p] for p in band_positions(bands, roles))


@remembered(1024)
def flags_of(layer_id: int) -> tuple[str, ...]:
    """Quality flags that a scene's pixels come with; of derived layers those of their inputs."""
    source = source_of(recipe_of(layer_id))
    if isinstance(source, DeliveredLeaf):
        return source.delivery.flag_names
    if isinstance(source, Node) and source.spec.station == "combine":
        return ()
    return tuple(dict.fromkeys(flag for i in parents_of(source) for flag in flags_of(i)))


def left_out_flags(layer_id: int) -> tuple[str, ...]:
    """Those whose pixels take no part in statistics and maps, of those that the scene has."""
    known = flags_of(layer_id)
    return tuple(name for name in DEFAULT_EXCLUDED if name in known)


def code_at(layer_id: int, x: float, y: float, crs: str) -> int:
    """Class code of a map at a point given in ``crs``; 0 (no data) outside."""
    raster = open_layer(layer_id, "work")
    at = raster.grid.pixel_at(*reproject_point(x, y, crs, raster.grid.crs))
    block = raster.read(Window(*at, 1, 1)) if at else None
    return int(block.values[0, 0, 0]) if block and block.valid[0, 0] else NODATA_CODE
