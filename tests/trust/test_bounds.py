"""What nobody needs so much of is refused politely, and what nobody needs any more goes."""

import io
import os
import time
import zipfile
from pathlib import Path
from typing import Any

import pytest
import rasterio
from fastapi.testclient import TestClient

from kitesort.api.guard import MOST_BYTES
from kitesort.core.errors import ConflictError
from kitesort.runs import keep_layer
from kitesort.runs.perform import perform_run
from kitesort.runs.queue import RunQueue
from kitesort.store import received
from kitesort.store.files import layer_folder, uploads_folder
from kitesort.store.layers import get_layer, remove_layer
from kitesort.store.runs import MOST_WAITING, create_run, list_runs
from support.bringing import findings, new_delivery, order_of, send, send_folder, take
from support.deliveries import write_landsat_level_2
from support.study import SmallStudy


def told(answer: Any, status: int) -> str:
    assert answer.status_code == status, answer.text
    assert answer.headers["content-type"] == "application/problem+json"
    return str(answer.json()["detail"])


def test_bodies_that_no_form_sends_are_refused_before_they_are_read(
    client: TestClient, small_study: SmallStudy
) -> None:
    view = f"/api/studies/{small_study.id}"
    huge = b'{"view": {"a": "' + b"x" * MOST_BYTES + b'"}}'
    assert "MiB were sent" in told(client.patch(view, content=huge), 413)
    pieces = (huge[i : i + 2**20] for i in range(0, len(huge), 2**20))
    assert "MiB were sent" in told(client.patch(view, content=pieces), 413)
    large = {"view": {"a": "x" * 300_000}}
    assert "far larger" in told(client.patch(view, json=large), 422)
    assert client.patch(view, json={"view": {"a": "x" * 30_000}}).status_code == 200


def test_files_may_be_large(client: TestClient, small_study: SmallStudy) -> None:
    delivery = new_delivery(client, small_study.id)
    content = bytes(MOST_BYTES + 10)
    assert send(client, delivery, "large.bin", content).json()["whole"]


def test_runs_that_wait_are_all_listed_and_bounded(
    client: TestClient, small_study: SmallStudy
) -> None:
    task = keep_layer.KeepTask(layer_id=small_study.scene_id).model_dump()
    for _ in range(MOST_WAITING):
        create_run(small_study.id, "Keeping", keep_layer.KIND, task)
    assert len(client.get(f"/api/studies/{small_study.id}/runs").json()) == MOST_WAITING
    refused = client.post(f"/api/layers/{small_study.scene_id}/keep")
    assert "waiting for their turn already" in told(refused, 409)


def test_uploads_never_finished_are_listed_and_swept_after_a_day(
    client: TestClient, small_study: SmallStudy
) -> None:
    """What has arrived whole stays; so does what is on its way since an hour."""
    delivery, empty = new_delivery(client, small_study.id), new_delivery(client, small_study.id)
    send(client, delivery, "whole.bin", bytes(500))
    send(client, delivery, "on-its-way.bin", bytes(100), 0, 1_000)
    send(client, delivery, "given-up.bin", bytes(100), 0, 1_000)
    unknown = uploads_folder() / "delivery-999999999"
    unknown.mkdir()
    (listed,) = [d for d in kept(client, small_study) if d["id"] == delivery]
    assert (listed["n_files"], listed["n_unfinished"], listed["n_bytes"]) == (1, 2, 700)
    folder = uploads_folder() / f"delivery-{delivery}"
    made_older(folder / ".given-up.bin.part", 25)
    made_older(folder / ".on-its-way.bin.part", 1)
    made_older(unknown, 25)
    assert received.sweep_uploads() == 2
    assert sorted(p.name for p in folder.iterdir()) == [".on-its-way.bin.part", "whole.bin"]
    assert not unknown.exists()
    assert {d["id"] for d in kept(client, small_study)} == {delivery, empty}


def kept(client: TestClient, s: SmallStudy) -> list[dict[str, Any]]:
    answer = client.get(f"/api/studies/{s.id}/deliveries")
    assert answer.status_code == 200
    found: list[dict[str, Any]] = answer.json()
    return found


def made_older(path: Path, hours: float) -> None:
    then = time.time() - hours * 3600
    os.utime(path, (then, then))


