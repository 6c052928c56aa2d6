"""Training sites and the class scheme as files to take away."""

import json
from typing import Any

from fastapi import APIRouter, Response

from kitesort.api.downloads import attachment, file_stem
from kitesort.api.schemas import Id
from kitesort.core.legend import LegendEntry
from kitesort.core.raster.class_file import classification_metadata
from kitesort.core.table import Cell, to_csv
from kitesort.core.training.site_file import Format, TakenSite, write_sites
from kitesort.store.scheme import list_classes
from kitesort.store.sites import list_sites
from kitesort.store.studies import get_study
from kitesort.study.rasters import study_crs

router = APIRouter(tags=["training"])
MEDIA: dict[Format, str] = {
    "gpkg": "application/geopackage+sqlite3",
    "geojson": "application/geo+json",
}
FILES: dict[int | str, dict[str, Any]] = {200: {"content": {m: {} for m in MEDIA.values()}}}
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


@router.get("/studies/{study_id}/classes.json", response_class=Response, responses=SCHEME)
def download_scheme(study_id: Id) -> Response:
    """The class scheme in the words of the STAC classification extension."""
    study = get_study(study_id)
    entries = tuple(LegendEntry(c.code, c.name, c.colour) for c in list_classes(study_id))
    told = {"classification:classes": json.loads(classification_metadata(entries))}
    content = json.dumps(told, indent=1, ensure_ascii=False).encode()
    return _file(content, "application/json", f"{file_stem(study.name)}-classes.json")


@router.get("/studies/{study_id}/classes.csv", response_class=Response, responses=SCHEME)
def download_scheme_table(study_id: Id) -> Response:
    """The class scheme as a table."""
    study = get_study(study_id)
    rows: list[list[Cell]] = [["code", "name", "colour", "description"]]
    rows += [[c.code, c.name, c.colour, c.description] for c in list_classes(study_id)]
    name = f"{file_stem(study.name)}-classes.csv"
    return _file(to_csv(rows).encode(), "text/csv; charset=utf-8", name)


def _file(content: bytes, media_type: str, name: str) -> Response:
    headers = {"Content-Disposition": attachment(name)}
    return Response(content, media_type=media_type, headers=headers)
