"""Fifty kept maps and five hundred sites: what is out of date is known without reading recipes or
files, and follows from pixels alone."""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import pytest
from fastapi.testclient import TestClient

from kitesort.core.raster import file as raster_file
from kitesort.runs.perform import perform_run
from kitesort.store.database import db
from kitesort.store.files import layer_path
from kitesort.store.layers import get_layer
from kitesort.store.models import LayerRow
from kitesort.store.sites import create_sites
from support.small_scene import rectangle
from support.study import ROLES, SmallStudy

N_MAPS, N_SITES = 50, 500


def keep_maps(client: TestClient, study: SmallStudy, n: int) -> str:
    """One map that is made, and rows like it; where they are listed."""
    body = {"scene_id": study.scene_id, "roles": list(ROLES)}
    perform_run(client.post(f"/api/studies/{study.id}/runs", json=body).json()["id"])
    row = LayerRow.get(LayerRow.study_id == study.id, LayerRow.kind == "classes")
    columns = {f.name: getattr(row, f.name) for f in LayerRow._meta.sorted_fields if f.name != "id"}
    LayerRow.insert_many([columns | {"title": f"Copy {i}"} for i in range(n - 1)]).execute()
    return f"/api/studies/{study.id}/maps"


@contextmanager
def counting(monkeypatch: pytest.MonkeyPatch) -> Iterator[dict[str, list[str]]]:
    """Statements sent to the database, and files opened."""
    seen: dict[str, list[str]] = {"queries": [], "files": []}
    execute, opened = db.execute_sql, raster_file.open_dataset

    def listen(sql: str, *args: Any, **more: Any) -> Any:
        seen["queries"].append(sql)
        return execute(sql, *args, **more)

    def watch(path: str, *args: Any, **more: Any) -> Any:
        seen["files"].append(path)
        return opened(path, *args, **more)

    with monkeypatch.context() as patched:
        patched.setattr(db, "execute_sql", listen)
        patched.setattr(raster_file, "open_dataset", watch)
        yield seen


def test_maps_are_listed_without_their_recipes(
    client: TestClient, small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    sites = [
        (small_study.class_ids[1 + i % 4], rectangle(2 + i % 40, 8 + i % 100, 3, 3), "")
        for i in range(N_SITES - len(small_study.site_ids))
    ]
    create_sites(small_study.id, sites)
    address = keep_maps(client, small_study, N_MAPS)
    client.patch(f"/api/layers/{small_study.scene_id}", json={"title": "Called otherwise"})
    for class_id in small_study.class_ids.values():
        body = {"name": f"Renamed {class_id}", "colour": "#123456"}
        assert client.patch(f"/api/classes/{class_id}", json=body).status_code == 200
    client.get(address)
    with counting(monkeypatch) as seen:
        found = client.get(address).json()
    assert len(found) == N_MAPS
    assert {layer["up_to_date"] for layer in found} == {True}, "names are no pixels"
    assert seen["files"] == []
    assert not any('"recipe"' in sql and '"layer"' in sql for sql in seen["queries"])
    assert len(seen["queries"]) < 40, seen["queries"]

    client.delete(f"/api/sites/{small_study.site_ids[1]}")
    assert not any(layer["up_to_date"] for layer in client.get(address).json())


def test_a_map_whose_file_is_gone_takes_no_other_with_it(
    client: TestClient, small_study: SmallStudy
) -> None:
    address = keep_maps(client, small_study, 3)
    first = client.get(address).json()[0]
    layer_path(get_layer(first["id"]).kept_path or "").unlink()
    found = client.get(address).json()
    assert len(found) == 3 and found[0] == first
    answer = client.get(f"/api/layers/{first['id']}/file")
    assert answer.status_code == 404 and "Keep it again" in answer.json()["detail"]


def test_maps_from_before_tell_of_themselves_when_they_are_first_listed(
    client: TestClient, small_study: SmallStudy
) -> None:
    address = keep_maps(client, small_study, 3)
    before = client.get(address).json()
    of_study = (LayerRow.study_id == small_study.id) & (LayerRow.kind == "classes")
    LayerRow.update(told=None).where(of_study).execute()
    assert client.get(address).json() == before
    assert LayerRow.select().where(of_study, LayerRow.told.is_null()).count() == 0
    LayerRow.update(told=None).where(of_study).execute()
    layer_path(get_layer(before[0]["id"]).kept_path or "").unlink()
    assert client.get(address).json() == before, "the recipe tells the same"


def test_a_tile_asks_for_one_row_at_most(
    client: TestClient, small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Of a layer that has been looked at before: other settings, a new picture, no file."""
    address = f"/api/scenes/{small_study.scene_id}/tiles/0/0/0.png?roles=nir,red,blue"
    assert client.get(address).status_code == 200
    for more in ("&high=91", "&low=7&high=92", "&stretch=extremes"):
        with counting(monkeypatch) as seen:
            assert client.get(address + more).status_code == 200
        asked = [sql for sql in seen["queries"] if sql.startswith("SELECT")]
        # One, should news of what was written before come meanwhile.
        assert len(asked) <= 1 and all('"layer"' in sql for sql in asked), asked
        assert seen["files"] == []
