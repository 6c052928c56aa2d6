"""Files that go, disks and databases that are full: what is sound stays usable, and it is told."""

import errno
import shutil
from pathlib import Path
from typing import Any

import peewee
import psycopg
import pytest
from fastapi.testclient import TestClient

from kitesort.core import storage
from kitesort.core.raster import keeping
from kitesort.core.storage import is_about_space, require_space_to_keep
from kitesort.runs import keep_layer
from kitesort.runs.perform import perform_run
from kitesort.store import deliveries
from kitesort.store.database import db
from kitesort.store.deliveries import Reception
from kitesort.store.files import layer_folder
from kitesort.store.runs import create_run, get_run
from kitesort.study.rasters import _from_recipe, _shown_from_recipe, delivery_of, study_crs
from support.bringing import findings, new_delivery, order_of, send, send_folder, take
from support.deliveries import write_landsat_level_2
from support.small_scene import rectangle
from support.study import SmallStudy


def forget_all() -> None:
    """As after a start of the server."""
    for remembered in (_from_recipe, _shown_from_recipe, study_crs, delivery_of):
        remembered.forget()


def test_a_study_opens_without_the_files_of_its_first_scene(
    client: TestClient, small_study: SmallStudy, tmp_path: Path
) -> None:
    """The scene is named with its reason, and can be removed; all others, sites too, are there."""
    base, first = f"/api/studies/{small_study.id}", small_study.scene_id
    write_landsat_level_2(tmp_path / "a")
    delivery = send_folder(client, small_study.id, tmp_path / "a")
    (other,) = take(client, delivery, order_of(findings(client, delivery)["scenes"][0])).json()
    crs = study_crs(small_study.id)
    shutil.rmtree(small_study.folder)
    forget_all()
    from kitesort.api.scene_out import _fixed_part

    _fixed_part.forget()
    assert [s["id"] for s in client.get(f"{base}/scenes").json()] == [other["id"]]
    (broken,) = client.get(f"{base}/broken-scenes").json()
    assert (broken["id"], broken["title"]) == (first, "June pass")
    assert broken["problem"].endswith(".")
    assert study_crs(small_study.id) == crs
    params = {"scene_id": other["id"]}
    assert len(client.get(f"{base}/sites", params=params).json()) == len(small_study.site_ids)
    for path in ("edits", "layers", "runs", "notes", "classes", "layer-names", "deliveries"):
        assert client.get(f"{base}/{path}").status_code in (200, 404), path
    assert client.delete(f"/api/layers/{first}").status_code == 204
    assert client.get(f"{base}/broken-scenes").json() == []


def test_an_upload_that_fills_the_disk_goes_on_when_there_is_room(
    client: TestClient, small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    delivery, content = new_delivery(client, small_study.id), bytes(range(256)) * 40
    original = Reception.write

    def full(self: Reception, pieces: Any) -> None:
        original(self, [b"".join(pieces)[:4_000]])
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(Reception, "write", full)
    answer = send(client, delivery, "a.bin", content)
    assert answer.status_code == 507 and "The disk is full" in answer.json()["detail"]
    monkeypatch.undo()
    told = client.get(f"/api/deliveries/{delivery}/received", params={"path": "a.bin"}).json()
    assert told["received"] == 4_000
    rest = send(client, delivery, "a.bin", content[4_000:], 4_000, len(content))
    assert rest.json()["whole"]
    path = f"/api/deliveries/{delivery}/received"
    assert client.get(path, params={"path": "a.bin"}).json()["received"] == len(content)


def test_an_upload_for_which_there_is_no_room_is_not_begun(
    client: TestClient, small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    delivery = new_delivery(client, small_study.id)
    usage = shutil.disk_usage("/")._replace(free=storage.MIN_FREE_BYTES + 50)
    monkeypatch.setattr(storage.shutil, "disk_usage", lambda _: usage)
    answer = send(client, delivery, "a.bin", bytes(100))
    assert answer.status_code == 507 and "32 MiB left" in answer.json()["detail"]
    assert deliveries.received_bytes(delivery, "a.bin") == 0


def test_keeping_asks_for_all_that_it_will_need(
    monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    """The working file and the final one, each with overviews, which take a third again."""
    usage = shutil.disk_usage("/")
    free = usage._replace(free=storage.MIN_FREE_BYTES + 8_000)
    monkeypatch.setattr(storage.shutil, "disk_usage", lambda _: free)
    require_space_to_keep(tmp_path, 3_000)
    with pytest.raises(storage.DiskFullError):
        require_space_to_keep(tmp_path, 3_001)


def test_a_run_whose_disk_fills_up_says_so_and_leaves_nothing(
    small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    """As the raster library tells it while it lays out the final file."""
    before = sorted(layer_folder().iterdir())

    def full(*_: Any, **__: Any) -> None:
        raise keeping.rasterio.errors.RasterioIOError("_tiffWriteProc:No space left on device")

    monkeypatch.setattr(keeping.rasterio.shutil, "copy", full)
    task = keep_layer.KeepTask(layer_id=small_study.scene_id).model_dump()
    run = create_run(small_study.id, "Keeping", keep_layer.KIND, task)
    perform_run(run.id)
    assert (get_run(run.id).problem or "").startswith("The disk is full")
    assert sorted(layer_folder().iterdir()) == before


def test_a_full_database_is_called_full(
    client: TestClient, small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    def full(*_: Any, **__: Any) -> None:
        raise peewee.OperationalError("could not extend file") from psycopg.errors.DiskFull(
            'could not extend file "base/1/2": No space left on device'
        )

    body = {"key": "a", "class_id": small_study.class_ids[1], "geometry": rectangle(20, 30, 4, 4)}
    params = {"scene_id": small_study.scene_id}
    monkeypatch.setattr(type(db), "execute_sql", full)
    answer = client.post(f"/api/studies/{small_study.id}/sites", params=params, json=body)
    monkeypatch.undo()
    assert answer.status_code == 507 and "The disk is full" in answer.json()["detail"]
    assert client.post(f"/api/studies/{small_study.id}/sites", params=params, json=body).is_success


@pytest.mark.parametrize(
    ("error", "is_full"),
    [
        (OSError(errno.ENOSPC, "x"), True),
        (OSError(errno.EDQUOT, "x"), True),
        (psycopg.errors.DiskFull("x"), True),
        (RuntimeError("TIFFAppendToStrip: No space left on device"), True),
        (OSError(errno.EACCES, "Permission denied"), False),
        (psycopg.OperationalError("connection refused"), False),
        (ValueError("space"), False),
    ],
)
def test_no_space_is_known_whoever_says_it(error: Exception, is_full: bool) -> None:
    assert is_about_space(error) == is_full
    try:
        raise RuntimeError("something else") from error
    except RuntimeError as outer:
        assert is_about_space(outer) == is_full
