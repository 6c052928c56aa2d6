"""From the catalogue into the study, over the web, against the stand-in."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from kitesort.runs.perform import perform_run
from kitesort.store.files import uploads_folder
from support.catalogue import fill_catalogue, served_catalogue
from support.study import SmallStudy


@pytest.fixture
def catalogue(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[str]:
    with served_catalogue(fill_catalogue(tmp_path / "catalogue")) as address:
        monkeypatch.setenv("KITESORT_CATALOGUES", f"{address} https://elsewhere.invalid/")
        yield address


def order(catalogue: str, *ids: str) -> dict[str, object]:
    scenes = [{"collection": "whimbrel-8", "id": i, "title": f"Taken {i}"} for i in ids]
    return {"address": catalogue, "scenes": scenes}


def test_catalogues_are_those_that_were_allowed(client: TestClient, catalogue: str) -> None:
    listed = client.get("/api/catalogues").json()
    assert [(c["address"], c["is_stand_in"]) for c in listed] == [
        (catalogue, True), ("https://elsewhere.invalid/", False)
    ]  # fmt: skip


def test_search_look_take(client: TestClient, small_study: SmallStudy, catalogue: str) -> None:
    search = f"/api/studies/{small_study.id}/catalogue-search"
    found = client.post(search, json={"address": catalogue, "max_cloud_percent": 10}).json()
    assert [f["id"] for f in found] == ["C", "A"]
    assert found[0]["footprint"]["type"] == "Polygon" and not found[0]["taken"]
    picture = client.get(found[0]["picture"])
    assert picture.headers["content-type"] == "image/png"
    runs = client.post(
        f"/api/studies/{small_study.id}/catalogue-takes", json=order(catalogue, "A", "C")
    ).json()
    for run in runs:
        perform_run(run["id"])
    done = client.get(f"/api/studies/{small_study.id}/runs").json()
    assert {r["state"] for r in done} == {"done"}
    scenes = {s["title"]: s for s in client.get(f"/api/studies/{small_study.id}/scenes").json()}
    taken = scenes["Taken A"]
    assert taken["id"] in [r["layer_id"] for r in done]
    assert [b["role"] for b in taken["bands"]] == ["blue", "red", "nir"]
    assert taken["flags"] == ["fill", "cloud"] and taken["acquired"] == "2023-06-10"
    assert 0.85 < taken["usable_share"] < 0.99, "fill and cloud are left out"
    statistics = client.get(f"/api/scenes/{taken['id']}/statistics").json()
    assert statistics["bands"][2]["mean"] == pytest.approx(3000 * 0.0001 - 0.05)
    again = client.post(search, json={"address": catalogue}).json()
    assert {f["id"]: f["taken"] for f in again} == {"A": True, "B": False, "C": True}


def test_a_scene_that_went_away_fails_in_words_and_leaves_nothing(
    client: TestClient, small_study: SmallStudy, catalogue: str
) -> None:
    before = set(uploads_folder().iterdir())
    (run,) = client.post(
        f"/api/studies/{small_study.id}/catalogue-takes", json=order(catalogue, "Z")
    ).json()
    perform_run(run["id"])
    (failed,) = client.get(f"/api/studies/{small_study.id}/runs").json()
    assert failed["state"] == "failed"
    assert "does not have the scene Z" in failed["problem"]
    assert set(uploads_folder().iterdir()) == before
    assert len(client.get(f"/api/studies/{small_study.id}/scenes").json()) == 1


@pytest.mark.parametrize(
    ("query", "status", "sentence"),
    [
        ({"address": "http://127.0.0.1:1/"}, 422, "not among those"),
        ({"west": 5, "south": 1, "east": 4, "north": 2}, 422, "West must lie left of east"),
        ({"first": "2024-02-01", "last": "2024-01-01"}, 422, "first date"),
        ({"max_cloud_percent": 120}, 422, "max cloud percent"),
        ({"area": {"type": "Point", "coordinates": [0, 0]}}, 422, "polygon"),
    ],
)
def test_bad_queries(
    client: TestClient, small_study: SmallStudy, catalogue: str, query: dict[str, object],
    status: int, sentence: str,
) -> None:  # fmt: skip
    answer = client.post(
        f"/api/studies/{small_study.id}/catalogue-search", json={"address": catalogue} | query
    )
    assert answer.status_code == status, answer.text
    assert sentence in answer.json()["detail"]


def test_pictures_from_elsewhere_are_not_fetched(client: TestClient, catalogue: str) -> None:
    assert catalogue
    answer = client.get("/api/catalogue-picture", params={"url": "http://127.0.0.1:1/x.png"})
    assert answer.status_code == 422 and "not among those" in answer.json()["detail"]
