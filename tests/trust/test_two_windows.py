"""Two windows on one study: nobody overwrites, undoes or misses what the other one did."""

from concurrent.futures import ThreadPoolExecutor
from typing import Any

import pytest
from fastapi.testclient import TestClient

from support.news import listening
from support.small_scene import rectangle
from support.study import SmallStudy

ONE, OTHER = {"X-Window": "one"}, {"X-Window": "other"}


@pytest.fixture
def base(small_study: SmallStudy) -> str:
    return f"/api/studies/{small_study.id}"


def draw(client: TestClient, s: SmallStudy, key: str, row: float = 20) -> Any:
    body = {"key": key, "class_id": s.class_ids[1], "geometry": rectangle(row, 30, 4, 4)}
    answer = client.post(
        f"/api/studies/{s.id}/sites", params={"scene_id": s.scene_id}, json=body, headers=ONE
    )
    assert answer.status_code == 201, answer.text
    return answer.json()


def test_undone_in_pairs_each_edit_is_undone_once(
    client: TestClient, small_study: SmallStudy, base: str
) -> None:
    """Both press undo at the same moment for what both see: one is done, the other is told."""
    for i in range(10):
        draw(client, small_study, f"site-{i}", 20 + i)
    n_there = len(client.get(f"{base}/sites", params={"scene_id": small_study.scene_id}).json())
    with ThreadPoolExecutor(2) as windows:
        for round_ in range(1, 6):
            seen = client.get(f"{base}/edits").json()["undo_id"]

            def undo(_: int, seen: int = seen) -> Any:
                return client.post(f"{base}/undo", params={"expected": seen})

            first, second = sorted((a.status_code, a.text) for a in windows.map(undo, range(2)))
            assert (first[0], second[0]) == (200, 409)
            assert "changed in another window" in second[1]
            sites = client.get(f"{base}/sites", params={"scene_id": small_study.scene_id}).json()
            assert len(sites) == n_there - round_, "as many went as were said to"


def test_what_came_between_is_not_undone_unseen(
    client: TestClient, small_study: SmallStudy, base: str
) -> None:
    draw(client, small_study, "mine")
    mine = client.get(f"{base}/edits").json()
    client.delete(f"/api/sites/{small_study.site_ids[2]}", headers=OTHER)
    refused = client.post(f"{base}/undo", params={"expected": mine["undo_id"]})
    assert refused.status_code == 409
    assert refused.json()["type"] == "urn:kitesort:edited-elsewhere"
    assert "next comes “Delete a site”" in refused.json()["detail"]
    now = client.get(f"{base}/edits").json()
    undone = client.post(f"{base}/undo", params={"expected": now["undo_id"]})
    assert undone.json()["undo"] == mine["undo"]
    again = client.post(f"{base}/redo", params={"expected": now["undo_id"] + 1})
    assert again.status_code == 409
    assert client.post(f"{base}/redo", params={"expected": now["undo_id"]}).status_code == 200


def test_a_site_reshaped_from_an_old_look_at_it_is_left_alone(
    client: TestClient, small_study: SmallStudy
) -> None:
    site, params = draw(client, small_study, "site"), {"scene_id": small_study.scene_id}
    address = f"/api/sites/{site['id']}"
    theirs = {"geometry": rectangle(40, 60, 5, 5), "version": site["version"]}
    changed = client.patch(address, params=params, json=theirs, headers=OTHER).json()
    assert changed["version"] != site["version"]
    mine = {"geometry": rectangle(60, 80, 6, 6), "version": site["version"]}
    refused = client.patch(address, params=params, json=mine, headers=ONE)
    assert (refused.status_code, refused.json()["type"]) == (409, "urn:kitesort:edited-elsewhere")
    all_sites = client.get(f"/api/studies/{small_study.id}/sites", params=params).json()
    assert [s for s in all_sites if s["id"] == site["id"]] == [changed]
    wanted = client.patch(address, params=params, json={"geometry": mine["geometry"]})
    assert wanted.json()["n_pixels"] == 36, "said again without what was seen, it is done"


def test_what_is_undone_is_what_was_there(
    client: TestClient, small_study: SmallStudy, base: str
) -> None:
    """A change made on an old look is undone to what the other window had made of it."""
    site, params = draw(client, small_study, "site"), {"scene_id": small_study.scene_id}
    address = f"/api/sites/{site['id']}"
    client.patch(address, params=params, json={"note": "theirs"}, headers=OTHER)
    client.patch(address, params=params, json={"note": "mine"}, headers=ONE)
    client.post(f"{base}/undo")
    notes = {s["id"]: s["note"] for s in client.get(f"{base}/sites", params=params).json()}
    assert notes[site["id"]] == "theirs"


def test_every_edit_is_announced_with_the_window_it_comes_from(
    client: TestClient, small_study: SmallStudy, base: str, database: str
) -> None:
    with listening(database, lambda heard: len(heard) == 3) as heard:
        draw(client, small_study, "site")
        client.post(f"{base}/undo", headers=OTHER)
        client.post(f"{base}/redo")
    assert [(n["kind"], n["act"], n["window"]) for n in heard] == [
        ("edit", "done", "one"), ("edit", "undone", "other"), ("edit", "done again", ""),
    ]  # fmt: skip
    assert {(n["study_id"], n["title"]) for n in heard} == {
        (small_study.id, "Draw a site of Water")
    }
