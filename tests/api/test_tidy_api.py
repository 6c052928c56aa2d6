"""Tidying over the API: the steps with their forms, what they would change, tiles, many at once."""

import io
import json
from pathlib import Path
from typing import Any

import numpy as np
import pyogrio
import pytest
from fastapi.testclient import TestClient
from PIL import Image
from scipy import ndimage

from kitesort.core.display.tile import VEIL
from kitesort.core.geodesy import pixel_areas_ha
from kitesort.core.raster.protocol import roles_of
from kitesort.core.tidy.methods.sieve import sieve
from kitesort.runs.perform import perform_run
from kitesort.store.files import export_path
from kitesort.store.runs import create_run
from kitesort.study.rasters import open_layer
from support.study import ROLES, SmallStudy, map_order

Json = dict[str, Any]
SIEVE = {"operation": "sieve", "settings": {"least_px": 6}}
MAJORITY = {"operation": "majority", "settings": {"window_px": 5}}


@pytest.fixture
def map_id(client: TestClient, small_study: SmallStudy) -> int:
    """A map of k-means with many clusters, which is speckled."""
    s = small_study
    body = {"scene_id": s.scene_id, "roles": list(ROLES), "settings": {"n_clusters": 9}}
    run = client.post(f"/api/studies/{s.id}/cluster-runs", json=body)
    assert run.status_code == 201, run.text
    perform_run(run.json()["id"])
    (made,) = client.get(f"/api/studies/{s.id}/maps").json()
    return int(made["id"])


def codes_of(layer_id: int) -> Any:
    raster = open_layer(layer_id)
    block = raster.read(raster.grid.whole, roles_of(raster)[:1])
    return np.where(block.valid, block.values[0], 0).astype(np.uint16)


def test_steps_come_with_their_forms(client: TestClient) -> None:
    found = {one["id"]: one for one in client.get("/api/tidyings").json()}
    steps = {"majority", "sieve", "fill", "recode", "rules", "edits", "scores"}
    assert set(found) == steps | {"mask-areas", "mask-like", "mask-classes"}
    for one in found.values():
        assert "classes" in one["takes"]
        for field in one["settings_schema"]["properties"].values():
            assert field.get("title") and field.get("description")


def test_what_would_change_is_counted_before_anything_is_kept(
    client: TestClient, map_id: int
) -> None:
    before = codes_of(map_id)
    after = sieve(before, 6, False, ())
    told = client.post(f"/api/maps/{map_id}/tidied", json={"steps": [SIEVE]}).json()
    assert told["problem"] is None and told["exact"]
    assert told["changed"] == pytest.approx((before != after).sum() / (before > 0).sum())
    grid = open_layer(map_id).grid
    hectares = pixel_areas_ha(grid, grid.whole)[before != after].sum()
    assert told["changed_ha"] == pytest.approx(hectares, rel=1e-9)
    for one in told["classes"]:
        assert one["before"] == (before == one["code"]).sum()
        assert one["after"] == (after == one["code"]).sum()
    assert told["sentence"].endswith("; patches below 6 pixels taken out.")
    query = {"steps": json.dumps([SIEVE])}
    tile = client.get(f"/api/maps/{map_id}/tidied/tiles/0/0/0.png", params=query)
    assert tile.status_code == 200
    plain = client.get(f"/api/maps/{map_id}/tiles/0/0/0.png")
    pictures = [
        np.asarray(Image.open(io.BytesIO(t.content)).convert("RGBA")) for t in (tile, plain)
    ]
    differs = (pictures[0] != pictures[1]).any(axis=2)[: before.shape[0], : before.shape[1]]
    assert np.array_equal(differs, before != after)
    lit = client.get(f"/api/maps/{map_id}/tidied/tiles/0/0/0.png", params=query | {"lit": "true"})
    picture = np.asarray(Image.open(io.BytesIO(lit.content)).convert("RGBA"))
    veiled = (picture == VEIL).all(axis=2)[: before.shape[0], : before.shape[1]]
    assert np.array_equal(veiled, (before == after) & (before > 0))


def test_a_chain_is_done_to_many_maps_and_kept_like_its_recipe(
    client: TestClient, small_study: SmallStudy, map_id: int
) -> None:
    s = small_study
    body = {"scene_id": s.scene_id, "roles": list(ROLES)}
    perform_run(client.post(f"/api/studies/{s.id}/runs", json=body).json()["id"])
    others = [one["id"] for one in client.get(f"/api/studies/{s.id}/maps").json()]
    ids = [map_id, *(i for i in others if i != map_id)]
    order = {"layer_ids": ids, "steps": [MAJORITY, SIEVE]}
    made = client.post(f"/api/studies/{s.id}/corrections", json=order).json()
    assert len(made["maps"]) == 2 and made["problems"] == []
    titles = [one["title"] for one in made["maps"]]
    assert all(title.endswith("smoothed, sieved") for title in titles)
    first = made["maps"][0]["id"]
    lazily = codes_of(first)
    run = client.post(f"/api/layers/{first}/keep")
    assert run.status_code == 201, run.text
    perform_run(run.json()["id"])
    kept = open_layer(first, "work")
    block = kept.read(kept.grid.whole)
    assert np.array_equal(np.where(block.valid, block.values[0], 0), lazily)
    told = client.get(f"/api/maps/{ids[0]}/against/{first}").json()
    assert 0.5 < told["same"] < 1


