"""Corrections, combinations, comparison, boundaries, series and keeping, over the web."""

import json
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import rasterio
from fastapi.testclient import TestClient

from kitesort.core.delivery import read_delivery
from kitesort.core.geometry import reproject_geometry
from kitesort.core.raster.sample import sample_pixels
from kitesort.runs.perform import perform_run
from kitesort.store.scenes import add_scene
from kitesort.study.rasters import open_layer
from support.small_scene import LEFT, TOP, rectangle, write_small_scene
from support.study import SmallStudy, centre_of


@pytest.fixture
def july(small_study: SmallStudy, tmp_path: Path) -> int:
    """A second date on the same grid."""
    scene = write_small_scene(tmp_path / "july", seed=11)
    return add_scene(small_study.id, "July pass", read_delivery(scene.metadata)).id


def correct(client: TestClient, s: SmallStudy, scene_ids: list[int], *steps: Any) -> Any:
    orders = [{"operation": operation, "settings": settings} for operation, settings in steps]
    return client.post(
        f"/api/studies/{s.id}/corrections", json={"layer_ids": scene_ids, "steps": orders}
    )


def read_scenes(client: TestClient, s: SmallStudy, scene_ids: list[int], x: float, y: float) -> Any:
    params = {"x": x, "y": y, "scenes": scene_ids}
    return client.get(f"/api/studies/{s.id}/readout", params=params).json()["scenes"]


def test_every_operation_has_a_form(client: TestClient) -> None:
    for address in ("/api/corrections", "/api/combinations"):
        for spec in client.get(address).json():
            assert spec["title"] and spec["good_for"] and spec["source"]
            for field in spec["settings_schema"].get("properties", {}).values():
                assert field["title"]
                told = field.get("description") or field.get("choices")
                assert field.get("widget") == "hidden" or told


def test_one_chain_for_two_dates(client: TestClient, small_study: SmallStudy, july: int) -> None:
    answer = correct(
        client, small_study, [small_study.scene_id, july],
        ("dark-object", {}), ("mask-quality", {"flags": ["cloud"]}),
    )  # fmt: skip
    assert answer.status_code == 201
    made, problems = answer.json()["made"], answer.json()["problems"]
    assert problems == []
    assert [m["title"] for m in made] == ["June pass, haze out, masked",
                                          "July pass, haze out, masked"]  # fmt: skip
    darks = [m["steps"][0]["settings"]["dark"]["blue"] for m in made]
    assert darks[0] != darks[1], "each date has a dark value of its own"
    assert made[0]["origin"] == "corrected" and made[0]["made_of"] == [small_study.scene_id]
    assert made[0]["acquired"] == "2024-06-01"
    x, y = centre_of(5, 110)
    (read,) = read_scenes(client, small_study, [made[0]["id"]], x, y)
    assert read["values"]["red"] is None, "cloud is masked"


def test_what_fails_for_one_date_is_told_and_the_others_are_made(
    client: TestClient, small_study: SmallStudy, july: int
) -> None:
    median = client.post(
        f"/api/studies/{small_study.id}/combinations",
        json={"layer_ids": [small_study.scene_id, july], "method": "median"},
    ).json()["made"][0]
    assert median["title"] == "June pass, median of dates" and median["origin"] == "combined"
    answer = correct(
        client, small_study, [july, median["id"]], ("mask-quality", {"flags": ["cloud"]})
    ).json()
    assert [m["title"] for m in answer["made"]] == ["July pass, masked"]
    (problem,) = answer["problems"]
    assert problem["title"] == median["title"] and "no quality band" in problem["sentence"]
    alone = correct(client, small_study, [median["id"]], ("mask-quality", {"flags": ["cloud"]}))
    assert alone.status_code == 422


@pytest.mark.parametrize(
    ("step", "status", "sentence"),
    [
        (("levitate", {}), 404, "no method called"),
        (("scale", {"scale": "much"}), 422, "Scale and offset: Scale"),
        (("crop", {}), 422, "either coordinates or areas"),
        (("crop", {"areas": [{"type": "Polygon", "coordinates": []}]}), 422, "outline"),
        (("crop", {"areas": [{"nonsense": 1}]}), 422, "polygon"),
        (("regrid", {"crs": "EPSG:1"}), 422, "no coordinate system"),
        (("regrid", {"pixel_size": 1e-9}), 422, "too many"),
        (("move", {}), 422, "Choose the scene"),
        (("mask-like", {"scene_id": 999999}), 404, "not there any more"),
    ],
)
def test_bad_steps_are_told_and_make_nothing(
    client: TestClient, small_study: SmallStudy, step: Any, status: int, sentence: str
) -> None:
    answer = correct(client, small_study, [small_study.scene_id], step)
    assert answer.status_code == status, answer.text
    assert sentence in answer.json()["detail"]
    assert len(client.get(f"/api/studies/{small_study.id}/scenes").json()) == 1


