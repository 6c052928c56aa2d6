"""A cloud circled in feature space: what lies in it, and training sites from it."""

from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from shapely.geometry import mapping
from shapely.geometry.base import BaseGeometry

from kitesort.core.classify.raster import class_map_raster
from kitesort.core.cloud import CloudCount, count_cloud, in_cloud, parse_cloud
from kitesort.core.errors import BadSettingsError, OutsideSceneError
from kitesort.core.geometry import reproject_geometry
from kitesort.core.raster.protocol import Raster
from kitesort.core.raster.sample import inside_outline
from kitesort.core.site_pixels import MAX_SITE_PIXELS
from kitesort.core.training.patches import compact_patches
from kitesort.store.sites import create_sites
from kitesort.study.look import Region, region_outline
from kitesort.study.plane import PlaneLayers
from kitesort.study.rasters import open_layer, study_crs
from kitesort.study.training import remembered_state, training_state

MOST_SITES = 20


@dataclass(frozen=True)
class FoundCloud:
    """``count.by_code`` is of the live map, where there is one over the layers' grid;
    ``of_training``: by class code, the share of its training pixels that lies in the cloud."""

    count: CloudCount
    of_training: dict[int, float]


def measure_cloud(layers: PlaneLayers, text: str, region: Region, live: str | None) -> FoundCloud:
    """Pixels, hectares and classes of a cloud.

    Raises
    ------
    BadSettingsError, MissingRoleError, OutsideSceneError
    """
    cloud, raster = parse_cloud(text), layers.raster
    outline = _outline(layers, raster, region)
    count = count_cloud(raster, cloud, outline=outline, codes=_live_codes(raster, live))
    return FoundCloud(count, _of_training(layers, cloud))


def _outline(layers: PlaneLayers, raster: Raster, region: Region) -> BaseGeometry | None:
    outline = region_outline(raster, layers.study_id, region)
    if outline is not None and raster.grid.window_of_bounds(outline.bounds) is None:
        raise OutsideSceneError("The area lies outside the scene.")
    return outline


def _live_codes(raster: Raster, version: str | None) -> Raster | None:
    """The live map as it was shown, if it is remembered and lies on the same pixels."""
    state = remembered_state(version) if version is not None else None
    if state is None or state.model is None:
        return None
    codes = class_map_raster(open_layer(state.scene_id), state.model, state.training.legend)
    return codes if codes.grid == raster.grid else None


def _of_training(layers: PlaneLayers, cloud: shapely.Geometry) -> dict[int, float]:
    """Nothing where the axes are of two scenes."""
    if layers.x_scene != layers.y_scene:
        return {}
    roles = tuple(dict.fromkeys((layers.x_role, layers.y_role)))
    samples = training_state(layers.study_id, layers.x_scene, roles).samples
    if samples is None:
        return {}
    inside = in_cloud(cloud, samples.values[:, 0], samples.values[:, -1])
    return {code: float(inside[samples.codes == code].mean()) for code in samples.class_codes}


def sites_of_cloud(layers: PlaneLayers, text: str, region: Region, class_id: int) -> int:
    """Training sites of a class from the largest compact patches of a cloud, as one edit; how many.

    Raises
    ------
    BadSettingsError : more pixels than can be looked at, or no such patch. NotFoundError
    """
    cloud, raster = parse_cloud(text), layers.raster
    outline = _outline(layers, raster, region)
    grid = raster.grid
    window = grid.whole if outline is None else grid.window_of_bounds(outline.bounds)
    if window is None or window.n_pixels > MAX_SITE_PIXELS:
        raise BadSettingsError(
            f"Sites are looked for among at most {MAX_SITE_PIXELS // 10**6} million pixels. "
            "Zoom in and choose what the panes show."
        )
    block = raster.read(window)
    marked = in_cloud(cloud, block.values[0], block.values[1]) & block.valid
    marked &= inside_outline(grid, window, outline)
    patches = compact_patches(np.asarray(marked), grid, window, most=MOST_SITES)
    if not patches:
        raise BadSettingsError(
            "The cloud's pixels lie scattered: no patch of twelve or more is compact enough for a "
            "site. Circle more of it, or look elsewhere."
        )
    crs, note = study_crs(layers.study_id), f"from a cloud of {layers.x_role} and {layers.y_role}"
    drawn = [(class_id, _onto(patch.outline, grid.crs, crs), note) for patch in patches]
    return len(create_sites(layers.study_id, drawn))


def _onto(outline: BaseGeometry, there: str, crs: str) -> dict[str, Any]:
    return reproject_geometry(dict(mapping(outline)), there, crs)