def test_what_cannot_be_done_is_a_sentence(
    client: TestClient, small_study: SmallStudy, map_id: int
) -> None:
    address = f"/api/maps/{map_id}/tidied"
    wrong = {"operation": "majority", "settings": {"winning": [77]}}
    told = client.post(address, json={"steps": [wrong]}).json()
    assert told["sentence"] is None and "no class of the code 77" in told["problem"]
    assert client.post(address, json={"steps": []}).status_code == 422
    unknown = client.post(address, json={"steps": [{"operation": "polish"}]})
    assert unknown.status_code == 404 and "polish" in unknown.json()["detail"]
    moved = {"operation": "crop", "settings": {}}
    assert client.post(address, json={"steps": [moved]}).json()["problem"]
    for steps in ("[", "[]", "7", '[{"operation": 3}]', "[" * 9000):
        tile = client.get(f"{address}/tiles/0/0/0.png", params={"steps": steps})
        assert tile.status_code == 422, steps[:20]
    scene = client.post(f"/api/maps/{small_study.scene_id}/tidied", json={"steps": [SIEVE]})
    assert scene.status_code == 422


def test_rules_and_edits_tell_what_they_touch(
    client: TestClient, small_study: SmallStudy, map_id: int
) -> None:
    before = codes_of(map_id)
    scene = open_layer(small_study.scene_id)
    red = scene.read(scene.grid.whole, ("red",)).values[0]
    middle = float(np.nanmedian(red))
    layer = {"scene_id": small_study.scene_id, "role": "red"}
    rule = {
        "conditions": [{"layer": layer, "relation": "below", "value": middle}],
        "becomes": {"code": 77, "name": "Dark", "colour": "#101010"},
    }
    left, bottom, right, top = scene.grid.bounds
    ring = [[left, top], [(left + right) / 2, top], [left, bottom], [left, top]]
    edit = {
        "outline": {"type": "Polygon", "coordinates": [ring]},
        "becomes": {"code": 255},
        "note": "nobody knows",
    }
    steps = [
        {"operation": "rules", "settings": {"rules": [rule]}},
        {"operation": "edits", "settings": {"edits": [edit]}},
    ]
    told = client.post(f"/api/maps/{map_id}/tidied", json={"steps": steps}).json()
    assert told["problem"] is None, told
    ruled, edited = told["touched"]
    dark = (before > 0) & (red < np.float32(middle))
    assert (ruled["words"], ruled["step"], ruled["n"]) == ("Rule 1", 0, dark.sum())
    assert edited["words"] == "Edit 1: nobody knows" and edited["step"] == 1
    assert "(nobody knows)" in told["sentence"]
    made = correct(client, small_study.id, map_id, steps)
    after = codes_of(made)
    assert (after == 255).sum() == edited["n"] > 0
    assert ((after == 77) == (dark & (after != 255))).all()
    moved = {(one["before"], one["after"]): one["n"] for one in told["from_to"]}
    for (a, b), n in moved.items():
        assert n == ((before == a) & (after == b)).sum()
    assert sum(moved.values()) == (before != after).sum()
    for one in told["classes"]:
        labels = ndimage.label(after == one["code"], np.ones((3, 3)))[1]
        assert one["pieces_after"] == labels


def test_what_is_right_at_the_reference_points_is_told_before_and_after(
    client: TestClient, small_study: SmallStudy
) -> None:
    """As the error matrices of both maps have it, once they are kept."""
    s = small_study
    run = create_run(s.id, "Classifying", "map", map_order(s))
    perform_run(run.id)
    (made,) = client.get(f"/api/studies/{s.id}/maps").json()
    one, other = (entry["code"] for entry in made["legend"][:2])
    steps = [{"operation": "recode", "settings": {"table": [{"code": one, "to": other}]}}]
    right = client.post(f"/api/maps/{made['id']}/tidied", json={"steps": steps}).json()["right"]
    recoded = correct(client, s.id, made["id"], steps)
    matrices = [client.get(f"/api/maps/{i}/accuracy").json() for i in (made["id"], recoded)]
    assert right["n"] == matrices[0]["n_points"] == 20, "the one on fill is not counted"
    for when, told in zip(("before", "after"), matrices, strict=True):
        assert right[when] == pytest.approx(np.trace(told["counts"]))
    assert 0 < right["after"] < right["before"]


def test_a_map_of_other_classes_is_right_nowhere(client: TestClient, map_id: int) -> None:
    told = client.post(f"/api/maps/{map_id}/tidied", json={"steps": [SIEVE]}).json()
    assert told["right"] == {"n": 0, "before": 0, "after": 0}, "clusters have no class's name"


