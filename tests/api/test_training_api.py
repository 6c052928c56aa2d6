import io
import json
from concurrent.futures import ThreadPoolExecutor
from datetime import date
from pathlib import Path
from typing import Any
from uuid import uuid4

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from kitesort.core.delivery import read_delivery
from kitesort.runs.perform import perform_run
from kitesort.store.layers import get_layer
from kitesort.store.runs import create_run
from kitesort.store.scenes import add_scene
from kitesort.store.sites import list_sites
from kitesort.study import site_reading
from support.small_scene import BOW_TIE, COLOURS, rectangle, write_small_scene
from support.study import SmallStudy, make_small_study, map_order


@pytest.fixture
def base(small_study: SmallStudy) -> str:
    return f"/api/studies/{small_study.id}"


def draw(client: TestClient, s: SmallStudy, geometry: Any, code: int = 1) -> Any:
    return client.post(
        f"/api/studies/{s.id}/sites",
        params={"scene_id": s.scene_id},
        json={"key": uuid4().hex, "class_id": s.class_ids[code], "geometry": geometry},
    )


def training(client: TestClient, s: SmallStudy) -> Any:
    response = client.get(f"/api/studies/{s.id}/training", params={"scene_id": s.scene_id})
    assert response.status_code == 200
    return response.json()


def test_a_drawn_site_is_counted_at_once(client: TestClient, small_study: SmallStudy) -> None:
    response = draw(client, small_study, rectangle(2, 20, 5, 6))
    assert response.status_code == 201
    assert (response.json()["n_pixels"], response.json()["n_covered"]) == (30, 30)
    state = training(client, small_study)
    (water,) = [c for c in state["classes"] if c["code"] == 1]
    assert (water["n_sites"], water["n_pixels"]) == (2, 210)


@pytest.mark.parametrize(
    ("geometry", "words"),
    [
        (BOW_TIE, "crosses itself"),
        (rectangle(20, 900, 5, 5), "outside the scene"),
        (rectangle(20, 0, 4, 3), "no usable pixel"),
        (rectangle(2, 104, 4, 6), "cloud"),
        (rectangle(20.6, 30.6, 0.3, 0.3), "centre of no pixel"),
    ],
)
def test_a_site_that_cannot_be_used_is_kept_and_says_why(
    client: TestClient, small_study: SmallStudy, geometry: Any, words: str
) -> None:
    before = training(client, small_study)
    made = draw(client, small_study, geometry)
    assert made.status_code == 201
    assert words in made.json()["problem"]
    listed = client.get(
        f"/api/studies/{small_study.id}/sites", params={"scene_id": small_study.scene_id}
    ).json()
    assert listed[-1]["geometry"] == geometry
    after = training(client, small_study)
    assert after["problem"] is None
    assert [c["n_pixels"] for c in after["classes"]] == [c["n_pixels"] for c in before["classes"]]


@pytest.mark.parametrize(
    "geometry",
    [
        {"type": "Point", "coordinates": [1, 2]},
        {"type": "Polygon"},
        {"type": "Polygon", "coordinates": [[[0, 0], [1, 1], [0, 0]]]},
        {"type": "Polygon", "coordinates": [[[0, 0], [1e999, 1], [2, 0], [0, 0]]]},
    ],
)
def test_what_is_no_outline_is_refused(
    client: TestClient, small_study: SmallStudy, geometry: Any
) -> None:
    response = client.post(
        f"/api/studies/{small_study.id}/sites?scene_id={small_study.scene_id}",
        content=json.dumps(
            {"key": "x", "class_id": small_study.class_ids[1], "geometry": geometry}
        ),
        headers={"content-type": "application/json"},
    )
    assert response.status_code == 422
    assert response.json()["detail"].endswith(".")


def test_site_moves_to_another_class_and_is_reshaped(
    client: TestClient, small_study: SmallStudy
) -> None:
    address = f"/api/sites/{small_study.site_ids[1]}"
    params = {"scene_id": small_study.scene_id}
    moved = client.patch(address, params=params, json={"class_id": small_study.class_ids[2]})
    assert moved.json()["class_id"] == small_study.class_ids[2]
    shaped = client.patch(address, params=params, json={"geometry": rectangle(60, 80, 4, 4)})
    assert shaped.json()["n_pixels"] == 16


def test_undo_and_redo_say_what_they_do(
    client: TestClient, small_study: SmallStudy, base: str
) -> None:
    def words(answer: Any) -> tuple[str | None, str | None]:
        return answer.json()["undo"], answer.json()["redo"]

    assert words(client.get(f"{base}/edits")) == (None, None)
    client.delete(f"/api/sites/{small_study.site_ids[1]}")
    assert words(client.get(f"{base}/edits")) == ("Delete a site", None)
    assert words(client.post(f"{base}/undo")) == (None, "Delete a site")
    assert training(client, small_study)["classes"][0]["n_sites"] == 1
    assert words(client.post(f"{base}/redo")) == ("Delete a site", None)
    assert training(client, small_study)["classes"][0]["n_sites"] == 0
    nothing = client.post(f"{base}/redo")
    assert (nothing.status_code, nothing.json()["detail"]) == (409, "There is nothing to redo.")


