"""Outlines of boundary files, sent by the browser or lying in a folder that the server may see."""

from typing import Annotated

from fastapi import Query, Request
from starlette.concurrency import run_in_threadpool

from kitesort.api.raw_body import RAW_BODY, read_body
from kitesort.api.routes import api_router
from kitesort.api.scene_schemas import BoundaryFeatureOut, BoundaryOut, FolderEntryOut
from kitesort.api.schemas import Id
from kitesort.core.boundary import MAX_BYTES, read_boundary
from kitesort.core.geometry import area_ha, is_same_crs
from kitesort.core.grid import parse_crs
from kitesort.store import deliveries
from kitesort.study.rasters import study_crs

router = api_router("boundaries")
# All of an address must fit into 64 KiB, at twelve bytes for some letters.
CrsQuery = Annotated[str | None, Query(max_length=1500)]
PathQuery = Annotated[str, Query(max_length=2000)]


@router.post("/studies/{study_id}/boundaries", openapi_extra=RAW_BODY)
async def parse_boundary(
    request: Request,
    study_id: Id,
    name: Annotated[str, Query(max_length=200)],
    crs: CrsQuery = None,
) -> BoundaryOut:
    """The outlines of a boundary file (the body) in the study's CRS; nothing is stored."""
    content = await read_body(request, MAX_BYTES)
    return await run_in_threadpool(_boundary_out, study_id, content, name, crs)


def _boundary_out(study_id: int, content: bytes, name: str, given: str | None) -> BoundaryOut:
    crs = study_crs(study_id)
    found = read_boundary(content, name, crs, given)
    return BoundaryOut(
        crs=found.crs,
        crs_name=parse_crs(found.crs).name,
        reprojected=not is_same_crs(found.crs, crs),
        features=[
            BoundaryFeatureOut(name=f.name, geometry=f.geometry, hectares=area_ha(f.geometry, crs))
            for f in found.features
        ],
    )


@router.get("/folder-boundaries")
def get_folder_boundaries() -> list[FolderEntryOut]:
    """Boundary files in the folders that the server may see."""
    found = deliveries.list_boundaries()
    return [FolderEntryOut.model_validate(e, from_attributes=True) for e in found]


@router.get("/studies/{study_id}/folder-boundary")
def read_folder_boundary(study_id: Id, path: PathQuery, crs: CrsQuery = None) -> BoundaryOut:
    """The outlines of one of them in the study's CRS; nothing is stored."""
    file = deliveries.require_boundary(path)
    with file.open("rb") as handle:
        content = handle.read(MAX_BYTES + 1)
    return _boundary_out(study_id, content, file.name, crs)
