"""The class scheme as a whole, as a program sees it: order, parents, merging, splitting, files."""

from typing import Any
from uuid import uuid4

import pytest
from fastapi.testclient import TestClient

from kitesort.store.scheme import list_classes
from kitesort.store.sites import create_sites, list_sites
from kitesort.store.studies import create_study, list_points
from support.small_scene import NAMES, rectangle
from support.study import SmallStudy


@pytest.fixture
def base(small_study: SmallStudy) -> str:
    return f"/api/studies/{small_study.id}"


def names(s: SmallStudy) -> list[str]:
    return [c.name for c in list_classes(s.id)]


def state(s: SmallStudy) -> Any:
    return list_classes(s.id), list_sites(s.id), list_points(s.id)


def test_classes_have_an_order(client: TestClient, small_study: SmallStudy, base: str) -> None:
    ids = [small_study.class_ids[code] for code in (3, 1, 4, 2)]
    ordered = client.put(f"{base}/class-order", json={"class_ids": ids})
    assert [c["code"] for c in ordered.json()] == [3, 1, 4, 2]
    assert client.put(f"{base}/class-order", json={"class_ids": ids[:3]}).status_code == 422
    client.post(f"{base}/undo")
    assert names(small_study) == list(NAMES.values())


def test_a_new_order_makes_no_map_out_of_date(
    client: TestClient, small_study: SmallStudy, base: str
) -> None:
    params = {"scene_id": small_study.scene_id}
    before = client.get(f"{base}/training", params=params).json()["version"]
    ids = [small_study.class_ids[code] for code in (3, 1, 4, 2)]
    client.put(f"{base}/class-order", json={"class_ids": ids})
    assert client.get(f"{base}/training", params=params).json()["version"] == before


def test_two_levels_and_no_loops(client: TestClient, small_study: SmallStudy) -> None:
    ids = small_study.class_ids

    def belong(code: int, parent: int | None) -> Any:
        wanted = None if parent is None else ids[parent]
        return client.patch(f"/api/classes/{ids[code]}", json={"parent_id": wanted})

    assert belong(3, 4).json()["parent_id"] == ids[4]
    for code, parent in ((3, 3), (4, 3), (4, 1), (1, 3)):
        assert belong(code, parent).status_code == 422, (code, parent)
    assert client.patch(f"/api/classes/{ids[1]}", json={"parent_id": 999_999}).status_code == 422
    assert belong(3, None).json()["parent_id"] is None
    belong(3, 4)
    client.delete(f"/api/classes/{ids[4]}")
    assert [c.parent_id for c in list_classes(small_study.id)] == [None] * 3


def test_a_code_takes_its_reference_points_along(
    client: TestClient, small_study: SmallStudy, base: str
) -> None:
    before = state(small_study)
    taken = client.patch(f"/api/classes/{small_study.class_ids[1]}", json={"code": 2})
    assert taken.status_code == 409
    client.patch(f"/api/classes/{small_study.class_ids[1]}", json={"code": 77})
    now = {p.id: p.class_code for p in list_points(small_study.id)}
    assert now == {p.id: 77 if p.class_code == 1 else p.class_code for p in before[2]}
    client.post(f"{base}/undo")
    assert state(small_study) == before


def test_two_classes_become_one(client: TestClient, small_study: SmallStudy, base: str) -> None:
    ids, before = small_study.class_ids, state(small_study)
    merged = client.post(f"/api/classes/{ids[4]}/merge", json={"into_id": ids[3]})
    assert merged.json()["name"] == "Grass"
    assert names(small_study) == ["Water", "Sand", "Grass"]
    assert sum(site.class_id == ids[3] for site in list_sites(small_study.id)) == 2
    assert 4 not in {p.class_code for p in list_points(small_study.id)}
    client.post(f"{base}/undo")
    assert state(small_study) == before
    for wrong in (ids[4], 999_999):
        refused = client.post(f"/api/classes/{ids[4]}/merge", json={"into_id": wrong})
        assert refused.status_code in (404, 422)


def test_one_class_of_two_kinds_becomes_two(
    client: TestClient, small_study: SmallStudy, base: str
) -> None:
    """Water and sand drawn as one class are taken apart again."""
    class_id, before = small_study.class_ids[1], state(small_study)
    drawn = [(4, 20), (4, 30), (30, 20), (10, 70), (30, 100)]
    create_sites(small_study.id, [(class_id, rectangle(row, col, 5, 5), "") for row, col in drawn])
    order = {"scene_id": small_study.scene_id, "roles": []}
    made = client.post(f"/api/classes/{class_id}/split", json=order).json()
    assert made["name"] == "Water 2"
    moved = [s.geometry for s in list_sites(small_study.id) if s.class_id == made["id"]]
    assert moved == [rectangle(row, col, 5, 5) for row, col in drawn[3:]]
    for _ in range(2):
        client.post(f"{base}/undo")
    assert state(small_study) == before
    refused = client.post(f"/api/classes/{class_id}/split", json=order)
    assert "At least 4 sites" in refused.json()["detail"]


@pytest.mark.parametrize("form", ["json", "csv"])
def test_a_scheme_goes_to_another_study_by_file_or_at_once(
    client: TestClient, small_study: SmallStudy, base: str, form: str
) -> None:
    ids = small_study.class_ids
    client.patch(f"/api/classes/{ids[3]}", json={"parent_id": ids[4], "description": "green"})
    other = create_study(uuid4().hex)
    content = client.get(f"{base}/classes.{form}").content
    there = f"/api/studies/{other.id}"
    taken = client.post(f"{there}/scheme-files", params={"name": f"c.{form}"}, content=content)
    assert taken.json() == {"added": 4, "known": 0}

    def told(study_id: int) -> list[Any]:
        classes = list_classes(study_id)
        parents = {c.id: c.name for c in classes}
        return [
            (c.code, c.name, c.colour, c.description, parents.get(c.parent_id or 0))
            for c in classes
        ]

    assert told(other.id) == told(small_study.id)
    again = client.post(f"{there}/scheme-takes", json={"study_id": small_study.id})
    assert again.json() == {"added": 0, "known": 4}
    client.post(f"{there}/undo")
    assert told(other.id) in ([], told(small_study.id))


def test_codes_and_names_that_are_taken_give_way(
    client: TestClient, small_study: SmallStudy, base: str
) -> None:
    content = b"code,name,colour,parent\n1,Reed,#999933,Water\n9,WATER,#010203,\n"
    taken = client.post(f"{base}/scheme-files", params={"name": "c.csv"}, content=content)
    assert taken.json() == {"added": 1, "known": 1}
    classes = {c.name: c for c in list_classes(small_study.id)}
    assert classes["Reed"].code == 5
    assert classes["Reed"].parent_id == classes["Water"].id
    assert (classes["Water"].code, classes["Water"].colour) == (1, "#010203")
    client.post(f"{base}/undo")
    assert names(small_study) == list(NAMES.values())
    refused = client.post(f"{base}/scheme-files", params={"name": "c.csv"}, content=b"x,y\n1,2\n")
    assert refused.status_code == 422


def test_a_parent_of_a_parent_by_two_files_is_refused(
    client: TestClient, small_study: SmallStudy, base: str
) -> None:
    ids = small_study.class_ids
    client.patch(f"/api/classes/{ids[3]}", json={"parent_id": ids[4]})
    before = state(small_study)
    content = b"name,parent\nWood,Nature\nNature,\n"
    refused = client.post(f"{base}/scheme-files", params={"name": "c.csv"}, content=content)
    assert "two levels" in refused.json()["detail"]
    assert state(small_study) == before
