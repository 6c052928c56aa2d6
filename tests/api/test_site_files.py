"""Training sites and the class scheme as files, read again by pyogrio, shapely and csv."""

import csv
import io
import json
from datetime import date
from pathlib import Path

import numpy as np
import pyogrio
import pytest
import shapely
from fastapi.testclient import TestClient
from pyproj import Transformer
from shapely.geometry import shape

from kitesort.store import scheme
from kitesort.store.sites import create_sites, list_sites, update_site
from support.small_scene import BOW_TIE, COLOURS, NAMES
from support.study import SmallStudy


@pytest.fixture
def told(small_study: SmallStudy) -> SmallStudy:
    """With a note, a date, letters of all kinds, and an outline that crosses itself."""
    update_site(small_study.site_ids[1], {"note": "Ebbe, „tief“", "true_on": date(2024, 6, 1)})
    create_sites(small_study.id, [(small_study.class_ids[2], BOW_TIE, "=1+1")])
    return small_study


def test_geopackage(client: TestClient, told: SmallStudy, tmp_path: Path) -> None:
    answer = client.get(f"/api/studies/{told.id}/sites.gpkg")
    assert answer.headers["content-disposition"].endswith('-sites.gpkg"')
    path = tmp_path / "sites.gpkg"
    path.write_bytes(answer.content)
    meta, _, geometry, fields = pyogrio.raw.read(path)
    found = dict(zip(meta["fields"], fields, strict=True))
    sites = list_sites(told.id)
    assert meta["crs"] == "EPSG:32625" and len(geometry) == len(sites)
    assert [*found["code"]] == [1, 2, 3, 4, 2] and found["class"][0] == NAMES[1]
    assert found["colour"][0] == COLOURS[1]
    assert found["note"][0] == "Ebbe, „tief“" and found["note"][-1] == "=1+1"
    assert found["true_on"][0] == np.datetime64("2024-06-01") and np.isnat(found["true_on"][1])
    for wkb, site in zip(geometry, sites, strict=True):
        assert shapely.equals_exact(shapely.from_wkb(wkb), shape(site.geometry), 1e-9)


def test_geojson_is_in_degrees(client: TestClient, told: SmallStudy) -> None:
    found = client.get(f"/api/studies/{told.id}/sites.geojson").json()
    sites = list_sites(told.id)
    assert len(found["features"]) == len(sites)
    first = found["features"][0]
    assert first["properties"] == {
        "code": 1, "class": NAMES[1], "colour": COLOURS[1], "note": "Ebbe, „tief“",
        "true_on": "2024-06-01",
    }  # fmt: skip
    assert shapely.is_ccw(shape(first["geometry"]).exterior)
    back = Transformer.from_crs("EPSG:4326", "EPSG:32625", always_xy=True)
    there = shapely.transform(shape(first["geometry"]), back.transform, interleaved=False)
    assert shapely.hausdorff_distance(there, shape(sites[0].geometry)) < 0.001


def test_scheme(client: TestClient, told: SmallStudy) -> None:
    base = f"/api/studies/{told.id}"
    classes = client.get(f"{base}/classes.json").json()["classification:classes"]
    assert [(c["value"], c["name"]) for c in classes] == [(0, "No data"), *NAMES.items()]
    head, *rows = csv.reader(io.StringIO(client.get(f"{base}/classes.csv").text))
    assert head == ["code", "name", "colour", "description", "parent"]
    assert [row[1] for row in rows] == list(NAMES.values())


def test_a_study_without_sites(client: TestClient, small_study: SmallStudy, tmp_path: Path) -> None:
    for site_id in small_study.site_ids.values():
        client.delete(f"/api/sites/{site_id}")
    base = f"/api/studies/{small_study.id}"
    assert client.get(f"{base}/sites.geojson").json()["features"] == []
    path = tmp_path / "none.gpkg"
    path.write_bytes(client.get(f"{base}/sites.gpkg").content)
    assert pyogrio.read_info(path)["features"] == 0
    for c in scheme.list_classes(small_study.id):
        client.delete(f"/api/classes/{c.id}")
    assert len(json.loads(client.get(f"{base}/classes.json").text)["classification:classes"]) == 1
    for wrong in (f"{base}/sites.shp", "/api/studies/999999/sites.gpkg", f"{base}/classes.xml"):
        assert client.get(wrong).status_code in (404, 422)
