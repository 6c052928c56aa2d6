"""From rows to rasters: scenes as they are shown, as they are used, and kept layers."""

from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

import numpy as np
import numpy.typing as npt

from kitesort.core.bands import Kind, SceneQuantity, common_quantity
from kitesort.core.delivery import DEFAULT_EXCLUDED, DeliveredScene
from kitesort.core.display.tile import read_tile
from kitesort.core.geometry import reproject_points
from kitesort.core.grid import Grid
from kitesort.core.legend import NODATA_CODE, Legend
from kitesort.core.newest import remembered
from kitesort.core.raster.class_file import class_bands
from kitesort.core.raster.file import FileRaster
from kitesort.core.raster.protocol import Block, Raster, band_positions
from kitesort.core.raster.remembered import Blocks, RememberedRaster, n_bytes
from kitesort.core.raster.scattered import read_pixels
from kitesort.core.raster.warp import squared_in, suggest_grid
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
from kitesort.store.database import as_written, holds_no_connection
from kitesort.store.files import layer_path
from kitesort.store.layers import get_layer, recipe_of, require_in_study
from kitesort.store.records import Layer
from kitesort.store.scenes import derived_node, first_scene_id
from kitesort.store.studies import store_crs, stored_crs

SHOWN_EXCLUDED = ("fill",)
KEPT_BLOCK_BYTES = 256 * 2**20
KEPT_TILES = 96  # of 256 × 256 pixels and some bands: at eight bands 2 MiB each


@remembered(1024, version=as_written, once=holds_no_connection)
def layer_record(layer_id: int) -> Layer:
    """A layer's record as it stands; asked for with every tile."""
    return get_layer(layer_id)


def require_own(study_id: int, layer_ids: Iterable[int]) -> None:
    """As ``require_in_study``, which is asked only where what is remembered says no.

    Raises
    ------
    NotFoundError, InputError
    """
    foreign = [i for i in layer_ids if layer_record(i).study_id != study_id]
    require_in_study(study_id, foreign)


@remembered(1024)
def delivery_of(layer_id: int) -> DeliveredScene | None:
    """The delivery that a layer stems from; None for one combined of several, or derived."""
    return delivery_behind(recipe_of(layer_id), READER)


Purpose = Literal["use", "work", "see", "look"]


def open_layer(layer_id: int, purpose: Purpose = "use") -> Raster:
    """A layer's pixels, see ``OpenLayer``; what is used comes from the recipe, which never changes,
    so that nobody asks the database.

    Raises
    ------
    NotFoundError, InputError : what it is made of has gone, or cannot be followed.
    """
    if purpose == "use":
        return _from_recipe(layer_id, DEFAULT_EXCLUDED)
    return opened(layer_id).raster(purpose)


@dataclass(frozen=True)
class OpenLayer:
    """A layer that is open, with the file that it had by then: the one way to its pixels. Equal
    ones have the same pixels for every purpose, which decides which are left out, and whether a
    kept file may stand for the recipe:

    - use: for statistics, training and maps, without the pixels that take no part;
    - work: the same, from the kept file when there is one, which is sooner where all are read;
    - see: the same, from the kept file where the recipe alone could not be seen at any zoom;
    - look: as panes show it: clouds are seen, fill is not.
    """

    id: int
    study_id: int
    kind: Kind
    kept_path: str | None
    legend: Legend | None = field(compare=False)  # of a class map, as it tells it

    def raster(self, purpose: Purpose = "use") -> Raster:
        if purpose == "work" or (purpose != "use" and self.is_seen_kept):
            kept = self.kept_raster()
            if kept is not None:
                return kept
        excluded = SHOWN_EXCLUDED if purpose == "look" else DEFAULT_EXCLUDED
        return _from_recipe(self.id, excluded)

    @property
    def shown(self) -> Raster:
        """What the panes show of it, in their grid."""
        if self.is_seen_kept:
            return for_display(self.raster("look"), self.study_id)
        return _shown_from_recipe(self.id, self.study_id)

    @cached_property
    def derivation(self) -> Node | None:
        """The derivation that it was made by, steps since aside."""
        return derived_node(recipe_of(self.id))

    @cached_property
    def is_seen_kept(self) -> bool:
        """Whether its kept file is seen in its place: that of a class map, or of a layer that looks
        at neighbours. All others are as quickly computed."""
        if self.kept_path is None or self.kind == "classes":
            return self.kept_path is not None
        return self.derivation is not None and self.derivation.spec.is_local

    def kept_raster(self) -> Raster | None:
        """None where it was not kept, or its file has gone."""
        if self.kept_path is None or not layer_path(self.kept_path).is_file():
            return None
        path = str(layer_path(self.kept_path))
        if self.kind == "classes":
            legend = self.legend or open_layer(self.id).bands[0].legend
            return FileRaster(path, class_bands(legend), float(NODATA_CODE))
        return FileRaster(path, open_layer(self.id).bands, np.nan)


@remembered(1024, version=as_written, once=holds_no_connection)
def opened(layer_id: int) -> OpenLayer:
    """A layer with the file that it has now; every tile asks for it.

    Raises
    ------
    NotFoundError
    """
    row = get_layer(layer_id)
    legend = row.told.legend if row.told else None
    return OpenLayer(row.id, row.study_id, row.kind, row.kept_path, legend)


@remembered(1024)
def _from_recipe(layer_id: int, excluded: tuple[str, ...]) -> Raster:
    return open_recipe(recipe_of(layer_id), READER, excluded)


@remembered(1024)
def _shown_from_recipe(layer_id: int, study_id: int) -> Raster:
    return for_display(_from_recipe(layer_id, SHOWN_EXCLUDED), study_id)


def _open_for_recipe(layer_id: int, excluded: tuple[str, ...] = DEFAULT_EXCLUDED) -> Raster:
    """A map that is kept from its file: training for it again would take time."""
    is_map = layer_record(layer_id).kind == "classes"
    kept = opened(layer_id).kept_raster() if is_map else None
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
    return squared_in(raster, study_crs(study_id))


def display_grid(grid: Grid, study_id: int) -> Grid:
    """The grid in which panes show what lies on this one."""
    return suggest_grid(grid, study_crs(study_id)).squared()


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
    return int(codes_at(layer_id, np.array([[x, y]]), crs)[0])


def codes_at(layer_id: int, places: npt.NDArray[np.float64], crs: str) -> npt.NDArray[np.int64]:
    """Class codes (n,) of a map at places (n, 2) given in ``crs``, read by blocks; 0 (no data)
    outside."""
    raster = open_layer(layer_id, "work")
    rows, cols, inside = raster.grid.pixels_at(reproject_points(places, crs, raster.grid.crs))
    codes = np.full(len(places), NODATA_CODE, np.int64)
    values = read_pixels(raster, rows[inside], cols[inside])[0]
    codes[inside] = np.where(np.isnan(values), NODATA_CODE, values).astype(np.int64)
    return codes
