"""Scene catalogues: search, look, take."""

from urllib.parse import urlencode

from fastapi import Request, Response

from kitesort.api.routes import api_router
from kitesort.api.runs import run_out
from kitesort.api.scene_schemas import (
    CatalogueOut,
    CatalogueQuery,
    CatalogueTake,
    FoundSceneOut,
)
from kitesort.api.schemas import Id, RunOut
from kitesort.catalogue.addresses import configured_catalogues, is_on_this_machine
from kitesort.catalogue.client import FoundScene, Query, fetch_picture, search
from kitesort.core.errors import BadSettingsError, KiteSortError
from kitesort.core.geometry import reproject_geometry, reproject_shape
from kitesort.core.outline import parse_site
from kitesort.core.recipe import DeliveredLeaf, source_of
from kitesort.runs import take_scene
from kitesort.runs.queue import RunQueue
from kitesort.store.layers import readable_recipe
from kitesort.store.scenes import list_scenes
from kitesort.store.studies import get_study
from kitesort.study.rasters import study_crs

router = api_router("catalogue")

Box = tuple[float, float, float, float]


@router.get("/catalogues")
def get_catalogues() -> list[CatalogueOut]:
    """Catalogues that the administrator allowed; the one on this machine holds made-up scenes."""
    return [
        CatalogueOut(address=address, is_stand_in=is_on_this_machine(address))
        for address in configured_catalogues()
    ]


@router.post("/studies/{study_id}/catalogue-search")
def search_catalogue(study_id: Id, body: CatalogueQuery) -> list[FoundSceneOut]:
    """Scenes of a catalogue that meet the query, newest first."""
    if body.first and body.last and body.first > body.last:
        raise BadSettingsError("The first date must not be later than the last one.")
    crs = _crs_or_none(study_id)
    query = Query(_box(body, crs), body.first, body.last, body.max_cloud_percent)
    recipes = (readable_recipe(scene.id) for scene in list_scenes(study_id))
    sources = (source_of(recipe) for recipe in recipes if recipe)
    here = {one.delivery.name for one in sources if isinstance(one, DeliveredLeaf)}
    return [_found_out(f, crs, f.id in here) for f in search(body.address, query)]


def _box(body: CatalogueQuery, crs: str | None) -> Box | None:
    """West, south, east, north in degrees; None for everywhere."""
    if body.area is not None and crs is not None:
        outline = reproject_shape(parse_site(body.area), crs, "EPSG:4326")
        west, south, east, north = outline.bounds
        return west, south, east, north
    if body.west is None or body.south is None or body.east is None or body.north is None:
        return None
    if body.west >= body.east or body.south >= body.north:
        raise BadSettingsError("West must lie left of east, and south below north.")
    return body.west, body.south, body.east, body.north


def _crs_or_none(study_id: int) -> str | None:
    get_study(study_id)
    try:
        return study_crs(study_id)
    except KiteSortError:
        return None


def _found_out(found: FoundScene, crs: str | None, taken: bool) -> FoundSceneOut:
    footprint = None
    if crs and found.footprint and found.footprint.get("type") in ("Polygon", "MultiPolygon"):
        footprint = reproject_geometry(found.footprint, "EPSG:4326", crs)
    picture = f"/api/catalogue-picture?{urlencode({'url': found.picture})}"
    return FoundSceneOut(
        id=found.id,
        collection=found.collection,
        title=found.title,
        acquired=found.acquired,
        cloud_percent=found.cloud_percent,
        platform=found.platform,
        bands=list(found.bands),
        footprint=footprint,
        picture=picture if found.picture else None,
        taken=taken,
    )


@router.get(
    "/catalogue-picture",
    response_class=Response,
    responses={200: {"content": {"image/png": {}, "image/jpeg": {}}}},
)
def get_catalogue_picture(url: str) -> Response:
    """A quick-look, handed through."""
    content, kind = fetch_picture(url)
    headers = {"Cache-Control": "private, max-age=3600"}
    return Response(content, media_type=kind, headers=headers)


@router.post("/studies/{study_id}/catalogue-takes", status_code=201)
def take_from_catalogue(request: Request, study_id: Id, body: CatalogueTake) -> list[RunOut]:
    """Fetch scenes into the study, one run each: all of them, or none."""
    get_study(study_id)
    queue: RunQueue = request.app.state.queue
    tasks = [
        (
            f"Taking {scene.title}",
            take_scene.TakeTask(
                catalogue=body.address,
                collection=scene.collection,
                item_id=scene.id,
                title=scene.title,
            ),
        )
        for scene in body.scenes
    ]
    return [run_out(run) for run in queue.submit_all(study_id, take_scene.KIND, tasks)]
