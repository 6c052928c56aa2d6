"""What lies under a point: values, the live class, the kept maps' classes."""

import math
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from pyproj import Transformer

from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.classify.shares import shares_of
from kitesort.core.geometry import reproject_point
from kitesort.core.grid import Window
from kitesort.core.newest import remembered
from kitesort.core.raster.protocol import Block, roles_of
from kitesort.core.raster.sample import sample_pixels
from kitesort.core.recipe import parents_of
from kitesort.store.layers import recipe_of
from kitesort.store.scenes import derived_node
from kitesort.study.rasters import code_at, open_layer, study_crs
from kitesort.study.training import remembered_state

COARSEST_DEFAULT_M = 30.0
NEAR_PX = 64
SHOWN_SCORES = 3
NEAR_KEPT = 256  # eight bands: 128 KiB each
# Several panes' scenes are read at once; files are opened once per thread.
_readers = ThreadPoolExecutor(4, thread_name_prefix="readout")


@dataclass(frozen=True)
class SceneReadout:
    """One pixel of a scene: ``values`` by role, None where not valid; whether it takes part in
    statistics and maps."""

    scene_id: int
    row: int
    column: int
    values: dict[str, float | None]
    usable: bool


@dataclass(frozen=True)
class LiveScore:
    """How near a pixel is to a class, as a share of all classes."""

    code: int
    share: float


@dataclass(frozen=True)
class Readout:
    """A place in the study's CRS; scenes that do not reach it are left out, and degrees where the
    CRS does."""

    longitude: float | None
    latitude: float | None
    scenes: list[SceneReadout]
    live_code: int | None
    live_scores: list[LiveScore]
    layer_codes: dict[int, int]


def read_place(
    study_id: int,
    x: float,
    y: float,
    scene_ids: tuple[int, ...],
    live_version: str | None = None,
    layer_ids: tuple[int, ...] = (),
) -> Readout:
    """What scenes and maps say at a point in the study's CRS.

    Raises
    ------
    NotFoundError
    """
    crs = study_crs(study_id)
    lon, lat = _to_degrees(crs).transform(x, y)
    reads = _readers.map(lambda scene_id: _read_scene(scene_id, x, y, crs), scene_ids)
    scenes = [read for read in reads if read is not None]
    live, scores = _live(live_version, x, y, crs)
    layers = {layer_id: code_at(layer_id, x, y, crs) for layer_id in layer_ids}
    on_earth = math.isfinite(lon) and math.isfinite(lat)
    return Readout(
        lon if on_earth else None, lat if on_earth else None, scenes, live, scores, layers
    )


def _read_scene(scene_id: int, x: float, y: float, crs: str) -> SceneReadout | None:
    raster = open_layer(scene_id)
    at = raster.grid.pixel_at(*reproject_point(x, y, crs, raster.grid.crs))
    if at is None:
        return None
    near = _neighbourhood(scene_id, at[0] // NEAR_PX, at[1] // NEAR_PX)
    row, col = at[0] % NEAR_PX, at[1] % NEAR_PX
    there = bool(near.shown.valid[row, col])
    values = {
        role: float(v) if there else None
        for role, v in zip(roles_of(raster), near.shown.values[:, row, col], strict=True)
    }
    return SceneReadout(scene_id, *at, values, there and bool(near.usable[row, col]))


@dataclass(frozen=True)
class _Near:
    """Values as they are looked at, and which pixels take part (row, col)."""

    shown: Block
    usable: npt.NDArray[np.bool_]


@remembered(NEAR_KEPT)
def _neighbourhood(scene_id: int, block_row: int, block_col: int) -> _Near:
    """All bands around a pixel: the pointer's next places are in it, most of the time."""
    raster = open_layer(scene_id)
    row, col = block_row * NEAR_PX, block_col * NEAR_PX
    height, width = min(NEAR_PX, raster.grid.height - row), min(NEAR_PX, raster.grid.width - col)
    window = Window(row, col, height, width)
    shown = open_layer(scene_id, "look").read(window)
    # What is flagged is the same for every band: one of them tells.
    usable = raster.read(window, roles_of(raster)[:1]).valid
    return _Near(shown, usable)


@remembered(16)
def _to_degrees(crs: str) -> Transformer:
    return Transformer.from_crs(crs, "EPSG:4326", always_xy=True)


def _live(version: str | None, x: float, y: float, crs: str) -> tuple[int | None, list[LiveScore]]:
    """Class of the map as it stands, in the scene it is trained on, and the three classes that the
    pixel is nearest to, the nearest first; None where there is no data."""
    state = remembered_state(version) if version else None
    if state is None or state.model is None:
        return None, []
    raster = open_layer(state.scene_id)
    at = raster.grid.pixel_at(*reproject_point(x, y, crs, raster.grid.crs))
    if at is None:
        return None, []
    block = raster.read(Window(*at, 1, 1), state.training.roles)
    if not block.valid[0, 0]:
        return None, []
    pixel = np.ascontiguousarray(block.values.reshape(len(state.training.roles), 1))
    kind = CLASSIFIERS[state.training.method].scores
    shares = shares_of(state.model.scores(pixel), kind)[:, 0]
    nearest = np.argsort(-shares, kind="stable")[:SHOWN_SCORES]
    scores = [LiveScore(int(state.model.codes[i]), float(shares[i])) for i in nearest]
    return int(state.model.classify(pixel)[0]), scores


def default_roles(scene_id: int) -> tuple[str, ...]:
    """Bands that go into a classifier unless the analyst says otherwise: none that was measured
    coarser than 30 m, or all where all are; of what was derived or stacked all."""
    bands = open_layer(scene_id).bands
    if derived_node(recipe_of(scene_id)):
        return tuple(b.role for b in bands)
    fine = tuple(b.role for b in bands if (b.pixel_size or 0) <= COARSEST_DEFAULT_M)
    return fine or tuple(b.role for b in bands)


@remembered(256)
def usable_share(scene_id: int) -> float:
    """Share of pixels that take part, of native ones spread over the scene; of layers derived from
    scenes on one grid that of the scene behind them (pixels without a value are counted when they
    are asked for)."""
    node = derived_node(recipe_of(scene_id))
    raster = open_layer(scene_id)
    if node is not None:
        parents = parents_of(node)
        if {open_layer(one).grid for one in parents} == {raster.grid}:
            return usable_share(parents[0])
    role = roles_of(raster)[0]
    found = sample_pixels(raster, (role,))
    return found.n_valid / found.n_covered
