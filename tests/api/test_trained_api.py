"""A classifier that a run has trained: kept, named, taken away, brought in, and the same again."""

import numpy as np
from fastapi.testclient import TestClient

from kitesort.runs.perform import perform_run
from kitesort.store.classifiers import (
    classifier_file,
    known_classifier_files,
    open_classifier,
)
from kitesort.store.files import classifier_folder, sweep_strays
from kitesort.study.rasters import open_layer
from kitesort.study.training import training_state
from support.small_scene import NAMES
from support.study import ROLES, SmallStudy


def kept_classifier(client: TestClient, s: SmallStudy) -> dict[str, object]:
    body = {"scene_id": s.scene_id, "roles": list(ROLES), "settings": {"reject_share": 0.01}}
    perform_run(client.post(f"/api/studies/{s.id}/runs", json=body).json()["id"])
    (one,) = client.get(f"/api/studies/{s.id}/trained-classifiers").json()
    assert isinstance(one, dict)
    return one


def test_a_run_keeps_what_it_has_trained(client: TestClient, small_study: SmallStudy) -> None:
    one = kept_classifier(client, small_study)
    (layer,) = client.get(f"/api/studies/{small_study.id}/maps").json()
    assert (one["name"], one["sentence"]) == (layer["title"], layer["sentence"])
    assert one["method"] == "maximum-likelihood" and one["settings"]["reject_share"] == 0.01  # type: ignore[index]
    assert one["roles"] == list(ROLES) and one["quantities"] == ["reflectance"] * len(ROLES)
    assert [c["name"] for c in one["classes"]] == list(NAMES.values())  # type: ignore[index,attr-defined]
    raster = open_layer(small_study.scene_id)
    block = raster.read(raster.grid.whole, ROLES)
    pixels = np.ascontiguousarray(block.values[:, block.valid])
    live = training_state(small_study.id, small_study.scene_id, ROLES).model
    assert live is not None
    again = open_classifier(int(str(one["id"]))).model
    assert np.array_equal(again.scores(pixels), live.scores(pixels))


def test_renamed_removed_and_undone(client: TestClient, small_study: SmallStudy) -> None:
    one = kept_classifier(client, small_study)
    address, listed = f"/api/trained-classifiers/{one['id']}", f"/api/studies/{small_study.id}"
    assert client.patch(address, json={"name": "June"}).json()["name"] == "June"
    assert client.delete(address).status_code == 204
    assert client.get(f"{listed}/trained-classifiers").json() == []
    for name in ("June", one["name"]):
        client.post(f"{listed}/undo")
        assert client.get(f"{listed}/trained-classifiers").json()[0]["name"] == name


def test_what_redoing_brings_back_is_not_swept_away(
    client: TestClient, small_study: SmallStudy
) -> None:
    one = kept_classifier(client, small_study)
    content = client.get(f"/api/trained-classifiers/{one['id']}/file").content
    address = f"/api/studies/{small_study.id}/trained-classifiers"
    made = client.post(address, params={"name": "Again"}, content=content).json()["id"]
    stray = classifier_folder() / "classifier-stray.zip"
    stray.touch()
    client.post(f"/api/studies/{small_study.id}/undo")
    sweep_strays(classifier_folder(), known_classifier_files())
    assert not stray.exists()
    client.post(f"/api/studies/{small_study.id}/redo")
    assert client.get(f"/api/trained-classifiers/{made}/file").status_code == 200


def test_taken_away_and_brought_in(client: TestClient, small_study: SmallStudy) -> None:
    one = kept_classifier(client, small_study)
    answer = client.get(f"/api/trained-classifiers/{one['id']}/file")
    assert answer.headers["content-disposition"].endswith('class-map-1-classifier.zip"')
    address = f"/api/studies/{small_study.id}/trained-classifiers"
    made = client.post(address, params={"name": "Again"}, content=answer.content)
    assert made.status_code == 201
    assert {k: v for k, v in made.json().items() if k not in ("id", "name", "created_at")} == {
        k: v for k, v in one.items() if k not in ("id", "name", "created_at")
    }
    client.post(f"/api/studies/{small_study.id}/undo")
    assert [c["id"] for c in client.get(address).json()] == [one["id"]]


def test_what_is_no_classifier_is_refused_and_nothing_is_kept(
    client: TestClient, small_study: SmallStudy
) -> None:
    address = f"/api/studies/{small_study.id}/trained-classifiers"
    for content in (b"", b"PK\x03\x04 and no more", b"x" * 10_000):
        answer = client.post(address, params={"name": "Bad"}, content=content)
        assert answer.status_code == 422 and "no " in answer.json()["detail"]
    assert client.get(address).json() == []
    gone = client.post("/api/studies/999999/trained-classifiers", params={"name": "x"}, content=b"")
    assert gone.status_code == 404


def test_one_whose_file_is_gone_says_so(client: TestClient, small_study: SmallStudy) -> None:
    one = kept_classifier(client, small_study)
    classifier_file(int(str(one["id"]))).unlink()
    answer = client.get(f"/api/trained-classifiers/{one['id']}/file")
    assert answer.status_code == 404 and "Train it again" in answer.json()["detail"]
    assert len(client.get(f"/api/studies/{small_study.id}/trained-classifiers").json()) == 1
