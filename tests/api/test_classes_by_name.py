"""Steps made for one map, done to another whose classes have other codes: each class by its name,
or a sentence; never one class for another."""

from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient

from kitesort.core.errors import BadSettingsError
from kitesort.core.legend import LegendEntry
from kitesort.core.raster.protocol import roles_of
from kitesort.core.tidy.methods.edits import EditsSettings
from kitesort.core.tidy.methods.majority import MajoritySettings
from kitesort.core.tidy.methods.recode import RecodeSettings
from kitesort.core.tidy.methods.rules import RulesSettings
from kitesort.core.tidy.methods.sieve import SieveSettings
from kitesort.core.tidy.other_map import for_other_map
from kitesort.runs.perform import perform_run
from kitesort.store.runs import create_run
from kitesort.study.rasters import open_layer
from support.study import SmallStudy, map_order

Step = dict[str, Any]
HERE = {1: "Water", 2: "Pasture", 3: "Barley"}
THERE = tuple(
    LegendEntry(c, n, "#102030") for c, n in ((2, "water"), (3, "Pasture"), (9, "Barley"))
)
BECOMES = {"code": 2, "name": "", "colour": ""}
OUTLINE = {"type": "Polygon", "coordinates": [[[0, 0], [1, 0], [0, 1], [0, 0]]]}


@pytest.mark.parametrize(
    ("made", "expected"),
    [
        (SieveSettings(least_px=4, classes=(1, 3)), {"classes": (2, 9)}),
        (
            MajoritySettings(changing=(1,), winning=(3, 255)),
            {"changing": (2,), "winning": (9, 255)},
        ),
        (
            RecodeSettings.model_validate(
                {"table": [{"code": 1, "to": 2}, {"code": 3, "to": 255}]}
            ),
            {"table": [{"code": 2, "to": 3}, {"code": 9, "to": 255}]},
        ),
        (
            RulesSettings.model_validate(
                {
                    "rules": [
                        {
                            "classes": [3],
                            "becomes": BECOMES,
                            "conditions": [
                                {"layer": {"scene_id": 1, "role": "class"}, "relation": "is",
                                 "value": 1}
                            ],
                        }
                    ]
                }
            ),
            {"rules": [{"classes": (9,), "becomes": {"code": 3}, "conditions": [{"value": 1.0}]}]},
        ),
        (
            EditsSettings.model_validate(
                {"edits": [{"outline": OUTLINE, "classes": [1, 2], "becomes": BECOMES}]}
            ),
            {"edits": [{"classes": (2, 3), "becomes": {"code": 3}, "outline": OUTLINE}]},
        ),
    ],
    ids=["sieve", "majority", "recode", "rules", "edits"],
)  # fmt: skip
def test_every_code_of_the_map_follows_its_name(made: Any, expected: Any) -> None:
    """The code that another layer is compared with stays: that layer is the same one."""
    found = for_other_map(made, HERE, THERE).model_dump()
    assert _within(found, expected)


def _within(found: Any, expected: Any) -> bool:
    """Whether all that is expected stands in what was found."""
    if isinstance(expected, dict):
        return all(_within(found[key], one) for key, one in expected.items())
    if isinstance(expected, list):
        return len(found) == len(expected) and all(map(_within, found, expected))
    return bool(found == expected)


def test_a_class_that_the_other_map_has_not_is_named() -> None:
    with pytest.raises(BadSettingsError, match="no class “Pasture”"):
        for_other_map(SieveSettings(least_px=4, classes=(2,)), HERE, THERE[:1])


def test_a_class_that_a_step_brings_in_is_found_where_it_is() -> None:
    dark = {"table": [{"code": 1, "to": 77, "name": "Barley", "colour": "#101010"}]}
    found = for_other_map(RecodeSettings.model_validate(dark), {1: "Water"}, THERE)
    assert (found.table[0].code, found.table[0].to) == (2, 9)
    alone = for_other_map(RecodeSettings.model_validate(dark), {1: "Water"}, THERE[:1])
    assert (alone.table[0].code, alone.table[0].to) == (2, 77)


@pytest.fixture
def make(client: TestClient, small_study: SmallStudy) -> Callable[..., Any]:
    """Do steps to maps; what the server says."""

    def correct(layer_ids: list[int], *steps: Step) -> Any:
        body = {"layer_ids": layer_ids, "steps": list(steps)}
        return client.post(f"/api/studies/{small_study.id}/corrections", json=body).json()

    return correct


