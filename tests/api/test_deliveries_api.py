"""Bring in over the web: pieces, broken connections, archives, folders, and what is taken."""

import hashlib
import io
import zipfile
from pathlib import Path

import numpy as np
import pytest
from fastapi.testclient import TestClient

from kitesort.core.delivery import archive
from kitesort.store.files import data_folder, uploads_folder
from support.bringing import findings, new_delivery, order_of, send, send_folder, take
from support.deliveries import (
    LANDSAT_STEM,
    numbers,
    write_landsat_level_2,
    write_raster,
    write_sentinel_2a,
)
from support.study import SmallStudy


def scenes_of(client: TestClient, study_id: int) -> list[str]:
    return [s["title"] for s in client.get(f"/api/studies/{study_id}/scenes").json()]


def test_a_scene_from_files_to_the_study(
    client: TestClient, small_study: SmallStudy, tmp_path: Path
) -> None:
    write_landsat_level_2(tmp_path / "a" / "b")
    delivery = send_folder(client, small_study.id, tmp_path / "a")
    found = findings(client, delivery)
    assert found["problems"] == [] and len(found["scenes"]) == 1
    proposal = found["scenes"][0]
    assert proposal["sensor"] == "Landsat 9, level 2" and proposal["questions"] == []
    assert len(found["files"]) == 10
    for file in found["files"]:
        told = client.get(f"/api/deliveries/{delivery}/received", params={"path": file["path"]})
        digest = hashlib.sha256((tmp_path / "a" / file["path"]).read_bytes()).hexdigest()
        assert told.json() == {"received": file["size"], "whole": True, "sha256": digest}
    answer = take(client, delivery, order_of(proposal, title="June by Landsat"))
    assert answer.status_code == 201
    (scene,) = answer.json()
    assert (scene["title"], scene["quantity"]) == ("June by Landsat", "reflectance")
    assert scene["flags"] == ["fill", "dilated_cloud", "cirrus", "cloud", "cloud_shadow", "snow",
                              "water"]  # fmt: skip
    assert scene["grid"]["crs"] == "EPSG:32632"
    assert scene["display"]["crs"] == "EPSG:32625", "shown in the study's coordinate system"
    tile = client.get(f"/api/scenes/{scene['id']}/tiles/0/0/0.png?roles=nir,red,green")
    assert tile.status_code == 200
    ranges = client.get(f"/api/deliveries/{delivery}/ranges?position=0").json()
    assert ranges["bands"][0]["low"] == 10_200 and "10 000" in ranges["looks_like"]


def test_pieces_and_a_broken_connection(client: TestClient, small_study: SmallStudy) -> None:
    delivery = new_delivery(client, small_study.id)
    content = np.random.default_rng(0).bytes(100_000)
    first = send(client, delivery, "x/y.bin", content[:40_000], 0, len(content))
    assert first.json() == {"received": 40_000, "whole": False, "sha256": None}
    # The next piece breaks off; the server is asked how far it got, and sending goes on there.
    send(client, delivery, "x/y.bin", content[40_000:55_000], 40_000, len(content))
    received = client.get(f"/api/deliveries/{delivery}/received", params={"path": "x/y.bin"})
    assert received.json() == {"received": 55_000, "whole": False, "sha256": None}
    again = send(client, delivery, "x/y.bin", content[50_000:], 50_000, len(content))
    assert again.json() == {"received": 100_000, "whole": True, "sha256": None}
    whole = client.get(f"/api/deliveries/{delivery}/received", params={"path": "x/y.bin"}).json()
    assert whole["sha256"] == hashlib.sha256(content).hexdigest()
    path = uploads_folder() / f"delivery-{delivery}" / "x" / "y.bin"
    assert path.read_bytes() == content
    assert [p.name for p in path.parent.iterdir()] == ["y.bin"]


def test_pieces_that_do_not_fit(client: TestClient, small_study: SmallStudy) -> None:
    delivery = new_delivery(client, small_study.id)
    ahead = send(client, delivery, "a.bin", b"123", 5, 8)
    assert ahead.status_code == 409 and "Only 0 bytes" in ahead.json()["detail"]
    more = send(client, delivery, "a.bin", b"12345", 0, 3)
    assert more.status_code == 422 and "More was sent" in more.json()["detail"]
    full = send(client, delivery, "b.bin", b"1", 0, 10**18)
    assert full.status_code == 507 and "disk is full" in full.json()["detail"]


