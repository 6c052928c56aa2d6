"""A class map lives like any layer: renamed, cropped, brought onto another grid, put together, put
into a formula, kept, taken away, removed, and brought back."""

import json
from typing import Any

import numpy as np
import pytest
import rasterio
from fastapi.testclient import TestClient

from kitesort.core.raster.class_file import CLASSES_TAG
from kitesort.runs.perform import perform_run
from kitesort.store.files import layer_path
from kitesort.store.layers import get_layer
from kitesort.store.runs import create_run, get_run
from kitesort.study.rasters import open_layer
from support.small_scene import NAMES, rectangle
from support.study import SmallStudy, centre_of, map_order


@pytest.fixture
def map_id(small_study: SmallStudy) -> int:
    run = create_run(small_study.id, "Classifying", "map", map_order(small_study))
    perform_run(run.id)
    made = get_run(run.id).layer_id
    assert made is not None
    return made


def correct(client: TestClient, s: SmallStudy, layer_ids: list[int], *steps: Any) -> Any:
    orders = [{"operation": operation, "settings": settings} for operation, settings in steps]
    body = {"layer_ids": layer_ids, "steps": orders}
    return client.post(f"/api/studies/{s.id}/corrections", json=body)


def made_map(answer: Any) -> dict[str, Any]:
    assert answer.status_code == 201, answer.text
    assert answer.json()["made"] == [] and answer.json()["problems"] == []
    (made,) = answer.json()["maps"]
    return dict(made)


def codes_of(layer_id: int) -> Any:
    raster = open_layer(layer_id)
    return raster.read(raster.grid.whole).values[0]


def _corners(row: int) -> Any:
    return rectangle(row, 0, 48, 128)["coordinates"][0]


def half(top: bool) -> dict[str, Any]:
    """The upper or the lower half of the small scene, in its own coordinates."""
    (left, high), _, (right, bottom), *_ = _corners(0 if top else 48)
    return {"extent": {"left": left, "bottom": bottom, "right": right, "top": high}}


def test_a_cropped_map_is_a_map_that_costs_nothing_until_it_is_kept(
    client: TestClient, small_study: SmallStudy, map_id: int
) -> None:
    cropped = made_map(correct(client, small_study, [map_id], ("crop", half(top=True))))
    assert cropped["title"] == "June pass, class map 1, cropped"
    assert cropped["sentence"].startswith("June pass, class map 1; cropped to")
    assert [e["name"] for e in cropped["legend"]] == [*NAMES.values(), "Unclassified"]
    assert {e["pixels"] for e in cropped["legend"]} == {None} and cropped["kept"] is False
    assert np.array_equal(codes_of(cropped["id"]), codes_of(map_id)[:48], equal_nan=True)
    assert client.get(f"/api/layers/{cropped['id']}/file").status_code == 404
    assert client.get(f"/api/maps/{cropped['id']}/tiles/0/0/0.png").status_code == 200

    run = client.post(f"/api/layers/{cropped['id']}/keep").json()
    perform_run(run["id"])
    listed = client.get(f"/api/studies/{small_study.id}/maps").json()
    (kept,) = [one for one in listed if one["id"] == cropped["id"]]
    counted = {e["code"]: e["pixels"] for e in kept["legend"]}
    found, n = np.unique(codes_of(map_id)[:48], return_counts=True)
    here = {int(code): int(k) for code, k in zip(found, n, strict=True) if np.isfinite(code)}
    assert {code: k for code, k in counted.items() if k} == here
    assert kept["kept"] and kept["seconds"] > 0
    raster = open_layer(cropped["id"], "work")
    block = raster.read(raster.grid.whole)
    assert np.array_equal(block.values[0], codes_of(cropped["id"]), equal_nan=True)
    with rasterio.open(layer_path(get_layer(cropped["id"]).kept_path or "")) as dataset:
        names = [c["name"] for c in json.loads(dataset.tags()[CLASSES_TAG])]
        assert names == ["No data", *NAMES.values(), "Unclassified"]
        assert dataset.dtypes == ("uint8",) and dataset.nodata == 0


