"""Training sites and the class scheme as files to take away."""

from typing import Any

from fastapi import Response

from kitesort.api.downloads import attachment, file_stem
from kitesort.api.routes import api_router
from kitesort.api.schemas import Id
from kitesort.core.table import Cell, to_csv
from kitesort.core.training.scheme_file import scheme_to_csv, scheme_to_json
from kitesort.core.training.site_file import Format, TakenSite, write_sites
from kitesort.store.layers import require_in_study
from kitesort.store.scheme import list_classes
from kitesort.store.sites import list_sites
from kitesort.store.studies import get_study
from kitesort.study.rasters import study_crs
from kitesort.study.readout import default_roles
from kitesort.study.scheme import taken_classes
from kitesort.study.site_reading import pixel_centres

router = api_router("training")
MEDIA: dict[Format, str] = {
    "gpkg": "application/geopackage+sqlite3",
    "geojson": "application/geo+json",
    "zip": "application/zip",
}
FILES: dict[int | str, dict[str, Any]] = {200: {"content": {m: {} for m in MEDIA.values()}}}
TABLE: dict[int | str, dict[str, Any]] = {200: {"content": {"text/csv": {}}}}
SCHEME: dict[int | str, dict[str, Any]] = {
    200: {"content": {"text/csv": {}, "application/json": {}}}
}


@router.get("/studies/{study_id}/sites.{form}", response_class=Response, responses=FILES)
def download_sites(study_id: Id, form: Format) -> Response:
    """All training sites with their classes, notes and dates."""
    study = get_study(study_id)
    classes = {c.id: c for c in list_classes(study_id)}
    sites = [
        TakenSite(
            code=classes[site.class_id].code,
            class_name=classes[site.class_id].name,
            colour=classes[site.class_id].colour,
            geometry=site.geometry,
            note=site.note,
            true_on=site.true_on,
        )
        for site in list_sites(study_id)
    ]
    name = f"{file_stem(study.name)}-sites.{form}"
    return _file(write_sites(sites, study_crs(study_id), form), MEDIA[form], name)


@router.get("/studies/{study_id}/site-pixels.csv", response_class=Response, responses=TABLE)
def download_site_pixels(study_id: Id, scene_id: Id) -> Response:
    """Every usable training pixel of a scene as a point, in the study's coordinate system."""
    study = get_study(study_id)
    require_in_study(study_id, [scene_id])
    classes, roles = {c.id: c for c in list_classes(study_id)}, default_roles(scene_id)
    rows: list[list[Cell]] = [["x", "y", "code", "class", "colour", "site", "note", "true_on"]]
    for site in list_sites(study_id):
        c = classes[site.class_id]
        said: list[Cell] = [c.code, c.name, c.colour, site.id, site.note, str(site.true_on or "")]
        rows += [[x, y, *said] for x, y in pixel_centres(scene_id, roles, site.geometry)]
    name = f"{file_stem(study.name)}-site-pixels.csv"
    return _file(to_csv(rows).encode(), "text/csv; charset=utf-8", name)


@router.get("/studies/{study_id}/classes.json", response_class=Response, responses=SCHEME)
def download_scheme(study_id: Id) -> Response:
    """The class scheme in the words of the STAC classification extension."""
    study = get_study(study_id)
    content = scheme_to_json(taken_classes(study_id))
    return _file(content, "application/json", f"{file_stem(study.name)}-classes.json")


@router.get("/studies/{study_id}/classes.csv", response_class=Response, responses=SCHEME)
def download_scheme_table(study_id: Id) -> Response:
    """The class scheme as a table."""
    study = get_study(study_id)
    name = f"{file_stem(study.name)}-classes.csv"
    return _file(scheme_to_csv(taken_classes(study_id)), "text/csv; charset=utf-8", name)


def _file(content: bytes, media_type: str, name: str) -> Response:
    headers = {"Content-Disposition": attachment(name)}
    return Response(content, media_type=media_type, headers=headers)
