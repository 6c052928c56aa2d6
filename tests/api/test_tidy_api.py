"""Tidying over the API: the steps with their forms, what they would change, tiles, many at once."""

import io
import json
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from kitesort.core.raster.protocol import roles_of
from kitesort.core.tidy.methods.sieve import sieve
from kitesort.runs.perform import perform_run
from kitesort.study.rasters import open_layer
from support.study import ROLES, SmallStudy

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
    return np.where(block.valid, block.values[0], 0).astype(np.uint8)


def test_steps_come_with_their_forms(client: TestClient) -> None:
    found = {one["id"]: one for one in client.get("/api/tidyings").json()}
    assert set(found) == {"majority", "sieve", "fill", "recode"}
    for one in found.values():
        assert one["takes"] == ["classes"]
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