def test_class_scheme_is_edited(client: TestClient, small_study: SmallStudy, base: str) -> None:
    made = client.post(f"{base}/classes", json={"name": "Reed", "description": "Tall"}).json()
    assert made["code"] == 5
    changed = client.patch(f"/api/classes/{made['id']}", json={"colour": "#abcdef"})
    assert changed.json()["colour"] == "#abcdef"
    double = client.post(f"{base}/classes", json={"name": "reed"})
    assert double.status_code == 409
    assert "Choose another name" in double.json()["detail"]
    assert client.delete(f"/api/classes/{made['id']}").status_code == 204
    assert len(client.get(f"{base}/classes").json()) == len(small_study.class_ids)


@pytest.mark.parametrize(
    "body", [{}, {"name": ""}, {"name": "x" * 81}, {"name": "x", "surprise": 1}, {"name": None}]
)
def test_class_bodies_are_strict(client: TestClient, base: str, body: dict[str, Any]) -> None:
    response = client.post(f"{base}/classes", json=body)
    assert response.status_code == 422
    assert response.json()["detail"]


def test_live_tile_shows_the_map_as_it_stands(client: TestClient, small_study: SmallStudy) -> None:
    version = training(client, small_study)["version"]
    address = f"/api/studies/{small_study.id}/live/{version}/0/0/0.png"
    response = client.get(address, params={"scene_id": small_study.scene_id})
    pixels = np.asarray(Image.open(io.BytesIO(response.content)).convert("RGBA"))
    for code, (row, column) in {1: (20, 30), 2: (30, 90), 3: (70, 30), 4: (70, 90)}.items():
        red, green, blue, alpha = pixels[row, column]
        assert f"#{red:02x}{green:02x}{blue:02x}" == COLOURS[code]
        assert alpha == 255
    assert pixels[5, 110, 3] == 0, "nothing is said about what lies under a cloud"
    assert "immutable" in response.headers["cache-control"]


def test_live_tile_of_an_older_version_is_not_the_newer_map(
    client: TestClient, small_study: SmallStudy
) -> None:
    address = f"/api/studies/{small_study.id}/live/0123456789abcdef/0/0/0.png"
    response = client.get(address, params={"scene_id": small_study.scene_id})
    assert response.status_code == 404
    assert "changed since" in response.json()["detail"]


def test_training_tells_the_usual_minimum_and_hard_pairs(
    client: TestClient, small_study: SmallStudy
) -> None:
    state = training(client, small_study)
    assert state["usual_minimum"] == 10 * len(state["roles"])
    values = [pair["jeffries_matusita"] for pair in state["pairs"]]
    assert values == sorted(values)
    assert len(state["classes"][0]["mean"]) == len(state["roles"])


def test_a_site_sent_again_is_stored_once(client: TestClient, small_study: SmallStudy) -> None:
    """The answer was lost; the browser asks again under the same key, at once and later."""
    address = f"/api/studies/{small_study.id}/sites"
    body = {"key": "unsaved:1", "class_id": small_study.class_ids[1],
            "geometry": rectangle(10, 10, 5, 5)}  # fmt: skip
    params = {"scene_id": small_study.scene_id}
    with ThreadPoolExecutor(4) as pool:
        answers = list(pool.map(lambda _: client.post(address, params=params, json=body), range(4)))
    assert {answer.status_code for answer in answers} == {201}
    assert len({answer.json()["id"] for answer in answers}) == 1
    assert len(client.get(address, params=params).json()) == 5
    edits = f"/api/studies/{small_study.id}/undo"
    assert client.post(edits).status_code == 200
    assert len(client.get(address, params=params).json()) == 4, "one edit, undone at once"


@pytest.mark.parametrize("what", ["scene", "class", "strange scene"])
def test_a_site_that_cannot_be_answered_is_not_stored(
    client: TestClient, small_study: SmallStudy, tmp_path: Path, what: str
) -> None:
    other = make_small_study(tmp_path / "other", write_small_scene(tmp_path / "scene"), "Other")
    scene = {"scene": 10**6, "strange scene": other.scene_id}.get(what, small_study.scene_id)
    of_class = other.class_ids[1] if what == "class" else small_study.class_ids[1]
    answer = client.post(
        f"/api/studies/{small_study.id}/sites",
        params={"scene_id": scene},
        json={"key": "k", "class_id": of_class, "geometry": rectangle(10, 10, 5, 5)},
    )
    assert answer.status_code == (404 if what == "scene" else 422)
    assert len(list_sites(small_study.id)) == 4
    moved = client.patch(
        f"/api/sites/{small_study.site_ids[1]}",
        params={"scene_id": small_study.scene_id},
        json={"class_id": other.class_ids[1]},
    )
    assert moved.status_code == 422 and "another study" in moved.json()["detail"]
    state = client.get(f"/api/studies/{small_study.id}/training", params={
        "scene_id": small_study.scene_id})  # fmt: skip
    assert state.status_code == 200


