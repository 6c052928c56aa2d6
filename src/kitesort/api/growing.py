"""Sites made of pixels: grown from one, and painted."""

from typing import Annotated

from fastapi import Query

from kitesort.api.judging_schemas import GrownOut, Painted, PaintIn
from kitesort.api.routes import api_router
from kitesort.api.schemas import Id
from kitesort.api.training import RolesQuery, parse_roles
from kitesort.core.raster.protocol import band_positions
from kitesort.core.training.grow import Measure
from kitesort.store.layers import require_in_study
from kitesort.study.growing import grow_site, paint
from kitesort.study.rasters import open_layer

router = api_router("training")
Number = Annotated[float, Query(allow_inf_nan=False, ge=-1e9, le=1e9)]


@router.get("/studies/{study_id}/grown")
def get_grown_site(
    study_id: Id,
    scene_id: Id,
    x: Number,
    y: Number,
    threshold: Annotated[float, Query(allow_inf_nan=False, ge=0, le=180)],
    measure: Measure = "distance",
    roles: RolesQuery = "",
) -> GrownOut:
    """The pixels around a place (in the study's coordinate system) that are like it and hang
    together: at most 20 000, with a smaller threshold where there are more."""
    require_in_study(study_id, [scene_id])
    wanted = parse_roles(scene_id, roles)
    band_positions(open_layer(scene_id).bands, wanted)
    geometry, found = grow_site(scene_id, wanted, x, y, measure, threshold)
    return GrownOut(
        geometry=geometry,
        n_pixels=found.n_pixels,
        threshold=found.threshold,
        limited=found.is_limited(threshold),
    )


@router.post("/studies/{study_id}/painted")
def paint_pixels(study_id: Id, body: PaintIn) -> Painted:
    """An outline with the pixels at some places added or taken out; nothing is kept."""
    require_in_study(study_id, [body.scene_id])
    return Painted(geometry=paint(body.scene_id, body.geometry, body.places, body.on))
