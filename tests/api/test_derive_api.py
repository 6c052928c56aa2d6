"""Deriving over the web: catalogue, formulas while typed, previews, layers, breaks, stacks."""

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import rasterio
from fastapi.testclient import TestClient

from kitesort.api import derive as derive_api
from kitesort.core.delivery import read_delivery
from kitesort.runs.perform import perform_run
from kitesort.store.files import layer_path
from kitesort.store.layers import get_layer
from kitesort.store.scenes import add_scene
from kitesort.study.rasters import open_layer
from support.small_scene import write_small_scene
from support.study import SmallStudy, centre_of

NDVI = {"operation": "index", "settings": {"index": "ndvi"}}


@pytest.fixture
def july(small_study: SmallStudy, tmp_path: Path) -> int:
    scene = write_small_scene(tmp_path / "july", seed=11)
    return add_scene(small_study.id, "July pass", read_delivery(scene.metadata)).id


def derive(client: TestClient, s: SmallStudy, *orders: Any, scenes: list[int] | None = None) -> Any:
    body = {"scene_ids": scenes or [s.scene_id], "orders": list(orders)}
    return client.post(f"/api/studies/{s.id}/derivations", json=body)


def order(operation: str, **settings: Any) -> dict[str, Any]:
    return {"operation": operation, "settings": settings}


def made_of(answer: Any) -> dict[str, Any]:
    assert answer.status_code == 201, answer.text
    (made,) = answer.json()["made"]
    result: dict[str, Any] = made
    return result


class TestAids:
    def test_every_derivation_has_a_form(self, client: TestClient) -> None:
        specs = client.get("/api/derivations").json()
        sides = {spec["id"]: spec["native_side"] for spec in specs if spec["native_side"]}
        assert sides == {"sharpen": 1024, "stripe-filter": 1024, "texture": 4096}
        for spec in specs:
            assert spec["title"] and spec["good_for"] and spec["source"]
            for field in spec["settings_schema"]["properties"].values():
                assert field.get("widget") == "hidden" or field["title"]

    def test_the_catalogue_on_a_scene(self, client: TestClient, small_study: SmallStudy) -> None:
        """The small scene has blue, red, nir and swir16."""
        indices = client.get(f"/api/scenes/{small_study.scene_id}/indices").json()
        assert indices[0]["id"] == "ndvi" and indices[0]["usual"]
        by_id = {index["id"]: index for index in indices}
        assert by_id["ndvi"]["missing"] == [] and by_id["ndwi"]["missing"] == ["green"]
        assert by_id["ndvi"]["mathml"].startswith("<math")
        assert (by_id["ndvi"]["low"], by_id["ndvi"]["high"]) == (-1.0, 1.0)
        assert {t["cover"] for t in by_id["ndvi"]["typical"]} >= {"Clear water", "Dry sand"}
        assert by_id["evi"]["constants"] and not by_id["dgr"]["missing"]

    def test_formulas_while_they_are_typed(
        self, client: TestClient, small_study: SmallStudy
    ) -> None:
        def check(text: str) -> Any:
            body = {"scene_id": small_study.scene_id, "formula": text}
            answer = client.post(f"/api/studies/{small_study.id}/formula-checks", json=body)
            assert answer.status_code == 200
            return answer.json()

        bad = check("(nir - redd) / 2")
        assert bad["problem"] == "There is no layer called redd. Did you mean “red”?"
        assert (bad["start"], bad["end"], bad["instead"], bad["mathml"]) == (7, 11, "red", None)
        good = check("(nir - red) / june_pass.blue")
        assert good["problem"] is None and good["names"] == ["nir", "red", "june_pass.blue"]
        assert check("")["problem"] == "The formula is empty."
        assert "2,000 is the most" in check("n" * 1_000_000)["problem"]
        functions = client.get("/api/functions").json()
        assert {f["name"] for f in functions} == {
            "where", "min", "max", "mean", "clip", "sqrt", "log", "exp", "abs",
        }  # fmt: skip

    def test_layer_names(self, client: TestClient, small_study: SmallStudy, july: int) -> None:
        names = client.get(f"/api/studies/{small_study.id}/layer-names").json()
        assert {"name": "july_pass.nir", "scene_id": july, "role": "nir",
                "title": "July pass"} in names  # fmt: skip

    def test_coefficients(self, client: TestClient, small_study: SmallStudy) -> None:
        sets = client.get(f"/api/scenes/{small_study.scene_id}/coefficient-sets").json()
        assert len(sets) == 3 and not any(one["fits"] for one in sets)
        assert sets[0]["reason"] == "made for another sensor than Test sensor"
        text = {"text": "x blue red\nbrightness 0.6 0.9"}
        read = client.post("/api/coefficient-tables/text", json=text).json()
        assert read["table"]["components"][0]["name"] == "brightness"
        assert "length 1.082" in read["remarks"][0]
        bad = client.post("/api/coefficient-tables/text", json={"text": "x blue\na b"})
        assert bad.status_code == 422 and "is no number" in bad.json()["detail"]

    def test_presets(self, client: TestClient, small_study: SmallStudy) -> None:
        base = f"/api/studies/{small_study.id}/presets"
        body = {"kind": "formula", "name": "Mine", "content": {"formula": "nir - red"}}
        saved = client.post(base, json=body)
        assert saved.status_code == 201
        assert [p["name"] for p in client.get(base).json()] == ["Mine"]
        assert client.delete(f"/api/presets/{saved.json()['id']}").status_code == 204
        assert client.get(base).json() == []
        wrong = client.post(base, json=body | {"content": {"formula": "nir -"}})
        assert wrong.status_code == 422 and wrong.json()["type"] == "urn:kitesort:formula"


