"""From a click on Classify to the downloaded file, with the work done in this process."""

import csv
import io
import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import rasterio
from fastapi.testclient import TestClient

from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.errors import DiskFullError
from kitesort.core.raster.class_file import CLASSES_TAG
from kitesort.runs import keep_layer, reporter
from kitesort.runs.perform import perform_run
from kitesort.store.files import layer_folder
from support.news import listening
from support.small_scene import COLOURS, NAMES, rectangle
from support.study import ROLES, SmallStudy


def start(client: TestClient, s: SmallStudy, **changes: Any) -> Any:
    body = {"scene_id": s.scene_id, "roles": list(ROLES)} | changes
    return client.post(f"/api/studies/{s.id}/runs", json=body)


def finished_layer(client: TestClient, s: SmallStudy) -> Any:
    perform_run(start(client, s).json()["id"])
    return client.get(f"/api/studies/{s.id}/maps").json()[0]


def run_of(client: TestClient, s: SmallStudy) -> Any:
    return client.get(f"/api/studies/{s.id}/runs").json()[0]


def test_a_run_becomes_a_layer(client: TestClient, small_study: SmallStudy) -> None:
    answer = start(client, small_study)
    assert answer.status_code == 201
    assert answer.json()["state"] == "waiting"
    perform_run(answer.json()["id"])
    run = run_of(client, small_study)
    assert (run["state"], run["percent"]) == ("done", 100)
    (layer,) = client.get(f"/api/studies/{small_study.id}/maps").json()
    assert layer["id"] == run["layer_id"]
    assert layer["up_to_date"]
    assert "maximum likelihood" in layer["sentence"]


def test_areas_add_up(client: TestClient, small_study: SmallStudy) -> None:
    layer = finished_layer(client, small_study)
    legend = layer["legend"]
    assert sum(row["pixels"] for row in legend) + layer["nodata_pixels"] == 96 * 128
    assert sum(row["percent"] for row in legend) == pytest.approx(100)
    for row in legend:
        assert row["hectares"] == pytest.approx(row["pixels"] * 0.01, rel=1e-3)


def test_the_download_is_what_other_software_expects(
    client: TestClient, small_study: SmallStudy, tmp_path: Path
) -> None:
    layer = finished_layer(client, small_study)
    response = client.get(f"/api/layers/{layer['id']}/file")
    assert 'filename="june-pass-class-map-1.tif"' in response.headers["content-disposition"]
    path = tmp_path / "got.tif"
    path.write_bytes(response.content)
    with rasterio.open(path) as dataset:
        assert dataset.crs.to_epsg() == 32625
        assert dataset.nodata == 0
        colours = dataset.colormap(1)
        for code, colour in COLOURS.items():
            assert "#{:02x}{:02x}{:02x}".format(*colours[code][:3]) == colour
        names = {c["value"]: c["name"] for c in json.loads(dataset.tags()[CLASSES_TAG])}
        assert names == {0: "No data", **NAMES, 255: "Unclassified"}
        assert np.isin(dataset.read(1), [0, 1, 2, 3, 4]).all()
        recipe = json.loads(dataset.tags()["recipe"])
    assert recipe == client.get(f"/api/layers/{layer['id']}/recipe").json()


def test_accuracy_of_the_kept_map(client: TestClient, small_study: SmallStudy) -> None:
    layer = finished_layer(client, small_study)
    got = client.get(f"/api/maps/{layer['id']}/accuracy").json()
    assert got["overall"]["value"] == pytest.approx(0.8)
    assert got["overall"]["low"] < 0.8 < got["overall"]["high"]
    assert got["names"] == list(NAMES.values())
    assert len(got["points"]) == 21
    assert got["n_without_map"] == 1


def test_tables_to_take_away(client: TestClient, small_study: SmallStudy) -> None:
    layer = finished_layer(client, small_study)
    address = f"/api/maps/{layer['id']}"
    areas = client.get(f"{address}/areas")
    assert 'filename="june-pass-class-map-1-areas.csv"' in areas.headers["content-disposition"]
    head, *rows = csv.reader(io.StringIO(areas.text))
    assert head == ["code", "class", "colour", "pixels", "percent", "hectares"]
    wanted = [[str(e[key]) for key in ("code", "name", "colour", "pixels", "percent", "hectares")]
              for e in layer["legend"]]  # fmt: skip
    assert rows == wanted

    got = client.get(f"{address}/accuracy").json()
    matrix = list(csv.reader(io.StringIO(client.get(f"{address}/error-matrix").text)))
    names = list(NAMES.values())
    assert matrix[0][1:6] == [*names, "total"]
    for i, name in enumerate(names):
        row = matrix[1 + i]
        assert row[0] == name and [int(n) for n in row[1:5]] == got["counts"][i]
        assert int(row[5]) == sum(got["counts"][i])
        assert float(row[6]) == got["users"][i]["value"]
    assert [int(n) for n in matrix[5][1:6]] == [*np.sum(got["counts"], axis=0), got["n_points"]]
    assert [float(n) for n in matrix[6][1:5]] == [p["value"] for p in got["producers"]]
    assert float(matrix[9][1]) == got["overall"]["value"]
    assert float(matrix[10][1]) == got["kappa"]
    assert client.get("/api/maps/999999/areas").status_code == 404
    of_any = f"/api/layers/{layer['id']}"
    client.patch(of_any, json={"title": "Küste / =x"})
    for part in (f"{address}/areas", f"{address}/error-matrix", f"{of_any}/file"):
        assert "k%C3%BCste-x" in client.get(part).headers["content-disposition"]


