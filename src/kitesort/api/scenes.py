"""Scenes: facts, tiles, readout."""

from functools import lru_cache
from typing import Annotated

import numpy as np
from fastapi import APIRouter, Query, Request, Response

from kitesort.api.pictures import picture_response
from kitesort.api.schemas import BandOut, CompositeOut, ExtentOut, GridOut, ReadoutOut, SceneOut
from kitesort.core.bands import available_composites
from kitesort.core.delivery import DEFAULT_EXCLUDED
from kitesort.core.display.tile import TILE_SIZE, TileScheme, read_tile, render_composite
from kitesort.core.errors import BadSettingsError
from kitesort.core.grid import Grid
from kitesort.store.rasters import scene_record, shown_scene, stretch_limits
from kitesort.store.readout import coarse_usable_share, default_roles, read_point
from kitesort.store.studies import get_study, list_scenes

router = APIRouter(tags=["scenes"])


def grid_out(grid: Grid) -> GridOut:
    left, bottom, right, top = grid.bounds
    return GridOut(
        crs=grid.crs,
        rows=grid.height,
        columns=grid.width,
        pixel_size=grid.pixel_size[0],
        extent=ExtentOut(left=left, bottom=bottom, right=right, top=top),
        n_levels=TileScheme(grid).n_levels,
        tile_size=TILE_SIZE,
    )


@lru_cache(maxsize=256)
def _scene_out(scene_id: int) -> SceneOut:
    scene = scene_record(scene_id)
    delivery = scene.delivery
    return SceneOut(
        id=scene.id,
        title=scene.title,
        sensor=delivery.sensor,
        acquired=delivery.acquired,
        sun_elevation_deg=delivery.sun_elevation_deg,
        grid=grid_out(shown_scene(scene_id).grid),
        bands=[BandOut.model_validate(b, from_attributes=True) for b in delivery.bands],
        composites=[
            CompositeOut(
                id=c.id, title=c.title, key=c.key, red=c.roles[0], green=c.roles[1], blue=c.roles[2]
            )
            for c in available_composites(set(delivery.roles))
        ],
        default_roles=list(default_roles(delivery)),
        excluded=[name for name in DEFAULT_EXCLUDED if name in delivery.quality_bits],
        usable_share=coarse_usable_share(scene_id),
    )


@router.get("/studies/{study_id}/scenes")
def get_scenes(study_id: int) -> list[SceneOut]:
    get_study(study_id)
    return [_scene_out(scene.id) for scene in list_scenes(study_id)]


@router.get(
    "/scenes/{scene_id}/tiles/{level}/{row}/{col}.png",
    response_class=Response,
    responses={200: {"content": {"image/png": {}}}},
)
def get_scene_tile(
    request: Request,
    scene_id: int,
    level: int,
    row: int,
    col: int,
    roles: Annotated[str, Query(description="three roles for red, green, blue, comma between")],
    low: Annotated[float, Query(ge=0, le=100)] = 2.0,
    high: Annotated[float, Query(ge=0, le=100)] = 98.0,
) -> Response:
    """A composite with a percentile stretch over the whole scene."""
    channels = tuple(roles.split(","))
    if len(channels) != 3:
        raise BadSettingsError("A composite takes exactly three bands: for red, green and blue.")
    raster = shown_scene(scene_id)

    def make() -> bytes:
        block = read_tile(raster, level, row, col, channels)
        limits = [stretch_limits(scene_id, role, low, high) for role in channels]
        return render_composite(block, limits)

    key = f"{raster.fingerprint}|{level}|{row}|{col}|{roles}|{low}|{high}"
    return picture_response(request, key, make)


@router.get("/scenes/{scene_id}/readout")
def get_readout(
    scene_id: int,
    x: float,
    y: float,
    live: str | None = None,
    layers: Annotated[list[int] | None, Query(max_length=8)] = None,
) -> ReadoutOut | None:
    """Values under a point given in the scene's CRS; null outside the scene."""
    if not np.isfinite([x, y]).all():
        raise BadSettingsError("The point has no coordinates.")
    at = read_point(scene_id, x, y, live, tuple(layers or ()))
    return None if at is None else ReadoutOut.model_validate(at, from_attributes=True)
