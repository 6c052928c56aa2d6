"""A cloud circled in feature space: its pixels lit, counted, and made into training sites."""

from typing import Annotated

from fastapi import Query, Request, Response

from kitesort.api.look_schemas import CloudClassOut, CloudIn, CloudOut, CloudSitesIn, Member
from kitesort.api.pictures import picture_response
from kitesort.api.plane_order import layer_of, plane_of, region_of
from kitesort.api.routes import api_router
from kitesort.api.scene_tiles import PNG
from kitesort.api.schemas import Id
from kitesort.core.cloud import MAX_TEXT, PATTERN, in_cloud, parse_cloud
from kitesort.core.display.tile import Rgba, render_marks
from kitesort.study import plane
from kitesort.study.cloud import measure_cloud, sites_of_cloud
from kitesort.study.plane import PlaneLayers
from kitesort.study.rasters import require_own

router = api_router("look")
MARK_COLOUR: Rgba = (0, 229, 255, 230)  # of no cover and no composite that is in use


@router.get(
    "/studies/{study_id}/cloud-tiles/{level}/{row}/{col}.png",
    response_class=Response,
    responses=PNG,
)
def get_cloud_tile(
    request: Request,
    study_id: Id,
    level: int,
    row: int,
    col: int,
    x: Member,
    y: Member,
    cloud: Annotated[
        str, Query(max_length=MAX_TEXT, pattern=PATTERN, description="corners: x y, x y, …")
    ],
) -> Response:
    """The pixels that lie in a cloud drawn in feature space, marked."""
    layers = PlaneLayers(*layer_of(x), *layer_of(y))
    require_own(study_id, [layers.x_scene])
    outline, raster = parse_cloud(cloud), layers.raster

    def make() -> bytes:
        block = plane.plane_tile(layers, level, row, col)
        marked = in_cloud(outline, block.values[0], block.values[1]) & block.valid
        return render_marks(marked, MARK_COLOUR)

    return picture_response(request, f"{raster.fingerprint}|{level}|{row}|{col}|{cloud}", make)


@router.post("/studies/{study_id}/feature-space/cloud")
def get_cloud(study_id: Id, body: CloudIn) -> CloudOut:
    """Pixels, hectares and classes of a cloud."""
    found = measure_cloud(plane_of(study_id, body), body.cloud, region_of(body), body.live)
    count = found.count
    n_classified = sum(count.by_code.values())
    return CloudOut(
        n_inside=count.n_inside,
        n_valid=count.n_valid,
        exact=count.exact,
        area_ha=count.area_ha,
        classes=[
            CloudClassOut(
                code=code,
                of_cloud=count.by_code.get(code, 0) / n_classified if n_classified else None,
                of_training=found.of_training.get(code),
            )
            for code in sorted({*count.by_code, *found.of_training})
        ],
    )


@router.post("/studies/{study_id}/feature-space/cloud/sites", status_code=201)
def create_cloud_sites(study_id: Id, body: CloudSitesIn) -> int:
    """Training sites from the largest compact patches of a cloud, as one edit; how many."""
    layers = plane_of(study_id, body)
    return sites_of_cloud(layers, body.cloud, region_of(body), body.class_id)
