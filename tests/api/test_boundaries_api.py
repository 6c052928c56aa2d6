"""Boundary files that lie where the server may look."""

import json
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from kitesort.core.boundary import MAX_BYTES
from support.small_scene import rectangle
from support.study import SmallStudy

# A square of some hundred metres beside the small scene's ground, in degrees (RFC 7946).
DEGREES = {
    "type": "Polygon",
    "coordinates": [
        [[-33.0, 52.0], [-32.99, 52.0], [-32.99, 52.01], [-33.0, 52.01], [-33.0, 52.0]]
    ],
}


@pytest.fixture
def allowed(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    folder = tmp_path / "allowed"
    (folder / "maps" / "deep" / "deeper" / "deepest").mkdir(parents=True)
    monkeypatch.setenv("KITESORT_FOLDERS", str(folder))
    return folder


def ask(client: TestClient, s: SmallStudy, path: Path) -> Any:
    address = f"/api/studies/{s.id}/folder-boundary"
    return client.get(address, params={"path": str(path)})


def test_those_near_the_top_are_listed(client: TestClient, allowed: Path) -> None:
    for name in ("a.geojson", "maps/b.GPKG", "maps/deep/deeper/deepest/c.geojson", ".d.geojson",
                 "scene.tif", "maps/sites.json"):  # fmt: skip
        (allowed / name).write_text("{}")
    (allowed / "link.geojson").symlink_to("/etc/hostname")
    listed = client.get("/api/folder-boundaries").json()
    assert [entry["name"] for entry in listed] == ["a.geojson", "b.GPKG"]


def test_one_is_read_and_brought_into_the_studys_crs(
    client: TestClient, small_study: SmallStudy, allowed: Path
) -> None:
    path = allowed / "a.geojson"
    path.write_text(json.dumps(DEGREES))
    answer = ask(client, small_study, path)
    assert answer.status_code == 200, answer.text
    boundary = answer.json()
    assert boundary["reprojected"] and boundary["crs"] == "EPSG:4326"
    # A hundredth of a degree at 52 degrees north: 1113 m by 686 m on the ellipsoid.
    assert boundary["features"][0]["hectares"] == pytest.approx(76.4, rel=0.01)


def test_what_is_none_or_lies_elsewhere_is_refused(
    client: TestClient, small_study: SmallStudy, allowed: Path, tmp_path: Path
) -> None:
    outside = tmp_path / "outside.geojson"
    outside.write_text(json.dumps(rectangle(20, 30, 4, 4)))
    (allowed / "scene.tif").write_text("no boundary")
    (allowed / "broken.geojson").write_text("{")
    (allowed / "huge.geojson").write_bytes(b" " * (MAX_BYTES + 2))
    (allowed / "folder.geojson").mkdir()
    for path, status, words in (
        (outside, 404, "no such folder"),
        (allowed / "gone.geojson", 404, "no such folder"),
        (allowed / "scene.tif", 422, "no boundary file"),
        (allowed / "folder.geojson", 422, "no boundary file"),
        (allowed / "broken.geojson", 422, "cannot be read"),
        (allowed / "huge.geojson", 422, "too large"),
    ):
        answer = ask(client, small_study, path)
        assert answer.status_code == status, path
        assert words in answer.json()["detail"], path