class TestLayers:
    def test_several_indices_of_several_dates_at_once(
        self, client: TestClient, small_study: SmallStudy, july: int
    ) -> None:
        answer = derive(
            client, small_study, NDVI, order("index", index="ndwi"), order("index", index="evi"),
            scenes=[small_study.scene_id, july],
        )  # fmt: skip
        body = answer.json()
        assert [m["title"] for m in body["made"]] == [
            "NDVI, June pass", "EVI, June pass", "NDVI, July pass", "EVI, July pass",
        ]  # fmt: skip
        assert [p["title"] for p in body["problems"]] == ["June pass", "July pass"]
        assert "NDWI needs green" in body["problems"][0]["sentence"]

    def test_what_is_told_of_a_layer(self, client: TestClient, small_study: SmallStudy) -> None:
        made = made_of(derive(client, small_study, NDVI))
        assert made["origin"] == "derived" and made["made_of"] == [small_study.scene_id]
        assert [band["role"] for band in made["bands"]] == ["ndvi"]
        assert made["palette"] == "green" and made["quantity"] == "values"
        assert made["flags"] == ["fill", "cloud"], "those of its input"
        assert made["steps"][0]["operation"] == "index"
        assert made["steps"][0]["settings"]["formula"] == "(nir - red)/(nir + red)"
        listed = client.get(f"/api/studies/{small_study.id}/scenes").json()
        assert made["id"] in [scene["id"] for scene in listed]

    def test_a_preview_can_be_looked_at_like_a_scene(
        self, client: TestClient, small_study: SmallStudy
    ) -> None:
        body = {"scene_id": small_study.scene_id, **order("formula", formula="log(nir - red)")}
        draft = client.post(f"/api/studies/{small_study.id}/drafts", json=body).json()
        base = f"/api/scenes/{draft['id']}"
        tile = client.get(
            f"{base}/tiles/0/0/0.png", params={"roles": "formula", "palette": "green"}
        )
        assert tile.status_code == 200 and tile.content[:4] == b"\x89PNG"
        assert client.get(f"{base}/channels", params={"roles": "formula"}).status_code == 200
        counted = client.post(f"{base}/histograms", json={"role": "formula"}).json()
        undefined = client.get(f"{base}/undefined").json()
        assert undefined["exact"] and undefined["n_undefined"] > 0
        assert counted["n_valid"] == undefined["n_usable"] - undefined["n_undefined"]
        line = {"vertices": [centre_of(10, 10), centre_of(80, 100)],
                "members": [f"{draft['id']}:formula", f"{small_study.scene_id}:nir"]}  # fmt: skip
        assert client.post(f"/api/studies/{small_study.id}/line", json=line).status_code == 200
        space = {"x": f"{draft['id']}:formula", "y": f"{small_study.scene_id}:nir"}
        cloud = client.post(f"/api/studies/{small_study.id}/feature-space", json=space)
        assert cloud.status_code == 200 and cloud.json()["n_valid"] == counted["n_valid"]
        listed = client.get(f"/api/studies/{small_study.id}/scenes").json()
        assert draft["id"] not in [scene["id"] for scene in listed]

    def test_a_single_refusal_is_a_problem(
        self, client: TestClient, small_study: SmallStudy
    ) -> None:
        answer = derive(client, small_study, order("index", index="ndwi"))
        assert answer.status_code == 422
        assert answer.json()["detail"].startswith("NDWI needs green, which the scene has not.")
        assert answer.json()["type"] == "urn:kitesort:missing-role"

    def test_components_tell_their_loadings(
        self, client: TestClient, small_study: SmallStudy
    ) -> None:
        made = made_of(derive(client, small_study, order("principal-components", n_components=2)))
        settings = made["steps"][0]["settings"]
        assert len(settings["loadings"]) == 4 and len(settings["eigenvalues"]) == 4
        assert [band["role"] for band in made["bands"]] == ["pc1", "pc2"]
        assert "% of the variance" in made["sentence"]

    def test_counting_every_pixel_of_a_large_scene_is_a_run(
        self, client: TestClient, small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        monkeypatch.setattr(derive_api, "LARGEST_AT_ONCE", 100)
        wanted = order("principal-components", pixels="every", n_components=2)
        body = derive(client, small_study, wanted).json()
        assert body["made"] == [] and body["runs"][0]["kind"] == "derive"
        run_id = body["runs"][0]["id"]
        perform_run(run_id)
        runs = client.get(f"/api/studies/{small_study.id}/runs").json()
        done = next(run for run in runs if run["id"] == run_id)
        assert done["state"] == "done" and "Made “Principal components" in done["log"][-1]
        assert open_layer(done["layer_id"]).bands[1].role == "pc2"

    def test_stacks_tell_what_is_alike(self, client: TestClient, small_study: SmallStudy) -> None:
        ndvi = made_of(derive(client, small_study, NDVI))
        members = [
            {"scene_id": small_study.scene_id, "role": "nir"},
            {"scene_id": small_study.scene_id, "role": "nir", "name": "again"},
            {"scene_id": ndvi["id"], "role": "ndvi"},
        ]
        stack = made_of(derive(client, small_study, order("stack", members=members)))
        found = client.get(f"/api/scenes/{stack['id']}/relations").json()
        assert [m["role"] for m in found["members"]] == ["nir", "again", "ndvi"]
        assert found["correlation"][0][1] == pytest.approx(1)
        assert "nir and again say nearly the same" in found["remarks"][0]


class TestBreaks:
    @pytest.fixture
    def ndvi(self, client: TestClient, small_study: SmallStudy) -> int:
        made: int = made_of(derive(client, small_study, NDVI))["id"]
        return made

    def table(self, *names: str) -> dict[str, Any]:
        first, second = names or ("Bare", "Green")
        rows = [
            {"code": 1, "name": first, "colour": "#aa8855", "low": None, "high": 0.4},
            {"code": 2, "name": second, "colour": "#117733", "low": 0.4, "high": None},
        ]
        return {"rows": rows, "included": "lower", "outer_included": True}

    def keep(self, client: TestClient, scene_id: int, table: Any) -> int:
        body = {"role": "ndvi", "table": table}
        run = client.post(f"/api/scenes/{scene_id}/breaks/map", json=body)
        assert run.status_code == 201
        perform_run(run.json()["id"])
        runs = client.get("/api/studies").json()[0]["id"]
        done = client.get(f"/api/studies/{runs}/runs").json()[0]
        assert done["state"] == "done", done
        layer: int = done["layer_id"]
        return layer

    def test_counts_start_and_picture(self, client: TestClient, ndvi: int) -> None:
        base = f"/api/scenes/{ndvi}/breaks"
        start = {"role": "ndvi", "n_classes": 3, "start": "quantiles"}
        table = client.post(f"{base}/start", json=start).json()
        counts = client.post(f"{base}/counts", json={"role": "ndvi", "table": table}).json()
        assert [round(c["percent"]) for c in counts["classes"]] == [33, 33, 33]
        params = {"role": "ndvi", "table": json.dumps(table)}
        tile = client.get(f"{base}/tiles/0/0/0.png", params=params)
        assert tile.status_code == 200 and tile.headers["content-type"] == "image/png"
        bad = client.get(f"{base}/tiles/0/0/0.png", params=params | {"table": "{}"})
        assert bad.status_code == 422 and "table cannot be used" in bad.json()["detail"]

    def test_overlaps_are_refused_in_words(self, client: TestClient, ndvi: int) -> None:
        table = self.table()
        table["rows"][1]["low"] = 0.2
        answer = client.post(
            f"/api/scenes/{ndvi}/breaks/counts", json={"role": "ndvi", "table": table}
        )
        assert answer.status_code == 422 and "Bare and Green overlap" in answer.json()["detail"]

    def test_a_map_like_any_other(
        self, client: TestClient, small_study: SmallStudy, ndvi: int
    ) -> None:
        """Areas, legend, names in the file; no data kept apart; its recipe says how."""
        layer_id = self.keep(client, ndvi, self.table())
        layers = client.get(f"/api/studies/{small_study.id}/maps").json()
        (found,) = [layer for layer in layers if layer["id"] == layer_id]
        assert found["method"] == "breaks" and found["n_sites"] == 0 and found["up_to_date"]
        assert [row["name"] for row in found["legend"]] == ["Bare", "Green"]
        assert sum(row["percent"] for row in found["legend"]) == pytest.approx(100)
        raster = open_layer(ndvi)
        block = raster.read(raster.grid.whole)
        green = int((block.valid & (block.values[0] >= np.float32(0.4))).sum())
        assert found["legend"][1]["pixels"] == green
        assert found["legend"][1]["hectares"] == pytest.approx(green / 100, rel=1e-3)
        assert found["nodata_pixels"] == int((~block.valid).sum())
        assert "Green from 0.4" in found["sentence"]
        with rasterio.open(layer_path(get_layer(layer_id).kept_path or "")) as dataset:
            assert dataset.nodata == 0 and dataset.tags(1)["class_2"] == "Green"
            assert "in classes by breaks" in dataset.tags()["recipe_in_words"]
            assert int((dataset.read(1) == 2).sum()) == green

    def test_checked_by_the_names_of_its_classes(self, client: TestClient, ndvi: int) -> None:
        """Water and Grass are 1 and 3 in the scheme, 1 and 2 in the map."""
        layer_id = self.keep(client, ndvi, self.table("Water", "Grass"))
        found = client.get(f"/api/maps/{layer_id}/accuracy").json()
        assert found["names"] == ["Water", "Grass", "Sand", "Wood"]
        assert found["unknown"] == ["Sand", "Wood"], "their points are errors"
        assert found["n_points"] == 20 and found["overall"]["value"] == pytest.approx(8 / 20)
        grass = found["names"].index("Grass")
        assert found["counts"][grass][grass] >= 4
        strange = self.keep(client, ndvi, self.table("One", "Two"))
        answer = client.get(f"/api/maps/{strange}/accuracy")
        assert answer.status_code == 422
        assert (
            "No class of this map has the name of one in the class scheme"
            in (answer.json()["detail"])
        )


def test_a_stack_is_classified_like_a_scene(client: TestClient, small_study: SmallStudy) -> None:
    """NDVI and texture beside bands go into the classifier by name; the map has their recipe."""
    ndvi = made_of(derive(client, small_study, NDVI))
    members = [
        {"scene_id": small_study.scene_id, "role": "red"},
        {"scene_id": small_study.scene_id, "role": "nir"},
        {"scene_id": ndvi["id"], "role": "ndvi"},
    ]
    stack = made_of(derive(client, small_study, order("stack", members=members)))
    roles = ["red", "nir", "ndvi"]
    training = client.get(
        f"/api/studies/{small_study.id}/training",
        params={"scene_id": stack["id"], "roles": ",".join(roles)},
    ).json()
    assert training["problem"] is None and training["roles"] == roles
    body = {"scene_id": stack["id"], "roles": roles}
    run = client.post(f"/api/studies/{small_study.id}/runs", json=body)
    assert run.status_code == 201, run.text
    perform_run(run.json()["id"])
    (layer, *_) = client.get(f"/api/studies/{small_study.id}/maps").json()
    assert layer["scene_id"] == stack["id"] and layer["roles"] == roles
    accuracy = client.get(f"/api/maps/{layer['id']}/accuracy").json()
    assert accuracy["overall"]["value"] > 0.7, "one point in five is told wrong on purpose"


def test_keeping_a_derived_layer(client: TestClient, small_study: SmallStudy) -> None:
    made = made_of(derive(client, small_study, NDVI))
    run = client.post(f"/api/layers/{made['id']}/keep")
    perform_run(run.json()["id"])
    answer = client.get(f"/api/layers/{made['id']}/file")
    assert answer.status_code == 200
    path = small_study.folder / "kept.tif"
    path.write_bytes(answer.content)
    raster = open_layer(made["id"])
    block = raster.read(raster.grid.whole)
    with rasterio.open(path) as dataset:
        values = dataset.read(1)
        assert dataset.descriptions == ("ndvi",) and np.isnan(dataset.nodata)
        assert "Normalized Difference Vegetation Index" in dataset.tags()["recipe_in_words"]
    assert np.array_equal(np.isfinite(values), block.valid)
    assert np.array_equal(values[block.valid], block.values[0][block.valid])


ODD: list[Callable[[TestClient, SmallStudy], Any]] = [
    lambda c, s: derive(c, s, order("nonsense")),
    lambda c, s: derive(c, s, order("index", index="\x00")),
    lambda c, s: derive(c, s, order("index", index="ndvi", constants={"l": 1e308})),
    lambda c, s: derive(c, s, order("index", index="savi", constants={"constant_l": 1e308})),
    lambda c, s: derive(c, s, order("formula", formula="nir" * 5000)),
    lambda c, s: derive(c, s, order("formula", formula="__import__('os')")),
    lambda c, s: derive(c, s, order("formula", formula="nir", name="../../etc")),
    lambda c, s: derive(c, s, order("formula", formula="a", layers={"a": {"scene_id": 10**12,
                                                                         "role": "nir"}})),
    lambda c, s: derive(c, s, order("formula", formula="a", layers={"a": {"scene_id": -1,
                                                                         "role": "nir"}})),
    lambda c, s: derive(c, s, order("ratio", upper="nir", lower="")),
    lambda c, s: derive(c, s, order("stack", members=[{"scene_id": s.scene_id, "role": "a:b,c"}])),
    lambda c, s: derive(c, s, order("stack", members=[{"scene_id": s.scene_id, "role": "nir",
                                                       "name": "a,b"}])),
    lambda c, s: derive(c, s, order("texture", role="nir", window_px=4)),
    lambda c, s: derive(c, s, order("texture", role="nir", window_px=99)),
    lambda c, s: derive(c, s, order("texture", role="nir", low=1, high=0)),
    lambda c, s: derive(c, s, order("texture", role="nir", window_px=3, distance_px=3)),
    lambda c, s: derive(c, s, order("principal-components", n_components=0)),
    lambda c, s: derive(c, s, order("principal-components", roles=["lwir", "nir"])),
    lambda c, s: derive(c, s, order("noise-fraction", lag_px=65)),
    lambda c, s: derive(c, s, order("tasseled-cap", coefficients="own", table={"components": []})),
    lambda c, s: derive(c, s, NDVI, scenes=[10**9]),
    lambda c, s: derive(c, s, NDVI | {"title": "x" * 500}),
    lambda c, s: c.post(f"/api/studies/{s.id}/drafts", json={"scene_id": 0, "operation": "index"}),
    lambda c, _: c.get("/api/scenes/999999/undefined"),
    lambda c, _: c.get("/api/scenes/999999/relations"),
    lambda c, _: c.get("/api/scenes/999999/indices"),
    lambda c, _: c.delete("/api/presets/999999"),
]  # fmt: skip


@pytest.mark.parametrize("number", ["Infinity", "-Infinity", "NaN", "1e999"])
def test_numbers_that_are_none(client: TestClient, small_study: SmallStudy, number: str) -> None:
    """JSON as some programs write it: what is not finite never reaches a computation."""
    orders = [
        f'{{"operation": "texture", "settings": {{"role": "nir", "low": {number}}}}}',
        f'{{"operation": "index", "settings": {{"index": "savi", '
        f'"constants": {{"constant_l": {number}}}}}}}',
    ]
    for text in orders:
        content = f'{{"scene_ids": [{small_study.scene_id}], "orders": [{text}]}}'
        answer = client.post(
            f"/api/studies/{small_study.id}/derivations",
            content=content,
            headers={"content-type": "application/json"},
        )
        assert answer.status_code == 422, answer.text
        assert answer.json()["detail"].strip()


@pytest.mark.parametrize("ask", ODD, ids=range(len(ODD)))
def test_odd_requests_get_a_sentence(
    client: TestClient, small_study: SmallStudy, ask: Callable[[TestClient, SmallStudy], Any]
) -> None:
    answer = ask(client, small_study)
    assert 400 <= answer.status_code < 500, answer.text
    assert answer.headers["content-type"] == "application/problem+json"
    assert answer.json()["detail"].strip()
    listed = client.get(f"/api/studies/{small_study.id}/scenes").json()
    assert [scene["title"] for scene in listed] == ["June pass"], "nothing half-made is left"