def test_crop_by_a_boundary_in_another_system(client: TestClient, small_study: SmallStudy) -> None:
    degrees = reproject_geometry(rectangle(20, 30, 40, 50), "EPSG:32625", "EPSG:4326")
    features = [{"type": "Feature", "properties": {"name": "Farm"}, "geometry": degrees}]
    content = json.dumps({"type": "FeatureCollection", "features": features})
    boundary = client.post(
        f"/api/studies/{small_study.id}/boundaries?name=farm.geojson", content=content
    ).json()
    assert boundary["reprojected"] and boundary["crs"] == "EPSG:4326"
    (feature,) = boundary["features"]
    assert feature["name"] == "Farm" and feature["hectares"] == pytest.approx(20, rel=1e-3)
    answer = correct(
        client, small_study, [small_study.scene_id], ("crop", {"areas": [feature["geometry"]]})
    ).json()
    grid = answer["made"][0]["grid"]
    assert 40 <= grid["rows"] <= 42 and 50 <= grid["columns"] <= 52
    bad = client.post(f"/api/studies/{small_study.id}/boundaries?name=x.kml", content="x")
    assert bad.status_code == 422 and "no file that is read" in bad.json()["detail"]


def test_an_area_drawn_in_the_study_lands_in_a_scene_of_another_system(
    client: TestClient, small_study: SmallStudy
) -> None:
    first = correct(client, small_study, [small_study.scene_id], ("regrid", {"crs": "EPSG:4326"}))
    degrees = first.json()["made"][0]
    assert degrees["grid"]["crs"] == "EPSG:4326" and degrees["display"]["crs"] == "EPSG:32625"
    area = rectangle(20, 30, 40, 50)
    cropped = correct(client, small_study, [degrees["id"]], ("crop", {"areas": [area]})).json()
    share = cropped["made"][0]["grid"]["rows"] / degrees["grid"]["rows"]
    assert share == pytest.approx(40 / 96, abs=0.06)
    # Sites drawn in the study's system train a scene in degrees just as well.
    training = client.get(
        f"/api/studies/{small_study.id}/training", params={"scene_id": degrees["id"]}
    ).json()
    assert training["problem"] is None
    assert all(100 < c["n_pixels"] < 260 for c in training["classes"])
    x, y = centre_of(20, 50)
    there, here = read_scenes(client, small_study, [degrees["id"], small_study.scene_id], x, y)
    assert there["values"]["blue"] == pytest.approx(here["values"]["blue"], abs=0.04)


def test_grids_are_compared_and_brought_together(
    client: TestClient, small_study: SmallStudy
) -> None:
    step = ("regrid", {"pixel_size": 20, "resampling": "average"})
    coarse = correct(client, small_study, [small_study.scene_id], step).json()["made"][0]
    ids = {"scene_ids": [small_study.scene_id, coarse["id"]]}
    compared = client.get(f"/api/studies/{small_study.id}/comparison", params=ids).json()["scenes"]
    assert compared[0]["differences"] == []
    assert "pixels of 10 metre" in compared[1]["differences"][0]
    onto = ("regrid", {"scene_id": small_study.scene_id})
    back = correct(client, small_study, [coarse["id"]], onto).json()["made"][0]
    ids = {"scene_ids": [small_study.scene_id, back["id"]]}
    compared = client.get(f"/api/studies/{small_study.id}/comparison", params=ids).json()["scenes"]
    assert compared[1]["differences"] == []


def test_dark_values_histogram_and_shift(
    client: TestClient, small_study: SmallStudy, july: int
) -> None:
    address = f"/api/scenes/{small_study.scene_id}"
    foot = client.post(f"{address}/dark-values", json={}).json()
    water = client.post(f"{address}/dark-values", json={"area": rectangle(5, 10, 30, 40)}).json()
    assert foot["nir"] < water["nir"] == pytest.approx(0.02, abs=0.003)
    histogram = client.get(f"{address}/histogram", params={"role": "red", "bins": 50}).json()
    assert len(histogram["counts"]) == 50
    assert (
        sum(histogram["counts"]) + histogram["n_below"] + histogram["n_above"]
        == (histogram["n_valid"])
    )
    shift = client.get(f"{address}/shift", params={"reference_id": july}).json()
    assert abs(shift["right_px"]) < 0.2 and abs(shift["down_px"]) < 0.2
    crs = client.get("/api/crs", params={"text": "32625"}).json()
    assert crs[0]["code"] == "EPSG:32625"


