"""Methods in hand: the live map of each, all of them tried, layers tried, put on other scenes, and
how sure they are."""

import io
import json
from typing import Any

import numpy as np
import numpy.typing as npt
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.classify.shares import margin_of, shares_of
from kitesort.core.display.tile import VEIL
from kitesort.core.recipe import open_recipe
from kitesort.runs.perform import perform_run
from kitesort.store.classifiers import open_classifier
from kitesort.store.layers import get_layer, kept_file, recipe_of
from kitesort.study import training as state_of
from kitesort.study.rasters import READER, open_layer
from support.study import ROLES, SmallStudy

Json = dict[str, Any]


def order(s: SmallStudy, **more: Any) -> Json:
    return {"scene_id": s.scene_id, "roles": list(ROLES), **more}


def done(client: TestClient, s: SmallStudy, answer: Any) -> Json:
    assert answer.status_code == 201, answer.text
    perform_run(answer.json()["id"])
    (run,) = [r for r in client.get(f"/api/studies/{s.id}/runs").json()
              if r["id"] == answer.json()["id"]]  # fmt: skip
    assert run["state"] == "done", run["problem"]
    return dict(run)


def training(client: TestClient, s: SmallStudy, **method: Any) -> Json:
    query = {"scene_id": s.scene_id, "roles": ",".join(ROLES)}
    if method:
        query["method"] = json.dumps(method)
    answer = client.get(f"/api/studies/{s.id}/training", params=query)
    assert answer.status_code == 200, answer.text
    return dict(answer.json())


def test_each_method_has_a_live_map(client: TestClient, small_study: SmallStudy) -> None:
    s = small_study
    pictures = set()
    for method in ("maximum-likelihood", "parallelepiped", "nearest-neighbours"):
        told = training(client, s, id=method)
        assert told["problem"] is None and told["live"]["version"] == told["version"]
        assert not told["live"]["pending"] and told["live"]["n_sites"] == 4
        address = f"/api/studies/{s.id}/live/{told['version']}/0/0/0.png"
        query = {"scene_id": s.scene_id, "roles": ",".join(ROLES),
                 "method": json.dumps({"id": method})}  # fmt: skip
        tile = client.get(address, params=query)
        assert tile.status_code == 200
        pictures.add(tile.content)
    assert len(pictures) > 1
    assert training(client, s)["version"] == training(client, s, id="maximum-likelihood")["version"]