@pytest.mark.parametrize("path", ["../x.tif", "/etc/x.tif", "a/../../x.tif", ".x.tif"])
def test_nothing_is_written_outside_the_delivery(
    client: TestClient, small_study: SmallStudy, path: str
) -> None:
    delivery = new_delivery(client, small_study.id)
    before = {p for p in data_folder().rglob("*") if "postgres" not in str(p)}
    answer = send(client, delivery, path, b"x")
    assert answer.status_code == 422 and "no plain file name" in answer.json()["detail"]
    assert {p for p in data_folder().rglob("*") if "postgres" not in str(p)} == before


def test_a_zip_with_bands_several_folders_down(
    client: TestClient, small_study: SmallStudy, tmp_path: Path
) -> None:
    metadata = write_sentinel_2a(tmp_path)
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as packed:
        for path in metadata.parent.rglob("*"):
            packed.write(path, path.relative_to(tmp_path))
    delivery = new_delivery(client, small_study.id)
    assert send(client, delivery, "product.zip", buffer.getvalue()).status_code == 200
    proposal = findings(client, delivery)["scenes"][0]
    assert proposal["sensor"] == "Sentinel-2A, level 2A"
    order = order_of(proposal, grid="coarsest", resampling="average")
    (scene,) = take(client, delivery, order).json()
    assert scene["grid"]["pixel_size"] == 60


def test_every_archive_has_a_folder_of_its_own(client: TestClient, small_study: SmallStudy) -> None:
    delivery = new_delivery(client, small_study.id)
    for year in ("2020", "2021", "2020"):
        buffer = io.BytesIO()
        with zipfile.ZipFile(buffer, "w") as packed:
            packed.writestr("x.txt", f"of {year}, again and again")
        assert send(client, delivery, f"scene.{year}.zip", buffer.getvalue()).status_code == 200
    folder = uploads_folder() / f"delivery-{delivery}"
    inside = {p.relative_to(folder).as_posix(): p.read_text() for p in folder.rglob("*.txt")}
    assert inside == {
        f"scene.{year}.zip/x.txt": f"of {year}, again and again" for year in ("2020", "2021")
    }