def test_statistics_at_once_and_over_every_pixel(
    client: TestClient, small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    few = partial(sample_pixels, most=64)  # as if the scene were a large one
    monkeypatch.setattr("kitesort.core.statistics.sample_pixels", few)
    address = f"/api/scenes/{small_study.scene_id}/statistics"
    quick = client.get(address).json()
    assert not quick["exact"]
    run = client.post(address).json()
    assert run["kind"] == "statistics" and run["method"] is None
    perform_run(run["id"])
    exact = client.get(address).json()
    assert exact["exact"]
    block = open_layer(small_study.scene_id).read(open_layer(small_study.scene_id).grid.whole)
    assert exact["n_valid"] == int(block.valid.sum())
    assert exact["bands"][1]["mean"] == pytest.approx(block.values[1][block.valid].mean(), rel=1e-5)


def test_a_corrected_scene_is_kept_downloaded_and_used(
    client: TestClient, small_study: SmallStudy, tmp_path: Path
) -> None:
    scene = correct(client, small_study, [small_study.scene_id], ("dark-object", {})).json()
    made = scene["made"][0]
    assert client.get(f"/api/layers/{made['id']}/file").status_code == 404
    perform_run(client.post(f"/api/layers/{made['id']}/keep").json()["id"])
    listed = client.get(f"/api/studies/{small_study.id}/scenes").json()
    assert [s["kept"] for s in listed] == [False, True]
    answer = client.get(f"/api/layers/{made['id']}/file")
    assert 'filename="june-pass-haze-out.tif"' in answer.headers["content-disposition"]
    (tmp_path / "x.tif").write_bytes(answer.content)
    with rasterio.open(tmp_path / "x.tif") as dataset:
        assert dataset.descriptions == ("blue", "red", "nir", "swir16")
        assert "haze taken out" in dataset.tags()["recipe_in_words"]
        kept = dataset.read()
    block = open_layer(made["id"]).read(open_layer(made["id"]).grid.whole)
    assert np.array_equal(np.isfinite(kept[0]), block.valid)
    assert np.array_equal(kept[:, block.valid], block.values[:, block.valid])


def test_renaming_removing_and_bringing_back(
    client: TestClient, small_study: SmallStudy, july: int
) -> None:
    masked = correct(client, small_study, [july], ("mask-quality", {"flags": ["cloud"]})).json()
    assert client.patch(f"/api/layers/{july}", json={"title": "Hot day"}).json()["title"] == (
        "Hot day"
    )
    assert client.patch(f"/api/layers/{july}", json={"title": "June pass"}).status_code == 409
    dependants = client.get(f"/api/layers/{july}/dependants").json()
    assert [d["title"] for d in dependants] == [masked["made"][0]["title"]]
    assert client.delete(f"/api/layers/{july}").status_code == 204
    listed = client.get(f"/api/studies/{small_study.id}/scenes").json()
    assert "Hot day" not in [s["title"] for s in listed]
    tile = client.get(f"/api/scenes/{masked['made'][0]['id']}/tiles/0/0/0.png?roles=nir,red,blue")
    assert tile.status_code == 200, "what is made of it stays"
    assert client.post(f"/api/studies/{small_study.id}/undo").status_code == 200
    listed = client.get(f"/api/studies/{small_study.id}/scenes").json()
    assert "Hot day" in [s["title"] for s in listed]


def test_the_only_scene_stays(client: TestClient, small_study: SmallStudy) -> None:
    answer = client.delete(f"/api/layers/{small_study.scene_id}")
    assert answer.status_code == 409 and "only scene" in answer.json()["detail"]


def test_a_stretch_can_be_that_of_another_scene(
    client: TestClient, small_study: SmallStudy
) -> None:
    made = correct(client, small_study, [small_study.scene_id], ("scale", {"scale": 0.5})).json()
    address = f"/api/scenes/{made['made'][0]['id']}/tiles/0/0/0.png?roles=nir,red,blue"
    own = client.get(address).content
    like = client.get(f"{address}&stretch_of={small_study.scene_id}").content
    first = client.get(
        f"/api/scenes/{small_study.scene_id}/tiles/0/0/0.png?roles=nir,red,blue"
    ).content
    assert own == first, "half the values under half the limits look the same"
    assert like != own


class TestSeries:
    @pytest.fixture
    def dates(self, small_study: SmallStudy, tmp_path: Path) -> list[int]:
        """The small scene on three dates, under one name."""
        ids = []
        for month in (5, 6, 7):
            scene = write_small_scene(tmp_path / f"s{month}", seed=month)
            delivery = read_delivery(scene.metadata)
            dated = delivery.model_copy(
                update={"acquired": delivery.acquired.replace(month=month)}  # type: ignore[union-attr]
            )
            title = f"Month {month}"
            ids.append(add_scene(small_study.id, title, dated, "Three months").id)
        return ids

    def test_a_series_is_listed_and_filtered(
        self, client: TestClient, small_study: SmallStudy, dates: list[int]
    ) -> None:
        (series,) = client.get(f"/api/studies/{small_study.id}/series").json()
        assert (series["name"], series["n_dates"]) == ("Three months", 3)
        assert (series["first"], series["last"]) == ("2024-05-01", "2024-07-01")
        place = {"name": "Three months", "role": "nir", "geometry": rectangle(60, 20, 10, 10)}
        values = client.post(f"/api/studies/{small_study.id}/series-values", json=place).json()
        assert [v["scene_id"] for v in values] == dates
        assert all(v["value"] == pytest.approx(0.4, abs=0.004) for v in values)
        assert all(v["n_valid"] == 100 for v in values)
        later = place | {"first": "2024-06-01", "last": "2024-06-30"}
        values = client.post(f"/api/studies/{small_study.id}/series-values", json=later).json()
        assert [v["acquired"] for v in values] == ["2024-06-01"], "both ends included"

    def test_a_point_through_time(
        self, client: TestClient, small_study: SmallStudy, dates: list[int]
    ) -> None:
        assert dates
        x, y = centre_of(20, 40)
        address = f"/api/studies/{small_study.id}/series-values"
        place = {"name": "Three months", "x": x, "y": y}
        values = client.post(address, json=place).json()
        assert all(v["n_valid"] == 1 and 0.02 < v["value"] < 0.1 for v in values)
        cloud = client.post(address, json=place | {"x": LEFT + 1105, "y": TOP - 55}).json()
        assert [v["value"] for v in cloud] == [None] * 3
        outside = client.post(address, json=place | {"x": 0, "y": 0}).json()
        assert [v["n_valid"] for v in outside] == [0] * 3
        assert client.post(address, json={"name": "Three months"}).status_code == 422
        assert client.post(address, json={"name": "No such", "x": x, "y": y}).status_code == 404


@pytest.mark.parametrize(
    "steps",
    [
        '[{"operation": "assign-crs", "settings": {"crs": "IAU_2015:30100"}}]',
        '[{"operation": "assign-crs", "settings": {"crs": "IAU_2015:49900"}}]',
        '[{"operation": "scale", "settings": {"scale": 1e999}}]',
        '[{"operation": "scale", "settings": {"scale": Infinity}}]',
        '[{"operation": "scale", "settings": {"offset": NaN}}]',
        '[{"operation": "scale", "settings": {"offset": -1e400}}]',
        '[{"operation": "mask-range", "settings": {"low": -Infinity}}]',
        '[{"operation": "regrid", "settings": {"pixel_size": 1e308}}]',
        '[{"operation": "move", "settings": {"right_px": 1e308, "down_px": 1e308}}]',
        '[{"operation": "crop", "settings": {"extent": {"left": NaN, "right": 1, "top": 1,'
        ' "bottom": 0}}}]',
    ],
)
def test_what_is_refused_leaves_nothing_behind(
    client: TestClient, small_study: SmallStudy, steps: str
) -> None:
    """Whatever is answered, the study opens afterwards, with the scenes that were told of."""
    before = client.get(f"/api/studies/{small_study.id}/scenes").json()
    answer = client.post(
        f"/api/studies/{small_study.id}/corrections",
        content=f'{{"layer_ids": [{small_study.scene_id}], "steps": {steps}}}',
        headers={"content-type": "application/json"},
    )
    assert answer.status_code in (201, 422)
    listed = client.get(f"/api/studies/{small_study.id}/scenes")
    assert listed.status_code == 200
    n_made = len(answer.json()["made"]) if answer.status_code == 201 else 0
    assert len(listed.json()) == len(before) + n_made
    if n_made:
        (made,) = answer.json()["made"]
        tile = client.get(f"/api/scenes/{made['id']}/tiles/0/0/0.png", params={
            "roles": "nir,red,blue", "low": 2, "high": 98})  # fmt: skip
        assert tile.status_code < 500
