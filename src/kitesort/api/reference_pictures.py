"""Reference pictures: finer than the scenes, from services that the administrator allowed."""

from fastapi import Request, Response

from kitesort.api.grids import grid_out
from kitesort.api.look_schemas import PictureOut
from kitesort.api.pictures import picture_response
from kitesort.api.routes import api_router
from kitesort.api.scene_tiles import PNG
from kitesort.api.schemas import Id
from kitesort.catalogue.pictures import configured_pictures, problem_of
from kitesort.core.display.tile import read_tile, render_picture
from kitesort.store.studies import get_study
from kitesort.study.pictures import picture_raster

router = api_router("pictures")
ROLES = ("red", "green", "blue")


@router.get("/studies/{study_id}/pictures")
def get_pictures(study_id: Id) -> list[PictureOut]:
    """Those that are offered, each with its date and source: it may be older than a scene."""
    get_study(study_id)
    return [
        PictureOut(
            id=source.id,
            title=source.title,
            source=source.source,
            taken=source.taken,
            grid=grid_out(picture_raster(source.id, study_id).grid),
            problem=problem_of(source.id),
        )
        for source in configured_pictures()
    ]


@router.get(
    "/pictures/{picture_id}/tiles/{level}/{row}/{col}.png",
    response_class=Response,
    responses=PNG,
)
def get_picture_tile(
    request: Request, picture_id: str, level: int, row: int, col: int, study_id: Id
) -> Response:
    raster = picture_raster(picture_id, study_id)

    def make() -> bytes:
        return render_picture(read_tile(raster, level, row, col, ROLES))

    return picture_response(request, f"{raster.fingerprint}|{level}|{row}|{col}", make)
