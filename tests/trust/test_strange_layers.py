"""Layers that this version of the program cannot follow, and a database that is newer than it: the
study opens all the same and shows what it can."""

from typing import Any

import pytest
from fastapi.testclient import TestClient

from kitesort.core.errors import NewerDatabaseError
from kitesort.runs.perform import perform_run
from kitesort.store.database import db, migrate, transaction
from kitesort.store.layers import recipe_of
from kitesort.store.models import LayerRow
from kitesort.store.runs import create_run
from kitesort.study.rasters import _from_recipe
from support.study import SmallStudy, map_order

LEAF = {"kind": "layer", "layer_id": 0, "name": "June pass"}


def node(operation: str, version: int = 1, settings: Any = None, **more: Any) -> dict[str, Any]:
    told = {"kind": "operation", "operation": operation, "version": version}
    return told | {"settings": settings or {}, "inputs": [LEAF]} | more


STRANGE = {
    "unknown operation": (node("from-the-future"), "no operation called “from-the-future”"),
    "other version": (node("scale", 99, {"scale": 2.0}), "version 99 of “Scale and offset”"),
    "bad settings": (node("scale", 1, {"scale": -1.0}), "Scale"),
    "no recipe": ({"source": {"kind": "scene"}}, "recipe cannot be read"),
    "nothing": ({}, "recipe cannot be read"),
    "a list": ([1, 2], "recipe cannot be read"),
    "layer gone": (node("scale", 1, {"scale": 2.0}, inputs=[LEAF | {"layer_id": 10**8}]), "gone"),
    "no input": (node("scale", 1, {"scale": 2.0}, inputs=[]), "recipe cannot be read"),
    "two inputs for one": (node("scale", 1, {"scale": 2.0}, inputs=[LEAF, LEAF]), None),
}


def put(study: SmallStudy, kind: str) -> dict[str, int]:
    """A layer of each strange recipe; ids by what is strange."""
    made = {}
    for name, (told, _) in STRANGE.items():
        recipe = _placed(told, study.scene_id)
        row = LayerRow.create(study_id=study.id, kind=kind, title=f"{kind} {name}", recipe=recipe)
        made[name] = row.id
    return made


def _placed(told: Any, scene_id: int) -> Any:
    if isinstance(told, dict):
        here = {key: _placed(value, scene_id) for key, value in told.items()}
        return here | {"layer_id": scene_id} if told.get("layer_id") == 0 else here
    return [_placed(one, scene_id) for one in told] if isinstance(told, list) else told


def test_scenes_that_cannot_be_followed_are_told_of_apart(
    client: TestClient, small_study: SmallStudy
) -> None:
    made = put(small_study, "measured")
    base = f"/api/studies/{small_study.id}"
    whole = [name for name, (_, words) in STRANGE.items() if words is None]
    listed = {scene["id"] for scene in client.get(f"{base}/scenes").json()}
    assert listed == {small_study.scene_id, *(made[name] for name in whole)}
    broken = {one["id"]: one["problem"] for one in client.get(f"{base}/broken-scenes").json()}
    for name, (_, words) in STRANGE.items():
        if words is not None:
            assert words in broken[made[name]] or words == "gone", (name, broken[made[name]])
            assert len(broken[made[name]]) > 20
    for path in ("layer-names", "deliveries", "runs", "edits", "series", "maps"):
        assert client.get(f"{base}/{path}").status_code == 200, path
    assert client.get(f"/api/layers/{small_study.scene_id}/dependants").status_code == 200
    for name, layer_id in made.items():
        assert client.get(f"/api/layers/{layer_id}/dependants").status_code == 200, name
        assert client.patch(f"/api/layers/{layer_id}", json={"title": f"x {name}"}).is_success
        assert client.delete(f"/api/layers/{layer_id}").status_code == 204, name
    assert [s["id"] for s in client.get(f"{base}/scenes").json()] == [small_study.scene_id]


def test_maps_that_cannot_be_followed_say_why(client: TestClient, small_study: SmallStudy) -> None:
    made = put(small_study, "classes")
    found = {m["id"]: m for m in client.get(f"/api/studies/{small_study.id}/maps").json()}
    assert set(found) == set(made.values())
    for name, (_, words) in STRANGE.items():
        told = found[made[name]]
        assert told["grid"] is None or words is None, name
        assert len(told["sentence"]) > 20, name
        for part in (f"maps/{told['id']}/tiles/0/0/0.png", f"layers/{told['id']}/file",
                     f"maps/{told['id']}/accuracy", f"layers/{told['id']}/recipe"):  # fmt: skip
            assert client.get(f"/api/{part}").status_code < 500, (name, part)


def test_a_kept_map_is_looked_at_whatever_its_recipe_says(
    client: TestClient, small_study: SmallStudy
) -> None:
    run = create_run(small_study.id, "Classifying", "map", map_order(small_study))
    perform_run(run.id)
    (made,) = client.get(f"/api/studies/{small_study.id}/maps").json()
    parts = ("tiles/0/0/0.png", "shares", "accuracy")
    before = [_ask(client, made["id"], part) for part in parts]
    LayerRow.update(recipe=node("from-the-future")).where(LayerRow.id == made["id"]).execute()
    recipe_of.forget()
    _from_recipe.forget()
    assert [_ask(client, made["id"], part) for part in parts] == before


def _ask(client: TestClient, map_id: int, part: str) -> bytes:
    address = f"/api/maps/{map_id}/{part}"
    answer = client.post(address, json={}) if part == "shares" else client.get(address)
    assert answer.status_code == 200, answer.text
    return answer.content


def test_a_newer_database_is_left_alone(store: str) -> None:
    assert store
    with transaction():
        db.execute_sql("INSERT INTO migration (name) VALUES ('9999_future.sql')")
    try:
        with pytest.raises(NewerDatabaseError, match="newer version of the program"):
            migrate()
    finally:
        with transaction():
            db.execute_sql("DELETE FROM migration WHERE name = '9999_future.sql'")
    assert migrate() == []