def test_its_life_is_that_of_any_layer(
    client: TestClient, small_study: SmallStudy, map_id: int
) -> None:
    cropped = made_map(correct(client, small_study, [map_id], ("crop", half(top=True))))
    assert client.get(f"/api/layers/{map_id}/dependants").json() == [
        {"id": cropped["id"], "title": cropped["title"]}
    ]
    assert {d["id"] for d in client.get(f"/api/layers/{small_study.scene_id}/dependants").json()} \
        == {map_id}  # fmt: skip
    taken = client.patch(f"/api/layers/{map_id}", json={"title": "june PASS"})
    assert taken.status_code == 409, "titles are free of one another, whatever the kind"
    renamed = client.patch(f"/api/layers/{map_id}", json={"title": "Cover"}).json()
    assert renamed == {"id": map_id, "kind": "classes", "title": "Cover"}
    assert client.delete(f"/api/layers/{map_id}").status_code == 204
    listed = client.get(f"/api/studies/{small_study.id}/maps").json()
    assert [one["id"] for one in listed] == [cropped["id"]]
    assert client.get(f"/api/maps/{cropped['id']}/tiles/0/0/0.png").status_code == 200
    client.post(f"/api/studies/{small_study.id}/undo")
    assert len(client.get(f"/api/studies/{small_study.id}/maps").json()) == 2


def test_two_halves_are_one_map_again(
    client: TestClient, small_study: SmallStudy, map_id: int
) -> None:
    halves = [
        made_map(correct(client, small_study, [map_id], ("crop", half(top))))["id"]
        for top in (True, False)
    ]
    body = {"layer_ids": halves, "method": "mosaic"}
    whole = made_map(client.post(f"/api/studies/{small_study.id}/combinations", json=body))
    assert np.array_equal(codes_of(whole["id"]), codes_of(map_id), equal_nan=True)
    body = {"layer_ids": [map_id, small_study.scene_id], "method": "mosaic"}
    refused = client.post(f"/api/studies/{small_study.id}/combinations", json=body)
    assert refused.status_code == 422 and "no band role in common" in refused.json()["detail"]


def test_onto_another_grid_by_the_nearest_pixel_only(
    client: TestClient, small_study: SmallStudy, map_id: int
) -> None:
    coarse = made_map(correct(client, small_study, [map_id], ("regrid", {"pixel_size": 20})))
    assert set(np.unique(codes_of(coarse["id"])[np.isfinite(codes_of(coarse["id"]))])) <= {
        1, 2, 3, 4
    }  # fmt: skip
    step = ("regrid", {"pixel_size": 20, "resampling": "average"})
    refused = correct(client, small_study, [map_id], step)
    assert refused.status_code == 422 and "cannot be averaged" in refused.json()["detail"]


@pytest.mark.parametrize(
    ("operation", "settings"),
    [
        ("scale", {"scale": 2.0}),
        ("dark-object", {}),
        ("mask-range", {"lowest": 1.0, "highest": 2.0}),
    ],
)
def test_what_is_for_numbers_is_refused(
    client: TestClient,
    small_study: SmallStudy,
    map_id: int,
    operation: str,
    settings: dict[str, Any],
) -> None:
    refused = correct(client, small_study, [map_id], (operation, settings))
    assert refused.status_code == 422
    assert "works on measured bands; this layer has class codes" in refused.json()["detail"]
    body = {"scene_id": map_id, "roles": ["class"]}
    assert client.post(f"/api/studies/{small_study.id}/runs", json=body).status_code == 422


def test_masked_and_judged(client: TestClient, small_study: SmallStudy, map_id: int) -> None:
    step = ("mask-areas", {"areas": [rectangle(0, 0, 96, 64)], "mask": "inside"})
    masked = made_map(correct(client, small_study, [map_id], step))
    assert np.isnan(codes_of(masked["id"])[:, :64]).all()
    whole = client.get(f"/api/maps/{map_id}/accuracy").json()
    part = client.get(f"/api/maps/{masked['id']}/accuracy").json()
    assert 0 < part["n_points"] < whole["n_points"]
    assert part["n_points"] + part["n_without_map"] == whole["n_points"] + whole["n_without_map"]


def test_at_the_upper_level_what_belongs_together_is_not_confused(
    client: TestClient, small_study: SmallStudy, map_id: int
) -> None:
    ids = small_study.class_ids
    own = client.get(f"/api/maps/{map_id}/accuracy").json()
    assert client.get(f"/api/maps/{map_id}/accuracy?upper=true").json() == own, "one level only"
    wet = {"name": "Wet", "colour": "#204080", "description": ""}
    parent = client.post(f"/api/studies/{small_study.id}/classes", json=wet).json()
    for code in (1, 2):
        client.patch(f"/api/classes/{ids[code]}", json={"parent_id": parent["id"]})
    told = client.get(f"/api/maps/{map_id}/accuracy?upper=true").json()
    counts, together = np.array(own["counts"]), [own["codes"].index(code) for code in (1, 2)]
    apart = [i for i in range(len(counts)) if i not in together]
    fold = np.zeros((len(apart) + 1, len(counts)), int)
    fold[:-1][np.arange(len(apart)), apart] = 1
    fold[-1, together] = 1
    order = [told["names"].index(own["names"][i]) for i in apart] + [told["names"].index("Wet")]
    assert np.array_equal(np.array(told["counts"])[np.ix_(order, order)], fold @ counts @ fold.T)
    assert told["overall"]["value"] > own["overall"]["value"]
    assert told["n_points"] == own["n_points"] and told["unknown"] == []
    table = client.get(f"/api/maps/{map_id}/error-matrix?upper=true").text
    assert "Wet" in table.splitlines()[0] and NAMES[1] not in table