def correct(client: TestClient, study_id: int, layer_id: int, steps: list[Json]) -> int:
    order = {"layer_ids": [layer_id], "steps": steps}
    made = client.post(f"/api/studies/{study_id}/corrections", json=order)
    assert made.status_code == 201, made.text
    found = made.json()
    return int((found["maps"] or found["made"])[0]["id"])


def test_a_scene_and_a_map_are_masked_by_classes(
    client: TestClient, small_study: SmallStudy, map_id: int
) -> None:
    codes = codes_of(map_id)
    chosen = [int(code) for code in np.unique(codes[codes > 0])[:2]]
    mask = {
        "operation": "mask-classes",
        "settings": {"ground": {"layer_id": map_id, "codes": chosen}},
    }
    inside = np.isin(codes, chosen)
    for layer_id in (small_study.scene_id, map_id):
        made = open_layer(correct(client, small_study.id, layer_id, [mask]))
        block = made.read(made.grid.whole)
        assert not block.valid[~inside].any()
        whole = open_layer(layer_id).read(made.grid.whole)
        assert np.array_equal(block.valid, whole.valid & inside)
    wrong = {**mask, "settings": {"ground": {"layer_id": map_id, "codes": [200]}}}
    told = client.post(f"/api/maps/{map_id}/tidied", json={"steps": [wrong]}).json()
    assert "no class of the code 200" in told["problem"]
    scene = {**mask, "settings": {"ground": {"layer_id": small_study.scene_id, "codes": [1]}}}
    told = client.post(f"/api/maps/{map_id}/tidied", json={"steps": [scene]}).json()
    assert "has no classes" in told["problem"]


def test_a_chain_is_kept_in_the_study(client: TestClient, small_study: SmallStudy) -> None:
    address = f"/api/studies/{small_study.id}/presets"
    chain = {"kind": "chain", "name": "Usual", "content": {"steps": [MAJORITY, SIEVE]}}
    assert client.post(address, json=chain).status_code == 201
    (kept,) = client.get(address).json()
    assert kept["content"]["steps"] == [MAJORITY, SIEVE]
    for steps in (
        [],
        [{"operation": "majority", "settings": {"window_px": 4}}],
        [{"operation": "classify"}],
        [{"operation": "polish"}],
        "sieve",
        [SIEVE] * 31,
    ):
        bad = {**chain, "content": {"steps": steps}}
        assert client.post(address, json=bad).status_code in (404, 422)
    assert client.get(address).json() == [kept]


@pytest.mark.parametrize("form", ["gpkg", "geojson"])
def test_polygons_are_made_by_a_run_and_taken_away(
    client: TestClient, small_study: SmallStudy, map_id: int, tmp_path: Path, form: str
) -> None:
    measure = {"scene_id": small_study.scene_id, "role": "red"}
    order = {"tolerance_m": 0, "form": form, "measure": measure}
    run = client.post(f"/api/maps/{map_id}/polygons", json=order)
    assert run.status_code == 201, run.text
    address = f"/api/runs/{run.json()['id']}/file"
    assert client.get(address).status_code == 404
    perform_run(run.json()["id"])
    path = tmp_path / f"found.{form}"
    path.write_bytes(client.get(address).content)
    meta, _, wkb, columns = pyogrio.raw.read(path)
    told = dict(zip(meta["fields"], columns, strict=True))
    codes = codes_of(map_id)
    for code in np.unique(codes[codes > 0]):
        assert told["pixels"][told["code"] == code].sum() == (codes == code).sum()
    assert told["area_ha"].sum() == pytest.approx(hectares_of(map_id), rel=1e-4)
    assert np.isfinite(told["mean_red"]).all() and len(wkb) == len(told["code"])
    (entry,) = [r for r in client.get(f"/api/studies/{small_study.id}/runs").json()
                if r["kind"] == "polygons"]  # fmt: skip
    assert entry["polygons"]["n_polygons"] == len(wkb)
    assert entry["polygons"]["largest_change"] < 1e-9
    export_path(f"polygons-{map_id}-run-{entry['id']}.{form}").unlink()
    gone = client.get(address)
    assert gone.status_code == 404 and "Make the polygons again" in gone.json()["detail"]


def hectares_of(map_id: int) -> float:
    """Of all pixels with a class, on the ellipsoid."""
    grid = open_layer(map_id).grid
    return float(pixel_areas_ha(grid, grid.whole)[codes_of(map_id) > 0].sum())


def test_polygons_that_cannot_be_made(
    client: TestClient, small_study: SmallStudy, map_id: int
) -> None:
    address = f"/api/maps/{map_id}/polygons"
    for order in (
        {"tolerance_m": -1}, {"tolerance_m": 1e9}, {"form": "dwg"},
        {"measure": {"scene_id": small_study.scene_id, "role": "mauve"}},
    ):  # fmt: skip
        assert client.post(address, json=order).status_code == 422, order
    gone = client.post(address, json={"measure": {"scene_id": 999_999, "role": "red"}})
    assert gone.status_code == 404
    scene = client.post(f"/api/maps/{small_study.scene_id}/polygons", json={})
    assert scene.status_code == 422