@pytest.fixture
def maps(client: TestClient, small_study: SmallStudy, make: Callable[..., Any]) -> tuple[Any, Any]:
    """A map of four classes, and the same one with the first two codes exchanged."""
    run = create_run(small_study.id, "A map", "map", map_order(small_study))
    perform_run(run.id)
    (first,) = client.get(f"/api/studies/{small_study.id}/maps").json()
    a, b = (one for one in first["legend"] if one["code"] in (1, 2))
    away = [recoded(1, 20, a), recoded(2, 21, b)]
    back = [recoded(20, 2, a), recoded(21, 1, b)]
    steps = [{"operation": "recode", "settings": {"table": table}} for table in (away, back)]
    (second,) = make([first["id"]], *steps)["maps"]
    return first, second


def recoded(code: int, to: int, entry: Any) -> Step:
    return {"code": code, "to": to, "name": entry["name"], "colour": entry["colour"]}


def codes_of(layer_id: int) -> Any:
    raster = open_layer(layer_id)
    block = raster.read(raster.grid.whole, roles_of(raster)[:1])
    return np.where(block.valid, block.values[0], 0).astype(np.uint16)


def test_a_chain_finds_the_same_classes_in_another_map(
    maps: tuple[Any, Any], make: Callable[..., Any]
) -> None:
    first, second = (one["id"] for one in maps)
    step = {"operation": "recode", "settings": {"table": [{"code": 1, "to": 3}]}}
    made = make([first, second], step)["maps"]
    assert len(made) == 2
    here, there = (codes_of(one["id"]) for one in made)
    before = codes_of(first)
    assert (before == 1).any() and np.array_equal(here, np.where(before == 1, 3, before))
    assert np.array_equal(there, np.where(here == 2, 1, here))


def test_what_the_other_map_has_not_is_told_and_the_rest_is_made(
    maps: tuple[Any, Any], make: Callable[..., Any]
) -> None:
    first, second = (one["id"] for one in maps)
    gone = {"operation": "recode", "settings": {"table": [{"code": 1, "to": 3}]}}
    (without,) = make([second], {**gone, "settings": {"table": [{"code": 2, "to": 3}]}})["maps"]
    found = make([first, without["id"]], gone)
    assert len(found["maps"]) == 1
    (problem,) = found["problems"]
    name = next(e["name"] for e in maps[0]["legend"] if e["code"] == 1)
    assert problem["sentence"].startswith(f"Step 1, Recode and join: The map has no class “{name}”")


def test_steps_are_matched_before_they_are_done(client: TestClient, maps: tuple[Any, Any]) -> None:
    first, second = maps
    classes = [{"code": e["code"], "name": e["name"]} for e in first["legend"]]
    body = {"steps": [{"operation": "sieve", "settings": {"least_px": 4, "classes": [1]}}]}
    address = f"/api/maps/{second['id']}/matched-steps"
    answer = client.post(address, json={**body, "classes": classes})
    assert answer.json()[0]["settings"]["classes"] == [2]
    other = client.post(address, json={**body, "classes": [{"code": 1, "name": "New harbour"}]})
    assert other.status_code == 422 and "New harbour" in other.json()["detail"]


@pytest.mark.parametrize(
    ("becomes", "problem"),
    [
        ({"code": 3, "name": "New harbour", "colour": "#101010"}, "not for “New harbour”"),
        ({"code": 77, "name": "taken", "colour": "#101010"}, "Give each class one code"),
    ],
)
@pytest.mark.parametrize("operation", ["recode", "rules", "edits"])
def test_one_class_is_never_painted_for_another(
    client: TestClient, maps: tuple[Any, Any], operation: str, becomes: Step, problem: str
) -> None:
    first, _ = maps
    taken = next(e["name"] for e in first["legend"] if e["code"] == 3)
    becomes = {**becomes, "name": becomes["name"].replace("taken", taken.upper())}
    left, bottom, _, top = open_layer(first["id"]).grid.bounds
    corners = [[left, top], [left + 90, top], [left, bottom], [left, top]]
    outline = {"type": "Polygon", "coordinates": [corners]}
    to = {"code": 1, "to": becomes["code"], "name": becomes["name"], "colour": becomes["colour"]}
    settings = {
        "recode": {"table": [to]},
        "rules": {"rules": [{"classes": [1], "becomes": becomes}]},
        "edits": {"edits": [{"outline": outline, "becomes": becomes}]},
    }[operation]
    body = {"steps": [{"operation": operation, "settings": settings}]}
    found = client.post(f"/api/maps/{first['id']}/tidied", json=body).json()
    assert problem in (found["problem"] or "")