class TestFormula:
    def derive(self, client: TestClient, s: SmallStudy, formula: str) -> Any:
        order = {"operation": "formula", "settings": {"formula": formula, "name": "found"}}
        body = {"scene_ids": [s.scene_id], "orders": [order]}
        return client.post(f"/api/studies/{s.id}/derivations", json=body)

    def test_by_code_and_by_name(
        self, client: TestClient, small_study: SmallStudy, map_id: int
    ) -> None:
        by_name = f'where(june_pass_class_map_1 == "{NAMES[3].upper()}", nir, red)'
        made = [
            self.derive(client, small_study, formula).json()["made"][0]
            for formula in (by_name, "where(june_pass_class_map_1 == 3, nir, red)")
        ]
        scene = open_layer(small_study.scene_id)
        whole = scene.grid.whole
        nir, red = scene.read(whole, ("nir", "red")).values
        codes = codes_of(map_id)
        expected = np.where(np.isnan(codes), np.nan, np.where(codes == 3, nir, red))
        for layer in made:
            values = open_layer(layer["id"]).read(whole).values[0]
            assert np.array_equal(values, expected.astype(np.float32), equal_nan=True)
        assert (
            f"“{NAMES[3].upper()}”" in made[0]["sentence"]
            or NAMES[3].upper() in (made[0]["sentence"])
        )

    @pytest.mark.parametrize(
        ("formula", "words"),
        [
            ('where(june_pass_class_map_1 == "Watr", nir, red)', "Did you mean “Water”"),
            ('where(june_pass_class_map_1 == "Desert", nir, red)', "There are Water"),
            ('where(nir == "Water", nir, red)', "nir is no class map"),
            ('nir + "Water"', "A class is compared with a class map"),
            ('where(june_pass_class_map_1 > "Water", nir, red)', "A class is compared"),
            ('"Water"', "A class is compared with a class map"),
            ('where(june_pass_class_map_1 == "Water, nir, red)', "has no meaning here"),
        ],
    )
    def test_mistakes_are_told_where_they_are(
        self, client: TestClient, small_study: SmallStudy, map_id: int, formula: str, words: str
    ) -> None:
        assert map_id
        answer = self.derive(client, small_study, formula)
        assert answer.status_code == 422 and words in answer.json()["detail"], answer.text


def test_readouts_tell_its_codes(client: TestClient, small_study: SmallStudy, map_id: int) -> None:
    x, y = centre_of(70, 90)
    params = {"x": x, "y": y, "scenes": [small_study.scene_id], "layers": [map_id]}
    found = client.get(f"/api/studies/{small_study.id}/readout", params=params).json()
    assert found["layer_codes"] == {str(map_id): 4}


def test_shares_of_a_region_are_counted(
    client: TestClient, small_study: SmallStudy, map_id: int
) -> None:
    whole = client.post(f"/api/maps/{map_id}/shares", json={}).json()
    codes = codes_of(map_id)
    assert {c["code"]: c["pixels"] for c in whole["classes"]} == {
        code: int((codes == code).sum()) for code in NAMES
    }
    assert whole["exact"] and whole["n_covered"] == codes.size
    assert sum(c["percent"] for c in whole["classes"]) == pytest.approx(100)
    of_site = {"site_ids": [small_study.site_ids[2]]}
    found = client.post(f"/api/maps/{map_id}/shares", json=of_site).json()
    assert {c["code"]: c["percent"] for c in found["classes"]}[2] > 95
    assert client.post(f"/api/maps/{small_study.scene_id}/shares", json={}).status_code == 422


def test_along_a_line(client: TestClient, small_study: SmallStudy, map_id: int) -> None:
    vertices = [list(centre_of(70, 20)), list(centre_of(70, 110))]
    body = {"vertices": vertices, "members": [f"{small_study.scene_id}:nir", f"{map_id}:class"]}
    found = client.post(f"/api/studies/{small_study.id}/line", json=body).json()
    assert found["values"][1] == [float(code) for code in codes_of(map_id)[70, 20:111]]
