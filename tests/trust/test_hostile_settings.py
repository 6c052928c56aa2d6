"""A thousand hostile settings over all operations there are; after each the study opens."""

import json
from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient

from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.correct.registry import COMBINATIONS, CORRECTIONS
from kitesort.core.derive.registry import DERIVATIONS
from kitesort.core.recipe import DeliveredLeaf
from kitesort.store.layers import recipe_of
from kitesort.store.scenes import add_scene
from support.operations import CORRECTION_SETTINGS, DERIVATION_SETTINGS
from support.study import ROLES, SmallStudy

N_HOSTILE = 1_000
VALUES: tuple[Any, ...] = (
    float("inf"), float("-inf"), float("nan"), 1e308, -1e308, 1e-308, 10**400, -(10**30), 2**63,
    -1, 0, 0.5, True, False, None, "", "0", "nan", "x" * 10_000, "zero\0", "\ud800", "../../x",
    "EPSG:0", "IAU_2015:49900", "log(log(log(nir)))", "nir/0", [], {}, [None], [[]], {"a": {}},
    [float("inf")], {"type": "Polygon", "coordinates": []},
    {"type": "Polygon", "coordinates": [[[1e308, 1e308], [0, 0], [1e308, 0], [1e308, 1e308]]]},
    {"left": float("nan"), "right": 1, "top": 1, "bottom": 0}, [1e308] * 300,
)  # fmt: skip


@dataclass(frozen=True)
class Order:
    path: str
    body: dict[str, Any]


def orders(s: SmallStudy, other: int) -> list[tuple[str, dict[str, Any], Any]]:
    """Name, good settings, and what makes an order of some settings; for every operation."""

    def correct(name: str, values: Any) -> Order:
        steps = [{"operation": name, "settings": values}]
        return Order("corrections", {"layer_ids": [s.scene_id], "steps": steps})

    def combine(name: str, values: Any) -> Order:
        body = {"layer_ids": [s.scene_id, other], "method": name, "settings": values}
        return Order("combinations", body)

    def derive(name: str, values: Any) -> Order:
        body = {"scene_id": s.scene_id, "operation": name, "settings": values}
        return Order("drafts", body)

    def classify(name: str, values: Any) -> Order:
        body = {"scene_id": s.scene_id, "roles": list(ROLES), "method": name, "settings": values}
        return Order("runs", body)

    families = ((CORRECTIONS, correct), (COMBINATIONS, combine), (DERIVATIONS, derive),
                (CLASSIFIERS, classify))  # fmt: skip
    good = CORRECTION_SETTINGS | DERIVATION_SETTINGS
    return [
        (name, with_ids(good.get(name, {}), {1: s.scene_id, 2: other}), partial(make, name))
        for family, make in families
        for name in family
    ]


def with_ids(settings: Any, ids: dict[int, int]) -> Any:
    """The settings with the ids of scenes that there are."""
    if isinstance(settings, dict):
        return {k: ids[v] if k == "scene_id" else with_ids(v, ids) for k, v in settings.items()}
    return [with_ids(v, ids) for v in settings] if isinstance(settings, list) else settings


def fields_of(name: str, good: dict[str, Any]) -> list[str]:
    families = (CORRECTIONS, COMBINATIONS, DERIVATIONS, CLASSIFIERS)
    spec = next(family[name] for family in families if name in family)
    return sorted({*spec.settings.model_fields, *good, "surprise"})


def hostile(s: SmallStudy, other: int) -> Iterator[tuple[str, Order]]:
    """One field after another of every operation becomes something that it must not be."""
    draws = np.random.default_rng(20)
    known = orders(s, other)
    for _ in range(N_HOSTILE):
        name, good, make = known[draws.integers(len(known))]
        fields = fields_of(name, good)
        field = fields[draws.integers(len(fields))]
        value = VALUES[draws.integers(len(VALUES))]
        yield f"{name}: {field} = {str(value)[:60]}", make(good | {field: value})


@pytest.mark.slow("a thousand requests, and what the study says after each")
@pytest.mark.thorough
def test_after_each_the_study_opens(client: TestClient, small_study: SmallStudy) -> None:
    source = recipe_of(small_study.scene_id)
    assert isinstance(source, DeliveredLeaf)
    other = add_scene(small_study.id, "July pass", source.delivery).id
    base = f"/api/studies/{small_study.id}"
    answers = dict.fromkeys((True, False), 0)
    for words, order in hostile(small_study, other):
        # As text: the library's own writer refuses what a hostile sender does not.
        content = json.dumps(order.body)
        headers = {"content-type": "application/json"}
        answer = client.post(f"{base}/{order.path}", content=content, headers=headers)
        assert answer.status_code < 500, (words, answer.text)
        answers[answer.is_success] += 1
        if not answer.is_success:
            assert answer.headers["content-type"] == "application/problem+json", words
            assert len(answer.json()["detail"]) > 10, words
        scenes = client.get(f"{base}/scenes")
        assert scenes.status_code == 200, (words, scenes.text)
        for scene in scenes.json()[2:]:
            assert client.get(_tile_of(scene)).status_code in (200, 422), words
            assert client.delete(f"/api/layers/{scene['id']}").status_code == 204
    assert client.get(f"{base}/broken-scenes").json() == []
    assert answers[False] > N_HOSTILE / 2
    assert answers[True] > 0, "some of it is not hostile to every field"


def _tile_of(scene: dict[str, Any]) -> str:
    role = scene["bands"][0]["role"]
    return f"/api/scenes/{scene['id']}/tiles/0/0/0.png?roles={role},{role},{role}"