def test_ground_that_is_a_class_on_one_date_only(
    client: TestClient, small_study: SmallStudy
) -> None:
    """It takes part where the scene is of that date, and in what is made of it; a change of date
    is undone like any, and a map made before is out of date."""
    s, query = small_study, {"scene_id": small_study.scene_id}
    delivery = read_delivery(s.folder / "SMALL_1_metadata.txt")
    other = add_scene(s.id, "Later", delivery.model_copy(update={"acquired": date(2024, 9, 1)}))
    here = get_layer(s.scene_id).acquired
    assert here is not None and here != other.acquired
    perform_run(create_run(s.id, "Classifying", "map", map_order(s)).id)
    (made,) = client.get(f"/api/studies/{s.id}/maps").json()
    steps = [{"operation": "majority", "settings": {}}]
    for layer_id in (made["id"], made["id"] + 1):  # of the map, and of what was made of it
        order = {"layer_ids": [layer_id], "steps": steps}
        assert client.post(f"/api/studies/{s.id}/corrections", json=order).status_code == 201

    def pixels(scene_id: int) -> int:
        found = client.get(f"/api/studies/{s.id}/training", params={"scene_id": scene_id}).json()
        (grass,) = [c for c in found["classes"] if c["code"] == 3]
        return int(grass["n_pixels"])

    before = pixels(s.scene_id), pixels(other.id)
    address = f"/api/sites/{s.site_ids[3]}"
    answer = client.patch(address, params=query, json={"true_on": here.isoformat()}).json()
    assert (answer["true_on"], answer["elsewhen"]) == (here.isoformat(), False)
    assert (pixels(s.scene_id), pixels(other.id)) == (before[0], 0)
    maps = client.get(f"/api/studies/{s.id}/maps").json()
    assert len(maps) == 3 and all(one["up_to_date"] for one in maps), "it was trained on it"
    later = client.patch(address, params=query, json={"true_on": "2024-09-01"}).json()
    assert later["elsewhen"] and later["problem"] is None and later["n_pixels"] > 0
    assert (pixels(s.scene_id), pixels(other.id)) == (0, before[1])
    maps = client.get(f"/api/studies/{s.id}/maps").json()
    assert not any(one["up_to_date"] for one in maps), "nor what was tidied of it"
    unchanged = client.patch(address, params=query, json={"note": "bare then"}).json()
    assert unchanged["true_on"] == "2024-09-01" and unchanged["note"] == "bare then"
    always = client.patch(address, params=query, json={"true_on": None}).json()
    assert always["true_on"] is None and pixels(s.scene_id) == before[0]
    client.post(f"/api/studies/{s.id}/undo")
    assert pixels(s.scene_id) == 0
    client.delete(address)
    client.post(f"/api/studies/{s.id}/undo")
    assert pixels(other.id) == before[1], "it comes back with its date"
    assert client.patch(address, params=query, json={"true_on": "yesterday"}).status_code == 422


def test_a_drawn_outline_is_parsed_once(
    client: TestClient, small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    """On its way to a site, to the answer, and into the training as it stands."""
    parsed: list[Any] = []
    original = site_reading.parse_sites

    def listen(geometries: list[Any], texts: list[str]) -> Any:
        parsed.extend(geometries)
        return original(geometries, texts)

    monkeypatch.setattr(site_reading, "parse_sites", listen)
    drawn = rectangle(61, 33, 7, 9)
    assert draw(client, small_study, drawn, 3).status_code == 201
    query = {"scene_id": small_study.scene_id}
    client.get(f"/api/studies/{small_study.id}/sites", params=query)
    client.get(f"/api/studies/{small_study.id}/training", params=query)
    assert parsed.count(drawn) == 1


def test_bands_that_are_enough(client: TestClient, small_study: SmallStudy) -> None:
    query = {"scene_id": small_study.scene_id, "limit": 1.0}
    address = f"/api/studies/{small_study.id}/band-subsets"
    found = client.get(address, params=query).json()
    assert [len(one["roles"]) for one in found["subsets"]] == [1, 2, 3, 4]
    assert found["all_tried"] and found["untold"] == []
    enough = next(one for one in found["subsets"] if one["worst"] >= 1.0)
    assert found["enough"] == len(enough["roles"])
    assert all(one["mean"] >= one["worst"] for one in found["subsets"])
    part = client.get(address, params=query | {"roles": "red,nir"}).json()
    assert [one["roles"] for one in part["subsets"]][-1] == ["red", "nir"]
    for wrong in ({"roles": "red,lwir"}, {"limit": 2.5}, {"scene_id": 10**6}):
        assert client.get(address, params=query | wrong).status_code in (404, 422)
    for site_id in list(small_study.site_ids.values())[1:]:
        client.delete(f"/api/sites/{site_id}")
    told = client.get(address, params=query)
    assert told.status_code == 422 and "Two classes with at least 6 pixels" in told.json()["detail"]
