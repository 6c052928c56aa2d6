"""Finer pictures over the ground of a study."""

from kitesort.catalogue.pictures import picture_tiles
from kitesort.core.raster.protocol import Raster
from kitesort.store.scenes import first_scene_id
from kitesort.study.rasters import for_display, opened, study_crs


def picture_raster(picture_id: str, study_id: int) -> Raster:
    """Red, green and blue on the study's ground, in its CRS; fetched as it is read.

    Raises
    ------
    NotFoundError
    """
    bounds = opened(first_scene_id(study_id)).shown.grid.bounds
    return for_display(picture_tiles(picture_id, bounds, study_crs(study_id)), study_id)