def test_how_a_network_learnt_is_told_with_its_live_map(
    client: TestClient, small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    """As many rounds as were set where none are held out; other methods have none."""
    monkeypatch.setattr(state_of, "WAIT", 30.0)
    settings = {"layers": [4], "epochs": 7, "patience": 0}
    told = training(client, small_study, id="neural-network", settings=settings)
    assert not told["live"]["pending"]
    assert [one["number"] for one in told["live"]["rounds"]] == list(range(1, 8))
    assert all(one["right"] is None and one["loss"] > 0 for one in told["live"]["rounds"])
    assert training(client, small_study)["live"]["rounds"] == []


def test_where_two_methods_differ_is_lit(client: TestClient, small_study: SmallStudy) -> None:
    """What both tell alike lies under a veil: all of it beside itself, and beside another method as
    many pixels as the two pictures share."""
    s = small_study
    one, other = "maximum-likelihood", "parallelepiped"

    def tile(method: str, **more: str) -> npt.NDArray[np.uint8]:
        version = training(client, s, id=method)["version"]
        query = {"scene_id": s.scene_id, "roles": ",".join(ROLES),
                 "method": json.dumps({"id": method})}  # fmt: skip
        answer = client.get(f"/api/studies/{s.id}/live/{version}/0/0/0.png", params=query | more)
        assert answer.status_code == 200, answer.text
        return np.asarray(Image.open(io.BytesIO(answer.content)))

    mine, theirs = tile(one), tile(other)
    seen = mine[..., 3] > 0
    alone = tile(other, unlike=json.dumps({"id": other}))
    assert (alone[seen] == VEIL).all()
    lit = tile(other, unlike=json.dumps({"id": one}))
    alike = (mine == theirs).all(axis=2)
    assert 0 < (alike & seen).sum() < seen.sum()
    assert np.array_equal((lit == VEIL).all(axis=2) & seen, alike & seen)
    assert np.array_equal(lit[seen & ~alike], theirs[seen & ~alike])


def test_a_slow_method_is_trained_behind(
    client: TestClient, small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    """While it is at it, the classifier before is shown, and since when; then the new one."""
    s = small_study
    monkeypatch.setattr(state_of, "WAIT", 15.0)
    first = training(client, s, id="random-forest", settings={"n_trees": 5})
    assert first["live"]["version"] == first["version"]
    monkeypatch.setattr(state_of, "WAIT", 0.0)
    again = training(client, s, id="random-forest", settings={"n_trees": 300})
    assert again["version"] != first["version"]
    assert again["live"]["pending"] and again["live"]["version"] == first["version"]
    monkeypatch.setattr(state_of, "WAIT", 15.0)
    last = training(client, s, id="random-forest", settings={"n_trees": 300})
    assert last["live"] == last["live"] | {"version": again["version"], "pending": False}


@pytest.mark.parametrize(
    ("method", "said"),
    [
        ("{", "no JSON"),
        ('{"id": 3}', "cannot be read"),
        ('{"id": "no-such"}', "no method called"),
        ('{"id": "random-forest", "settings": {"n_trees": 0}}', "Trees"),
        ('{"id": "random-forest", "seed": -1}', "cannot be read"),
        ("[" * 9000, "no JSON"),
    ],
)
def test_a_bad_method_is_refused_in_words(
    client: TestClient, small_study: SmallStudy, method: str, said: str
) -> None:
    query = {"scene_id": small_study.scene_id, "method": method}
    answer = client.get(f"/api/studies/{small_study.id}/training", params=query)
    assert answer.status_code in (404, 422)
    assert said in answer.json()["detail"]


def test_all_methods_are_tried(client: TestClient, small_study: SmallStudy) -> None:
    """Each has a row, whether it could be trained or not; the method in hand with its settings."""
    s = small_study
    body = order(s, method="boosted-trees", settings={"rounds": 2})
    run = done(client, s, client.post(f"/api/studies/{s.id}/trials", json=body))
    assert {row["method"] for row in run["methods"]} == set(CLASSIFIERS)
    assert all((row["tried"] is None) == (row["problem"] is not None) for row in run["methods"])
    tried = {row["method"]: row["tried"] for row in run["methods"] if row["tried"]}
    assert all(one["n_bytes"] > 0 and one["train_seconds"] >= 0 for one in tried.values())
    assert "linear-discriminant" in tried
    assert tried["boosted-trees"]["n_bytes"] < tried["random-forest"]["n_bytes"]


def test_each_layer_is_tried(client: TestClient, small_study: SmallStudy) -> None:
    s = small_study
    run = done(client, s, client.post(f"/api/studies/{s.id}/layer-trials", json=order(s)))
    assert sorted(row["role"] for row in run["layers"]) == sorted(ROLES)


def kept(client: TestClient, s: SmallStudy, **more: Any) -> tuple[Json, Json]:
    """The trained classifier and the map of a run."""
    done(client, s, client.post(f"/api/studies/{s.id}/runs", json=order(s, **more)))
    (one,) = client.get(f"/api/studies/{s.id}/trained-classifiers").json()
    return one, client.get(f"/api/studies/{s.id}/maps").json()[0]


def test_a_map_comes_with_how_sure_it_is(client: TestClient, small_study: SmallStudy) -> None:
    """The layer's pixels are those of the classifier that was kept, and cost nothing to make."""
    s = small_study
    one, _ = kept(client, s, give=["confidence", "unlike", "shares"], method="linear-discriminant")
    found = [x for x in client.get(f"/api/studies/{s.id}/scenes").json() if x["id"] != s.scene_id]
    (layer,) = found
    roles = [band["role"] for band in layer["bands"]]
    assert roles[:3] == ["confidence", "dissimilarity", "unlike"] and len(roles) == 7
    stored = open_classifier(one["id"])
    scene, made = open_layer(s.scene_id), open_layer(layer["id"])
    block = scene.read(scene.grid.whole, stored.told.roles)
    pixels = np.ascontiguousarray(block.values[:, block.valid])
    shares = shares_of(stored.model.scores(pixels), "log likelihood")
    got = made.read(made.grid.whole)
    assert np.allclose(got.values[0][got.valid], margin_of(shares), atol=1e-6)
    assert np.allclose(got.values[3:, got.valid], shares, atol=1e-6)
    assert np.array_equal(got.valid, block.valid)


@pytest.mark.parametrize("method", ["maximum-likelihood", "nearest-neighbours", "random-forest"])
def test_what_is_kept_in_one_pass_is_what_each_would_be(
    client: TestClient, small_study: SmallStudy, method: str
) -> None:
    """The files of the map and of the layers beside it hold the pixels of their recipes; put on the
    scene again by the classifier, too."""
    s = small_study
    give = ["confidence", "unlike", "shares"]
    one, _ = kept(client, s, give=give, method=method)
    body = {"scene_ids": [s.scene_id], "give": give}
    for run in client.post(f"/api/trained-classifiers/{one['id']}/apply", json=body).json():
        perform_run(run["id"])
    maps = client.get(f"/api/studies/{s.id}/maps").json()
    scenes = client.get(f"/api/studies/{s.id}/scenes").json()
    made = [x["id"] for x in (*maps, *scenes) if x["id"] != s.scene_id]
    assert len(made) == 4
    for layer_id in made:
        assert kept_file(get_layer(layer_id))
        lazily, there = open_recipe(recipe_of(layer_id), READER), open_layer(layer_id, "work")
        assert there.bands == lazily.bands
        ours, theirs = (raster.read(raster.grid.whole).values for raster in (there, lazily))
        assert np.array_equal(ours, theirs, equal_nan=True)


def test_put_on_a_scene_again_it_makes_the_same_map(
    client: TestClient, small_study: SmallStudy
) -> None:
    s = small_study
    one, first = kept(client, s)
    assert one["check"] is None or 0 <= one["check"]["mean"] <= 1
    index = one["dissimilarity"]
    assert index["error"] == 0 < index["n_compared"], "so few are all compared with"
    assert index["threshold"] > 0
    (fit,) = client.get(
        f"/api/trained-classifiers/{one['id']}/fits", params={"scene_ids": [s.scene_id]}
    ).json()
    assert fit == {"scene_id": s.scene_id, "problem": None, "remarks": []}
    answer = client.post(
        f"/api/trained-classifiers/{one['id']}/apply", json={"scene_ids": [s.scene_id]}
    )
    for run in answer.json():
        perform_run(run["id"])
    again, *_ = client.get(f"/api/studies/{s.id}/maps").json()
    assert again["id"] != first["id"] and "as trained in" in again["sentence"]
    rasters = [open_layer(m["id"], "work") for m in (first, again)]
    assert np.array_equal(*(r.read(r.grid.whole).values for r in rasters), equal_nan=True)
    assert again["legend"] == first["legend"] or len(again["legend"]) == len(first["legend"])


def test_a_scene_of_other_values_is_refused(client: TestClient, small_study: SmallStudy) -> None:
    """An index has not the bands; nothing is queued for the others, either."""
    s = small_study
    one, _ = kept(client, s)
    ratio = {"operation": "formula", "settings": {"formula": f"{ROLES[0]} / {ROLES[1]}"}}
    body = {"scene_ids": [s.scene_id], "orders": [ratio]}
    (made,) = client.post(f"/api/studies/{s.id}/derivations", json=body).json()["made"]
    other = made["id"]
    address = f"/api/trained-classifiers/{one['id']}"
    (fit,) = client.get(f"{address}/fits", params={"scene_ids": [other]}).json()
    assert fit["problem"]
    runs = len(client.get(f"/api/studies/{s.id}/runs").json())
    answer = client.post(f"{address}/apply", json={"scene_ids": [s.scene_id, other]})
    assert answer.status_code == 422
    assert len(client.get(f"/api/studies/{s.id}/runs").json()) == runs


def test_two_maps_beside_each_other(client: TestClient, small_study: SmallStudy) -> None:
    """The table holds every pixel; the layer of where they differ marks as many as it counts."""
    s = small_study
    kept(client, s)
    done(client, s, client.post(f"/api/studies/{s.id}/runs",
                                json=order(s, method="parallelepiped")))  # fmt: skip
    second, first = client.get(f"/api/studies/{s.id}/maps").json()[:2]
    found = client.get(f"/api/maps/{first['id']}/against/{second['id']}").json()
    n_pixels = sum(map(sum, found["pixels"]))
    rasters = [open_layer(m["id"], "work") for m in (first, second)]
    one, other = (r.read(r.grid.whole).values[0] for r in rasters)
    assert n_pixels == int((~np.isnan(one)).sum()) > 0
    assert found["same"] == pytest.approx((one == other).sum() / n_pixels)
    answer = client.post(f"/api/maps/{first['id']}/disagreement", json={"other_id": second["id"]})
    assert answer.status_code == 201
    layer = answer.json()
    assert [e["name"] for e in layer["legend"]] == ["The same", "Not the same", "Unclassified"]
    marked = open_layer(layer["id"])
    values = marked.read(marked.grid.whole).values[0]
    assert (values == 2).sum() == round((1 - found["same"]) * n_pixels)
    assert first["title"] in layer["sentence"] and second["title"] in layer["sentence"]


def test_a_map_is_not_compared_with_itself(client: TestClient, small_study: SmallStudy) -> None:
    _, one = kept(client, small_study)
    answer = client.get(f"/api/maps/{one['id']}/against/{one['id']}")
    assert answer.status_code == 422 and "two different maps" in answer.json()["detail"]


def test_a_part_of_the_scene(client: TestClient, small_study: SmallStudy) -> None:
    """What lies in an extent, or in outlines: the same pixels as those of the whole map there, the
    layer of certainty cut alike."""
    s = small_study
    _, whole = kept(client, s)
    grid = open_layer(s.scene_id).grid
    left, bottom, right, top = grid.bounds
    middle = (left + right) / 2
    parts = {"extent": f"{left},{bottom},{middle},{top}"}, {"outlines": [{
        "type": "Polygon",
        "coordinates": [[[left, bottom], [middle, bottom], [left, top], [left, bottom]]],
    }]}  # fmt: skip
    for where in parts:
        body = order(s, where=where, give=["confidence"])
        run = done(client, s, client.post(f"/api/studies/{s.id}/runs", json=body))
        assert run["method"] == "maximum-likelihood"
        made = open_layer(run["layer_id"], "work")
        values = made.read(made.grid.whole).values[0]
        rows, cols = values.shape
        theirs = open_layer(whole["id"], "work").read(grid.whole).values[0][:rows, :cols]
        known = ~np.isnan(values)
        assert cols <= grid.width / 2 + 1 and 0 < known.sum() < grid.width * grid.height * 0.6
        assert np.array_equal(values[known], theirs[known])
        sure = client.get(f"/api/studies/{s.id}/scenes").json()
        newest = max(x["id"] for x in sure)
        assert open_layer(newest).grid == made.grid
    outside = order(s, where={"extent": f"{right + 1e5},{bottom},{right + 2e5},{top}"})
    answer = client.post(f"/api/studies/{s.id}/runs", json=outside)
    assert answer.status_code == 422 and "miss the scene" in answer.json()["detail"]
    crossed = order(s, where={"extent": "5,5,1,1"})
    assert client.post(f"/api/studies/{s.id}/runs", json=crossed).status_code == 422


def test_within_classes_of_another_map(client: TestClient, small_study: SmallStudy) -> None:
    """Nothing outside of them, and the same as ever inside; cut to an extent, too."""
    s = small_study
    _, whole = kept(client, s)
    grid = open_layer(s.scene_id).grid
    theirs = open_layer(whole["id"], "work").read(grid.whole).values[0]
    codes = [int(code) for code in np.unique(theirs[~np.isnan(theirs)])[:1]]
    left, bottom, right, top = grid.bounds
    within = {"within": {"layer_id": whole["id"], "codes": codes}}
    part = within | {"extent": f"{left},{bottom},{(left + right) / 2},{top}"}
    for where in (within, part):
        body = order(s, where=where, give=["confidence"])
        run = done(client, s, client.post(f"/api/studies/{s.id}/runs", json=body))
        made = open_layer(run["layer_id"], "work")
        values = made.read(made.grid.whole).values[0]
        there = theirs[: values.shape[0], : values.shape[1]]
        inside = np.isin(there, codes)
        assert inside.any() and np.array_equal(values[inside], there[inside])
        assert np.isnan(values[~inside]).all()
        newest = max(x["id"] for x in client.get(f"/api/studies/{s.id}/scenes").json())
        sure = open_layer(newest).read(made.grid.whole)
        assert np.array_equal(sure.valid, inside)
    for wrong, status in (({"layer_id": whole["id"], "codes": [200]}, 422),
                          ({"layer_id": s.scene_id, "codes": [1]}, 422),
                          ({"layer_id": 10**6, "codes": [1]}, 404)):  # fmt: skip
        body = order(s, where={"within": wrong})
        assert client.post(f"/api/studies/{s.id}/runs", json=body).status_code == status


def test_how_sure_a_map_was_is_told_afterwards(client: TestClient, small_study: SmallStudy) -> None:
    """By the classifier that made it, whatever steps were done since; smoothing by these shares
    with a window of one pixel's weight changes nothing that was sure."""
    s = small_study
    _, whole = kept(client, s)
    steps = [{"operation": "majority", "settings": {"window_px": 3}}]
    tidied = client.post(
        f"/api/studies/{s.id}/corrections", json={"layer_ids": [whole["id"]], "steps": steps}
    ).json()["maps"][0]
    for map_id in (whole["id"], tidied["id"]):
        answer = client.post(f"/api/maps/{map_id}/surety", json={"give": ["shares"]})
        assert answer.status_code == 201, answer.text
        shares = open_layer(answer.json()["id"])
        values = shares.read(shares.grid.whole).values
        known = ~np.isnan(values[0])
        assert np.allclose(values.sum(axis=0)[known], 1, atol=1e-5)
        smooth = {
            "operation": "scores",
            "settings": {"shares_id": answer.json()["id"], "rule": "field", "weight": 0},
        }
        told = client.post(f"/api/maps/{whole['id']}/tidied", json={"steps": [smooth]}).json()
        assert told["problem"] is None and told["changed"] == 0
    assert client.post(f"/api/maps/{whole['id']}/surety", json={"give": []}).status_code == 422
    for one in client.get(f"/api/studies/{s.id}/trained-classifiers").json():
        client.delete(f"/api/trained-classifiers/{one['id']}")
    gone = client.post(f"/api/maps/{whole['id']}/surety", json={"give": ["shares"]})
    assert gone.status_code == 422 and "Classify again" in gone.json()["detail"]


def test_how_a_network_learnt_is_told(client: TestClient, small_study: SmallStudy) -> None:
    s = small_study
    settings = {"layers": [8], "epochs": 12, "patience": 0}
    one, _ = kept(client, s, method="neural-network", settings=settings)
    rounds = client.get(f"/api/trained-classifiers/{one['id']}/rounds").json()
    model = open_classifier(one["id"]).model
    assert [r["number"] for r in rounds] == list(range(1, 13))
    assert [r["loss"] for r in rounds] == [loss for loss, _ in model.arrays()["curve"]]
    assert all(r["right"] is None or 0 <= r["right"] <= 1 for r in rounds)
    done(client, s, client.post(f"/api/studies/{s.id}/runs", json=order(s)))
    newest = client.get(f"/api/studies/{s.id}/trained-classifiers").json()[0]
    answer = client.get(f"/api/trained-classifiers/{newest['id']}/rounds")
    assert answer.status_code == 422 and "neural network" in answer.json()["detail"]


def test_a_decision_tree_is_read(client: TestClient, small_study: SmallStudy) -> None:
    """Followed by hand, its questions lead every pixel to the class that it gets."""
    s = small_study
    one, _ = kept(client, s, method="decision-tree", settings={"least_leaf": 1})
    lines = client.get(f"/api/trained-classifiers/{one['id']}/questions").json()
    scene, model = open_layer(s.scene_id), open_classifier(one["id"]).model
    block = scene.read(scene.grid.whole, model.roles)
    pixels = np.ascontiguousarray(block.values[:, block.valid])[:, ::7]
    told = model.classify(pixels)
    for pixel, code in zip(pixels.T, told, strict=True):
        at = 0
        while (line := lines[at])["role"] is not None:
            yes = pixel[model.roles.index(line["role"])] <= line["limit"]
            at = next(
                i
                for i in range(at + 1, len(lines))
                if lines[i]["depth"] == line["depth"] + 1 and lines[i]["branch"] == bool(yes)
            )
        assert line["code"] == code and 0 < line["share"] <= 1


def test_a_forest_is_not_read(client: TestClient, small_study: SmallStudy) -> None:
    one, _ = kept(client, small_study, method="random-forest", settings={"n_trees": 3})
    answer = client.get(f"/api/trained-classifiers/{one['id']}/questions")
    assert answer.status_code == 422 and "single decision tree" in answer.json()["detail"]


def test_a_name_beyond_ascii_is_taken_away(client: TestClient, small_study: SmallStudy) -> None:
    one, _ = kept(client, small_study)
    address = f"/api/trained-classifiers/{one['id']}"
    client.patch(address, json={"name": "Wattenmeer ü 潟"})
    for what in ("file", "onnx"):
        answer = client.get(f"{address}/{what}")
        assert answer.status_code == 200
        assert answer.headers["content-disposition"].startswith("attachment; filename*=")
