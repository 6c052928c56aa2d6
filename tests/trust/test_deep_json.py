"""JSON nested hundreds deep, sent to every route that takes a body or an address with JSON in it:
refused in a sentence, nothing is stored, and everything still opens."""

import json
import re
from typing import Any

import pytest
from fastapi.testclient import TestClient

from kitesort.api.main import create_app
from kitesort.store.edits import undo
from kitesort.store.layers import rename_layer
from kitesort.store.studies import create_study
from kitesort.study.rasters import layer_record
from support.study import SmallStudy

DEPTHS = (70, 255, 300, 1_500)
DOCUMENT: dict[str, Any] = create_app().openapi()
TAKES_JSON = [
    (method, path)
    for path, operations in DOCUMENT["paths"].items()
    for method, operation in operations.items()
    if "application/json" in operation.get("requestBody", {}).get("content", {})
]
# Texts in an address that are JSON.
IN_ADDRESSES = ("steps", "method", "unlike", "table", "settings", "outlines")


def nested(depth: int) -> str:
    return "[" * depth + "]" * depth


def fields_of(method: str, path: str) -> list[str]:
    body = DOCUMENT["paths"][path][method]["requestBody"]["content"]["application/json"]["schema"]
    name = body.get("$ref", "").rsplit("/", 1)[-1]
    return list(DOCUMENT["components"]["schemas"].get(name, {}).get("properties", {}))


def address_in(study: SmallStudy, path: str) -> str:
    """Of things that are there where it names them; of others the first there could be."""
    known = {"study_id": study.id, "scene_id": study.scene_id, "layer_id": study.scene_id,
             "site_id": study.site_ids[1], "class_id": study.class_ids[1]}  # fmt: skip
    return re.sub(r"\{(\w+)\}", lambda found: str(known.get(found[1], 1)), path)


def everything_opens(client: TestClient, study: SmallStudy) -> None:
    for what in (
        "",
        f"/{study.id}",
        f"/{study.id}/scenes",
        f"/{study.id}/sites",
        f"/{study.id}/runs",
    ):
        answer = client.get(f"/api/studies{what}", params={"scene_id": study.scene_id})
        assert answer.status_code == 200, (what, answer.text)


@pytest.mark.parametrize("kind", ["application/json", "APPLICATION/JSON", "application/x+JSON"])
@pytest.mark.parametrize("view", [nested(255), '"a\\u0000b"', '"\\ud800"'])
def test_bounded_however_its_kind_is_written(
    client: TestClient, small_study: SmallStudy, kind: str, view: str
) -> None:
    address, body = f"/api/studies/{small_study.id}", f'{{"view": {{"a": {view}}}}}'
    answer = client.patch(address, content=body, headers={"Content-Type": kind})
    assert answer.status_code == 422 and "cannot be" in answer.json()["detail"]
    assert client.get(address).json()["view"] in (None, {})


def test_no_route_stores_what_nobody_can_read(client: TestClient, small_study: SmallStudy) -> None:
    s = small_study
    assert len(TAKES_JSON) > 30
    for method, path in TAKES_JSON:
        address = address_in(s, path)
        for field in [*fields_of(method, path), "anything"]:
            for depth in DEPTHS:
                answer = client.request(
                    method, address, content=f'{{"{field}": {nested(depth)}}}',
                    headers={"content-type": "application/json"},
                )  # fmt: skip
                assert answer.status_code == 422, (method, address, field, depth, answer.text)
                assert "inside of one another" in answer.json()["detail"]
    everything_opens(client, s)


def test_addresses_with_deep_json_are_refused(client: TestClient, small_study: SmallStudy) -> None:
    s, n_asked = small_study, 0
    for path, operations in DOCUMENT["paths"].items():
        for parameter in operations.get("get", {}).get("parameters", []):
            if parameter["in"] != "query" or parameter["name"] not in IN_ADDRESSES:
                continue
            for depth in DEPTHS:
                query = {"scene_id": s.scene_id, parameter["name"]: nested(depth)}
                answer = client.get(address_in(s, path), params=query)
                assert 400 <= answer.status_code < 500, (path, parameter["name"], answer.text)
                n_asked += 1
    assert n_asked >= 20
    everything_opens(client, s)


@pytest.mark.parametrize("number", ["NaN", "Infinity", "-Infinity", "1e999"])
def test_numbers_that_are_none_are_not_stored(
    client: TestClient, small_study: SmallStudy, number: str
) -> None:
    answer = client.patch(
        f"/api/studies/{small_study.id}", content=f'{{"view": {{"zoom": {number}}}}}',
        headers={"content-type": "application/json"},
    )  # fmt: skip
    assert answer.status_code == 422 and "finite" in answer.json()["detail"]
    everything_opens(client, small_study)


def test_a_moderate_view_is_kept(client: TestClient, small_study: SmallStudy) -> None:
    view = {"panes": json.loads(nested(40)), "name": "[" * 300}
    address = f"/api/studies/{small_study.id}"
    assert client.patch(address, json={"view": view}).status_code == 200
    assert client.get(address).json()["view"] == view


def test_a_live_tile_belongs_to_its_study(client: TestClient, small_study: SmallStudy) -> None:
    s = small_study
    query = {"scene_id": s.scene_id}
    live = client.get(f"/api/studies/{s.id}/training", params=query).json()["live"]
    tile = f"live/{live['version']}/0/0/0.png"
    assert client.get(f"/api/studies/{s.id}/{tile}", params=query).status_code == 200
    other = create_study("Another study").id
    for study_id in (other, 10**8):
        answer = client.get(f"/api/studies/{study_id}/{tile}", params=query)
        assert answer.status_code == 404, answer.text
        answer = client.get(f"/api/studies/{study_id}/live/1/0/0/0.png", params=query)
        assert answer.status_code in (404, 422)


def test_a_name_is_as_it_stands(small_study: SmallStudy) -> None:
    s = small_study
    before = layer_record(s.scene_id).title
    rename_layer(s.scene_id, "Another name")
    assert layer_record(s.scene_id).title == "Another name"
    undo(s.id)
    assert layer_record(s.scene_id).title == before


def test_news_of_a_study_that_is_not_there(client: TestClient) -> None:
    assert client.get(f"/api/studies/{10**8}/events").status_code == 404