def test_what_an_archive_tells_of_its_own_size_is_enough(
    client: TestClient, small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Nothing is unpacked first: copying would fail here."""
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr("x.tif", bytes(120 * 2**20))
    monkeypatch.setattr(archive, "_copy", None)
    delivery = new_delivery(client, small_study.id)
    answer = send(client, delivery, "bomb.zip", buffer.getvalue())
    assert answer.status_code == 422 and "bomb.zip grows to far more" in answer.json()["detail"]


def test_a_zip_that_reaches_out(client: TestClient, small_study: SmallStudy) -> None:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as packed:
        packed.writestr("../../evil.tif", b"x")
    delivery = new_delivery(client, small_study.id)
    answer = send(client, delivery, "x.zip", buffer.getvalue())
    assert answer.status_code == 422 and "leads out of the delivery" in answer.json()["detail"]
    assert list((uploads_folder() / f"delivery-{delivery}").iterdir()) == []


def test_what_is_asked_must_be_answered(
    client: TestClient, small_study: SmallStudy, tmp_path: Path
) -> None:
    for i in range(3):
        write_raster(tmp_path / "d" / f"x_{i}.tif", numbers(100 * (i + 1), 20), 10, crs=None)
    delivery = send_folder(client, small_study.id, tmp_path / "d")
    (proposal,) = findings(client, delivery)["scenes"]
    assert len(proposal["questions"]) == 3
    unanswered = take(client, delivery, order_of(proposal))
    assert unanswered.status_code == 422 and "what these bands see" in unanswered.json()["detail"]
    order = order_of(proposal, acquired="2023-07-01", fill_value=0)
    for band, role in zip(order["bands"], ("blue", "red", "nir"), strict=True):
        band["role"] = role
    without_crs = take(client, delivery, order)
    assert "no coordinate system" in without_crs.json()["detail"]
    wrong = take(client, delivery, order | {"crs": "EPSG:1"})
    assert wrong.status_code == 422
    twice = [{**b, "role": "red"} for b in order["bands"]]
    assert "red is given twice" in take(
        client, delivery, order | {"crs": "EPSG:32632", "bands": twice}
    ).json()["detail"]  # fmt: skip
    assert scenes_of(client, small_study.id) == ["June pass"], "nothing was taken so far"
    order["bands"].reverse()
    (scene,) = take(client, delivery, order | {"crs": "EPSG:32632"}).json()
    assert [b["role"] for b in scene["bands"]] == ["nir", "red", "blue"], "in the order given"
    assert scene["quantity"] == "numbers"


def test_taking_several_is_all_or_nothing(
    client: TestClient, small_study: SmallStudy, tmp_path: Path
) -> None:
    write_landsat_level_2(tmp_path / "d" / "one")
    write_sentinel_2a(tmp_path / "d" / "two")
    delivery = send_folder(client, small_study.id, tmp_path / "d")
    one, two = findings(client, delivery)["scenes"]
    clash = take(client, delivery, order_of(one), order_of(two, title="June pass"))
    assert clash.status_code == 409
    assert scenes_of(client, small_study.id) == ["June pass"]
    assert take(client, delivery, order_of(one), order_of(two)).status_code == 201
    assert len(scenes_of(client, small_study.id)) == 3


def test_a_scene_that_cannot_be_told_of_is_not_taken(
    client: TestClient, small_study: SmallStudy, tmp_path: Path
) -> None:
    """One of the Moon has no place in a study on Earth, and must not spoil its list."""
    write_raster(tmp_path / "d" / "x_red.tif", numbers(100, 20), 10, crs=None)
    delivery = send_folder(client, small_study.id, tmp_path / "d")
    (proposal,) = findings(client, delivery)["scenes"]
    wish = order_of(proposal, acquired="2023-07-01", fill_value=0)
    answer = take(client, delivery, wish | {"crs": "IAU_2015:30100"})
    assert answer.status_code == 422 and "There is no way from" in answer.json()["detail"]
    assert scenes_of(client, small_study.id) == ["June pass"]
    assert take(client, delivery, wish | {"crs": "EPSG:32625"}).status_code == 201


class TestFolders:
    @pytest.fixture(autouse=True)
    def allowed(self, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
        (tmp_path / "open").mkdir()
        (tmp_path / "closed").mkdir()
        monkeypatch.setenv("KITESORT_FOLDERS", str(tmp_path / "open"))

    def test_a_folder_is_taken_where_it_lies(
        self, client: TestClient, small_study: SmallStudy, tmp_path: Path
    ) -> None:
        write_landsat_level_2(tmp_path / "open" / "scene")
        before = {p: p.stat().st_mtime_ns for p in tmp_path.rglob("*")}
        (root,) = client.get("/api/folders").json()
        (entry,) = client.get("/api/folders", params={"path": root["path"]}).json()
        assert (entry["name"], entry["is_folder"]) == ("scene", True)
        answer = client.post(
            f"/api/studies/{small_study.id}/folder-deliveries", json={"path": entry["path"]}
        )
        delivery = answer.json()["id"]
        (proposal,) = findings(client, delivery)["scenes"]
        assert take(client, delivery, order_of(proposal)).status_code == 201
        assert {p: p.stat().st_mtime_ns for p in tmp_path.rglob("*")} == before, "left alone"
        assert send(client, delivery, "x.txt", b"x").status_code == 409

    @pytest.mark.parametrize("path", ["closed", "open/../closed", "nowhere", "open/link"])
    def test_no_other_folder_is_seen(
        self, client: TestClient, small_study: SmallStudy, tmp_path: Path, path: str
    ) -> None:
        (tmp_path / "open" / "link").symlink_to(tmp_path / "closed")
        for answer in (
            client.get("/api/folders", params={"path": str(tmp_path / path)}),
            client.post(f"/api/studies/{small_study.id}/folder-deliveries",
                        json={"path": str(tmp_path / path)}),
        ):  # fmt: skip
            assert answer.status_code == 404
            assert "among those that the server may see" in answer.json()["detail"]


def test_a_study_can_begin_with_nothing(client: TestClient, store: str, tmp_path: Path) -> None:
    assert store
    study = client.post("/api/studies", json={"name": "New study"}).json()
    assert client.post("/api/studies", json={"name": "New study"}).status_code == 409
    assert client.get(f"/api/studies/{study['id']}/scenes").json() == []
    write_landsat_level_2(tmp_path)
    delivery = send_folder(client, study["id"], tmp_path)
    (proposal,) = findings(client, delivery)["scenes"]
    (scene,) = take(client, delivery, order_of(proposal)).json()
    assert scene["title"] == LANDSAT_STEM and scene["display"]["crs"] == "EPSG:32632"