def test_a_map_that_is_behind_its_sites_says_so(
    client: TestClient, small_study: SmallStudy
) -> None:
    layer = finished_layer(client, small_study)
    client.delete(f"/api/sites/{small_study.site_ids[1]}")
    (now,) = client.get(f"/api/studies/{small_study.id}/maps").json()
    assert not now["up_to_date"]
    client.post(f"/api/studies/{small_study.id}/undo")
    (now,) = client.get(f"/api/studies/{small_study.id}/maps").json()
    assert now["up_to_date"]
    assert now["id"] == layer["id"]


def test_layer_tile_has_the_legend_s_colours(client: TestClient, small_study: SmallStudy) -> None:
    layer = finished_layer(client, small_study)
    response = client.get(f"/api/maps/{layer['id']}/tiles/0/0/0.png")
    assert response.headers["content-type"] == "image/png"
    tag = response.headers["etag"]
    again = client.get(f"/api/maps/{layer['id']}/tiles/0/0/0.png", headers={"if-none-match": tag})
    assert again.status_code == 304


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"roles": []}, "roles"),
        ({"roles": ["red", "pan"]}, "pan"),
        ({"method": "tea-leaves"}, "tea-leaves"),
        ({"settings": {"reject_share": 2}}, "Leave unlikely pixels unclassified"),
        ({"settings": {"window": 2}}, "window"),
        ({"surprise": 1}, "surprise"),
        ({"scene_id": 10**6}, "layer"),
    ],
)
def test_what_cannot_be_run_is_refused_before_it_is_queued(
    client: TestClient, small_study: SmallStudy, changes: dict[str, Any], words: str
) -> None:
    response = start(client, small_study, **changes)
    assert response.status_code in (404, 422)
    assert words in response.json()["detail"]
    assert client.get(f"/api/studies/{small_study.id}/runs").json() == []


def test_a_class_with_too_few_pixels_is_named(client: TestClient, small_study: SmallStudy) -> None:
    client.patch(
        f"/api/sites/{small_study.site_ids[4]}",
        params={"scene_id": small_study.scene_id},
        json={"geometry": rectangle(60, 80, 2, 2)},
    )
    response = start(client, small_study)
    assert response.status_code == 422
    assert "Wood has 4 training pixels" in response.json()["detail"]


def test_classifiers_come_with_the_schema_of_their_form(client: TestClient) -> None:
    methods = {one["id"]: one for one in client.get("/api/classifiers").json()}
    assert set(methods) == set(CLASSIFIERS) and len(methods) >= 13
    likelihood = methods["maximum-likelihood"]
    assert likelihood["settings_schema"]["properties"]["priors"]["enum"][0] == "equal"
    assert methods["random-forest"]["draws"] and not likelihood["draws"]


def test_cancelling_a_run_midway_leaves_nothing(
    client: TestClient, small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The wish to cancel comes while the run computes; it is heard at the next report."""
    run_id = start(client, small_study).json()["id"]
    monkeypatch.setattr(reporter, "SECONDS_BETWEEN_REPORTS", 0.0)
    original = keep_layer.write_class_map

    def slow(*args: Any, **kwargs: Any) -> Any:
        assert client.post(f"/api/runs/{run_id}/cancel").json()["state"] == "running"
        return original(*args, block_size=16, **kwargs)

    monkeypatch.setattr(keep_layer, "write_class_map", slow)
    before = set(layer_folder().iterdir())
    perform_run(run_id)
    assert run_of(client, small_study)["state"] == "cancelled"
    assert client.get(f"/api/studies/{small_study.id}/maps").json() == []
    assert set(layer_folder().iterdir()) == before


def test_a_full_disk_is_told_in_words(
    client: TestClient, small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    def full(*_: Any, **__: Any) -> None:
        raise DiskFullError("The disk is full: 0 MiB left in the data folder.")

    run_id = start(client, small_study).json()["id"]
    monkeypatch.setattr(keep_layer, "write_class_map", full)
    perform_run(run_id)
    run = run_of(client, small_study)
    assert run["state"] == "failed"
    assert run["problem"].startswith("The disk is full")


def test_a_bug_in_a_run_is_told_too(
    client: TestClient, small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: Any, **__: Any) -> None:
        raise ZeroDivisionError

    run_id = start(client, small_study).json()["id"]
    monkeypatch.setattr(keep_layer, "write_class_map", broken)
    with pytest.raises(ZeroDivisionError):
        perform_run(run_id)
    assert "nothing half-written" in run_of(client, small_study)["problem"]


def test_a_band_that_breaks_while_the_run_reads_it(
    client: TestClient, small_study: SmallStudy
) -> None:
    run_id = start(client, small_study).json()["id"]
    band = small_study.folder / "band_3.tif"
    band.write_bytes(band.read_bytes()[:400])
    perform_run(run_id)
    run = run_of(client, small_study)
    assert run["state"] == "failed"
    assert "band_3.tif" in run["problem"]


def test_every_step_of_a_run_is_announced(
    client: TestClient, small_study: SmallStudy, database: str
) -> None:
    with listening(database, lambda heard: heard[-1]["state"] == "done") as heard:
        finished_layer(client, small_study)
    states = [news["state"] for news in heard]
    assert states[0] == "waiting"
    assert states[-1] == "done"
    percents = [news["percent"] for news in heard if news["state"] == "running"]
    assert percents == sorted(percents)


def test_layer_name_cannot_be_empty(client: TestClient, small_study: SmallStudy) -> None:
    layer = finished_layer(client, small_study)
    assert client.patch(f"/api/layers/{layer['id']}", json={"title": ""}).status_code == 422
    renamed = client.patch(f"/api/layers/{layer['id']}", json={"title": "Cover 2024"})
    assert renamed.json()["title"] == "Cover 2024"