def test_a_delivery_goes_with_what_is_made_of_it(
    client: TestClient, small_study: SmallStudy, tmp_path: Path
) -> None:
    write_landsat_level_2(tmp_path / "a")
    delivery = send_folder(client, small_study.id, tmp_path / "a")
    order = order_of(findings(client, delivery)["scenes"][0], title="By Landsat")
    (scene,) = take(client, delivery, order).json()
    made = client.post(
        f"/api/studies/{small_study.id}/corrections",
        json={
            "layer_ids": [scene["id"]],
            "steps": [{"operation": "scale", "settings": {"scale": 2.0}}],
            "title": "Doubled",
        },
    )
    assert made.json()["made"], made.text
    (listed,) = [d for d in kept(client, small_study) if d["id"] == delivery]
    assert [s["title"] for s in listed["scenes"]] == ["By Landsat", "Doubled"]
    address = f"/api/deliveries/{delivery}"
    assert "“By Landsat”, “Doubled” would lose" in told(client.delete(address), 409)
    assert client.delete(address, params={"with_scenes": True}).status_code == 204
    titles = [s["title"] for s in client.get(f"/api/studies/{small_study.id}/scenes").json()]
    assert titles == ["June pass"]
    assert not (uploads_folder() / f"delivery-{delivery}").exists()
    assert told(client.get(f"{address}/findings"), 404)
    assert client.get(f"/api/studies/{small_study.id}/edits").json()["undo"] is None


def test_a_folder_of_the_server_s_is_left_alone(
    client: TestClient, small_study: SmallStudy, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    write_landsat_level_2(tmp_path / "a")
    monkeypatch.setenv("KITESORT_FOLDERS", str(tmp_path))
    body = {"path": str(tmp_path / "a")}
    delivery = client.post(f"/api/studies/{small_study.id}/folder-deliveries", json=body).json()
    assert client.delete(f"/api/deliveries/{delivery['id']}").status_code == 204
    assert len(list((tmp_path / "a").iterdir())) > 5


def test_the_file_of_a_scene_kept_again_or_removed_goes_at_once(
    client: TestClient, small_study: SmallStudy, tmp_path: Path
) -> None:
    def keep(scene_id: int) -> str:
        perform_run(client.post(f"/api/layers/{scene_id}/keep").json()["id"])
        return get_layer(scene_id).kept_path or ""

    before = set(layer_folder().iterdir())
    write_landsat_level_2(tmp_path / "a")
    delivery = send_folder(client, small_study.id, tmp_path / "a")
    (other,) = take(client, delivery, order_of(findings(client, delivery)["scenes"][0])).json()
    first, second = keep(other["id"]), keep(other["id"])
    assert first and second and first != second
    assert {p.name for p in set(layer_folder().iterdir()) - before} == {second}
    with rasterio.open(layer_folder() / second) as kept_file:
        assert str(uploads_folder()) not in str(kept_file.tags())
        assert "recipe" in kept_file.tags()
    remove_layer(other["id"])
    assert set(layer_folder().iterdir()) == before
    client.post(f"/api/studies/{small_study.id}/undo")
    assert get_layer(other["id"]).kept_path is None, "back, and computed when it is asked for"
    tile = client.get(f"/api/scenes/{other['id']}/tiles/0/0/0.png?roles=nir,red,green")
    assert tile.status_code == 200


@pytest.mark.parametrize(
    ("name", "sentence"),
    [
        ("x" * 300, "longer than a disk can keep"),
        ("ñ" * 130, "longer than a disk can keep"),
        ("a/" * 30 + "b", "no plain file name"),
        ("plain.bin/inside.bin", "already as something else"),
        ("folder", "already as something else"),
    ],
)
def test_names_that_no_disk_takes(
    client: TestClient, small_study: SmallStudy, name: str, sentence: str
) -> None:
    delivery = new_delivery(client, small_study.id)
    send(client, delivery, "plain.bin", b"12")
    send(client, delivery, "folder/file.bin", b"12")
    answer = send(client, delivery, name, b"1")
    assert sentence in told(answer, answer.status_code) and answer.status_code in (409, 422)


def test_an_archive_sent_again_takes_its_own_place(
    client: TestClient, small_study: SmallStudy
) -> None:
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w") as archive:
        archive.writestr("inside.txt", "1")
    delivery = new_delivery(client, small_study.id)
    for content in (packed.getvalue(), packed.getvalue(), b"plain now"):
        assert send(client, delivery, "a.zip", content).json()["whole"]
    assert (uploads_folder() / f"delivery-{delivery}" / "a.zip").read_bytes() == b"plain now"


def test_several_runs_are_taken_together_or_not_at_all(
    client: TestClient, small_study: SmallStudy
) -> None:
    """Two do not fit where one would."""
    queue: RunQueue = client.app.state.queue  # type: ignore[attr-defined]
    task = keep_layer.KeepTask(layer_id=small_study.scene_id)
    for _ in range(MOST_WAITING - 1):
        create_run(small_study.id, "Keeping", keep_layer.KIND, task.model_dump())
    with pytest.raises(ConflictError):
        queue.submit_all(small_study.id, keep_layer.KIND, [("One", task), ("Two", task)])
    assert len(list_runs(small_study.id)) == MOST_WAITING - 1
