"""Clusters over the API: found live, kept, named, divided, counted, put on other scenes."""

import io
import json
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient
from PIL import Image

from kitesort.core.class_colours import LEAST_APART, apartness
from kitesort.core.raster.protocol import roles_of
from kitesort.core.recipe import sentence_of
from kitesort.runs.perform import perform_run
from kitesort.store.layers import recipe_of
from kitesort.study.maps import get_map
from kitesort.study.rasters import _from_recipe, open_layer
from support.study import ROLES, SmallStudy

Json = dict[str, Any]


def order(s: SmallStudy, **more: Any) -> Json:
    told = {"scene_id": s.scene_id, "roles": list(ROLES), "settings": {"n_clusters": 4}}
    return told | more


def live(client: TestClient, s: SmallStudy, **method: Any) -> Json:
    query = {"scene_id": s.scene_id, "roles": ",".join(ROLES), "method": json.dumps(method)}
    answer = client.get(f"/api/studies/{s.id}/clusters", params=query)
    assert answer.status_code == 200, answer.text
    return dict(answer.json())


def done(client: TestClient, s: SmallStudy, answer: Any) -> Json:
    assert answer.status_code == 201, answer.text
    perform_run(answer.json()["id"])
    runs = client.get(f"/api/studies/{s.id}/runs").json()
    (run,) = (r for r in runs if r["id"] == answer.json()["id"])
    assert run["state"] == "done", run["problem"]
    return dict(run)


@pytest.fixture
def kept(client: TestClient, small_study: SmallStudy) -> int:
    """A map of four clusters."""
    s = small_study
    run = done(client, s, client.post(f"/api/studies/{s.id}/cluster-runs", json=order(s)))
    return int(run["layer_id"])


def told_of(client: TestClient, layer_id: int) -> Json:
    answer = client.get(f"/api/cluster-maps/{layer_id}")
    assert answer.status_code == 200, answer.text
    return dict(answer.json())


def map_body(s: SmallStudy) -> Json:
    return {"scene_id": s.scene_id, "roles": list(ROLES)}


def codes_of(layer_id: int) -> Any:
    raster = open_layer(layer_id)
    block = raster.read(raster.grid.whole, roles_of(raster)[:1])
    return np.where(block.valid, block.values[0], 0).astype(int)


def name(client: TestClient, layer_id: int, names: dict[int, int | None]) -> Any:
    body = {"names": [{"code": c, "class_id": k} for c, k in names.items()]}
    return client.put(f"/api/cluster-maps/{layer_id}/names", json=body)


def test_methods_come_with_their_forms(client: TestClient) -> None:
    found = client.get("/api/clusterings").json()
    assert {one["id"] for one in found} >= {"k-means", "isodata", "gaussian-mixture"}
    for one in found:
        for field in one["settings_schema"]["properties"].values():
            assert field.get("title") and field.get("description")


def test_live_clusters_have_tiles(client: TestClient, small_study: SmallStudy) -> None:
    s = small_study
    pictures = set()
    for n in (2, 4):
        told = live(client, s, id="k-means", settings={"n_clusters": n})
        assert told["problem"] is None and len(told["clusters"]) == n
        assert sum(one["share"] for one in told["clusters"]) == pytest.approx(1)
        assert told["n_sampled"] == told["n_usable"] and told["exact"]
        query = {"scene_id": s.scene_id, "roles": ",".join(ROLES)}
        address = f"/api/studies/{s.id}/clusters/{told['version']}/0/0/0.png"
        tile = client.get(address, params=query)
        assert tile.status_code == 200
        pictures.add(tile.content)
    assert len(pictures) == 2
    gone = client.get(f"/api/studies/{s.id}/clusters/0123/0/0/0.png",
                      params={"scene_id": s.scene_id})  # fmt: skip
    assert gone.status_code == 404


def test_what_cannot_be_clustered_is_said(client: TestClient, small_study: SmallStudy) -> None:
    s = small_study
    query = {"scene_id": s.scene_id, "roles": ",".join(ROLES)}
    bad = {"id": "k-means", "settings": {"n_clusters": 1}}
    for method, word in ((json.dumps(bad), "Clusters"), ("{", "no JSON"), ('{"x": 1}', "method")):
        answer = client.get(f"/api/studies/{s.id}/clusters", params=query | {"method": method})
        assert answer.status_code == 422 and word in answer.json()["detail"]
    told = live(client, s, id="hierarchical", settings={"cut": "height", "height": 1e8})
    assert told["version"] is None and "one cluster" in told["problem"]
    answer = client.post(
        f"/api/studies/{s.id}/cluster-runs",
        json=order(s, method="hierarchical", settings={"cut": "height", "height": 1e8}),
    )
    assert answer.status_code == 422
    assert client.get(f"/api/studies/{s.id}/runs").json() == []


def test_a_kept_map_tells_its_clusters(
    client: TestClient, small_study: SmallStudy, kept: int
) -> None:
    s = small_study
    told = told_of(client, kept)
    assert [one["name"] for one in told["clusters"]] == [f"Cluster {i}" for i in (1, 2, 3, 4)]
    shares = [one["share"] for one in told["clusters"]]
    assert sum(shares) == pytest.approx(1) and shares == sorted(shares, reverse=True)
    codes = codes_of(kept)
    assert shares[0] == pytest.approx((codes == 1).sum() / (codes > 0).sum())
    scene = open_layer(s.scene_id)
    values = scene.read(scene.grid.whole, ROLES).values
    for one in told["clusters"]:
        here = codes == one["code"]
        assert one["mean"] == pytest.approx(values[:, here].mean(axis=1).tolist(), rel=1e-5)
        assert one["spread"] == pytest.approx(values[:, here].std(axis=1, ddof=1), rel=1e-4)
        for place in one["places"]:
            row, col = open_layer(kept).grid.pixel_at(place["x"], place["y"]) or (-1, -1)
            assert codes[row, col] == one["code"]
    assert len(told["tree"]) == 3
    # Each quarter of the scene is one cover with one site: each cluster is suggested its class.
    suggested = {one["code"]: one["suggestion"]["class_id"] for one in told["clusters"]}
    assert sorted(suggested.values()) == sorted(s.class_ids.values())
    assert "grouped by k-means into 4 clusters" in sentence_of(recipe_of(kept))
    (classifier,) = client.get(f"/api/studies/{s.id}/trained-classifiers").json()
    assert classifier["clusters"]["n_sampled"] == (codes > 0).sum()


def test_clusters_get_classes_and_lose_them_again(
    client: TestClient, small_study: SmallStudy, kept: int
) -> None:
    """Several into one, "not yet", and undo throughout."""
    s = small_study
    classes = list(s.class_ids.values())
    before = told_of(client, kept)
    assert before["named"] == 0
    assert name(client, kept, {1: classes[0]}).status_code == 204
    assert name(client, kept, {2: classes[0], 3: classes[1]}).status_code == 204
    told = told_of(client, kept)
    assert [one["class_id"] for one in told["clusters"]] == [*[classes[0]] * 2, classes[1], None]
    assert told["named"] == pytest.approx(sum(o["share"] for o in told["clusters"][:3]))
    assert told["version"] != before["version"]
    assert (
        client.get(f"/api/studies/{s.id}/edits").json()["undo"]
        == "Call 2 clusters " + (client.get(f"/api/studies/{s.id}/classes").json()[0]["name"])
    )
    assert client.post(f"/api/studies/{s.id}/undo").status_code == 200
    assert name(client, kept, {1: None}).status_code == 204
    assert [one["class_id"] for one in told_of(client, kept)["clusters"]] == [None] * 4
    client.post(f"/api/studies/{s.id}/undo")
    assert told_of(client, kept)["clusters"][0]["class_id"] == classes[0]
    assert name(client, kept, {9: classes[0]}).status_code == 422
    assert name(client, kept, {1: 987_654}).status_code == 422


def test_tiles_are_in_the_classes_colours_or_veiled(
    client: TestClient, small_study: SmallStudy, kept: int
) -> None:
    s = small_study
    class_id = s.class_ids[1]
    name(client, kept, {1: class_id})
    (colour,) = (c["colour"] for c in client.get(f"/api/studies/{s.id}/classes").json()
                 if c["id"] == class_id)  # fmt: skip
    address = f"/api/cluster-maps/{kept}/tiles/0/0/0.png"
    picture = np.asarray(Image.open(io.BytesIO(client.get(address).content)).convert("RGBA"))
    codes = codes_of(kept)
    rows, cols = np.nonzero(codes == 1)
    want = [int(colour[i : i + 2], 16) for i in (1, 3, 5)]
    assert picture[rows[7], cols[7], :3].tolist() == want
    other = np.argwhere(codes == 2)[9]
    red, green, blue, _ = picture[tuple(other)]
    assert red == green == blue, "what is not named yet is grey"
    veiled = client.get(address, params={"lit": 2})
    veil = np.asarray(Image.open(io.BytesIO(veiled.content)).convert("RGBA"))
    assert veil[tuple(other)][3] == 0 and veil[rows[7], cols[7]][3] > 150


def test_the_map_in_classes_is_kept_with_unclassified_rest(
    client: TestClient, small_study: SmallStudy, kept: int
) -> None:
    s = small_study
    empty = client.post(f"/api/cluster-maps/{kept}/map")
    assert empty.status_code == 422 and "No cluster has a class yet" in empty.json()["detail"]
    suggested = {
        one["code"]: one["suggestion"]["class_id"] for one in told_of(client, kept)["clusters"]
    }
    name(client, kept, {c: k for c, k in suggested.items() if c != 4})
    run = done(client, s, client.post(f"/api/cluster-maps/{kept}/map"))
    made, codes = codes_of(run["layer_id"]), codes_of(kept)
    code_of = {class_id: code for code, class_id in s.class_ids.items()}
    for cluster, class_id in suggested.items():
        want = 255 if cluster == 4 else code_of[class_id]
        assert (made[codes == cluster] == want).all()
    accuracy = client.get(f"/api/maps/{run['layer_id']}/accuracy")
    assert accuracy.status_code == 200 and accuracy.json()["n_points"] > 0
    (told,) = (m for m in client.get(f"/api/studies/{s.id}/maps").json()
               if m["id"] == run["layer_id"])  # fmt: skip
    assert told["scene_id"] == s.scene_id and told["up_to_date"]
    assert "3 are named as 3 classes" in told["sentence"]


def test_one_cluster_is_divided_and_the_others_are_not(
    client: TestClient, small_study: SmallStudy, kept: int
) -> None:
    s = small_study
    name(client, kept, {1: s.class_ids[1], 2: s.class_ids[2]})
    body = order(s, code=2, settings={"n_clusters": 2})
    answer = client.post(f"/api/cluster-maps/{kept}/divisions", json=body)
    assert answer.status_code == 201, answer.text
    made = answer.json()["layer_id"]
    before, after = codes_of(kept), codes_of(made)
    assert np.array_equal(before[before != 2], after[before != 2])
    assert set(np.unique(after[before == 2])) == {5, 6}
    told = told_of(client, made)
    assert [one["name"] for one in told["clusters"]] == [
        "Cluster 1", "Cluster 3", "Cluster 4", "Cluster 2.1", "Cluster 2.2"
    ]  # fmt: skip
    assert [one["class_id"] for one in told["clusters"]] == [s.class_ids[1], *[None] * 4]
    colours = [e.colour for e in get_map(made).map.legend]
    assert len(set(colours)) == len(colours), "no colour stands for two"
    assert "with Cluster 2 divided into 2" in sentence_of(recipe_of(made))
    again = client.post(f"/api/cluster-maps/{made}/divisions", json=body | {"code": 6})
    assert again.status_code == 201
    names = [one["name"] for one in told_of(client, again.json()["layer_id"])["clusters"]]
    assert names[-2:] == ["Cluster 2.2.1", "Cluster 2.2.2"]
    gone = client.post(f"/api/cluster-maps/{made}/divisions", json=body | {"code": 2})
    assert gone.status_code == 422 and "no such cluster" in gone.json()["detail"]


def test_a_class_of_any_map_is_divided_too(client: TestClient, small_study: SmallStudy) -> None:
    """The other classes keep code, name and pixels; the parts are those that k-means finds among
    the pixels of the class alone."""
    s = small_study
    run = done(client, s, client.post(f"/api/studies/{s.id}/runs", json=map_body(s)))
    before = codes_of(run["layer_id"])
    address = f"/api/maps/{run['layer_id']}/divisions"
    body = order(s, code=1, settings={"n_clusters": 2})
    answer = client.post(address, json=body)
    assert answer.status_code == 201, answer.text
    made = answer.json()["layer_id"]
    after = codes_of(made)
    assert np.array_equal(before[before != 1], after[before != 1])
    parts = np.unique(after[before == 1])
    assert len(parts) == 2 and not set(parts) & set(np.unique(before))
    (told,) = (m for m in client.get(f"/api/studies/{s.id}/maps").json() if m["id"] == made)
    names = [e["name"] for e in told["legend"]]
    assert "Water" not in names and {"Water.1", "Water.2"} <= set(names)
    colours = {e["name"]: e["colour"] for e in told["legend"]}
    for part in ("Water.1", "Water.2"):
        others = [colour for name, colour in colours.items() if name != part]
        assert apartness(colours[part], others) >= LEAST_APART
    assert "divided into 2" in told["sentence"] and told["up_to_date"]
    assert told["method"] == "divided-class", "no map of clusters"
    gone = client.post(address, json=body | {"code": 77})
    assert gone.status_code == 422 and "no such class" in gone.json()["detail"]


def test_a_class_divided_again_leaves_the_first_division_as_it_is(
    client: TestClient, small_study: SmallStudy
) -> None:
    """Also for a server that has just been started, which remembers no pixels."""
    s = small_study
    run = done(client, s, client.post(f"/api/studies/{s.id}/runs", json=map_body(s)))
    address = f"/api/maps/{run['layer_id']}/divisions"
    made = []
    for n_clusters in (2, 3):
        body = order(s, code=1, settings={"n_clusters": n_clusters})
        made.append(client.post(address, json=body).json()["layer_id"])
        made.append(codes_of(made[-1]))
    first, codes, _, others = made
    _from_recipe.forget()
    assert np.array_equal(codes_of(first), codes) and not np.array_equal(codes, others)


def test_a_band_is_chosen_once(client: TestClient, small_study: SmallStudy) -> None:
    body = order(small_study) | {"roles": ["red", "red", "nir"]}
    answer = client.post(f"/api/studies/{small_study.id}/cluster-runs", json=body)
    assert answer.status_code == 422 and "more than once" in answer.json()["detail"]


def test_numbers_of_clusters_are_tried(client: TestClient, small_study: SmallStudy) -> None:
    """Four covers, each a quarter: four are suggested."""
    s = small_study
    address = f"/api/studies/{s.id}/cluster-counts"
    run = done(client, s, client.post(address, json=order(s, fewest=2, most=6)))
    assert [row["n_clusters"] for row in run["counts"]] == [2, 3, 4, 5, 6]
    assert run["suggested"] == 4 and "greatest at 4" in run["reason"]
    turned = client.post(address, json=order(s, fewest=6, most=2))
    assert turned.status_code == 422 and "below the second" in turned.json()["detail"]
    alone = client.post(address, json=order(s, method="information-splits", settings={}))
    assert alone.status_code == 422


def test_start_from_class_means(client: TestClient, small_study: SmallStudy) -> None:
    told = live(client, small_study, id="k-means", settings={"n_clusters": 4, "start": "classes"})
    assert told["problem"] is None and len(told["clusters"]) == 4


def test_a_clustering_is_put_on_a_scene_again(
    client: TestClient, small_study: SmallStudy, kept: int
) -> None:
    """As trained classifiers are; the same pixels come out, and can be named."""
    s = small_study
    (classifier,) = client.get(f"/api/studies/{s.id}/trained-classifiers").json()
    answer = client.post(
        f"/api/trained-classifiers/{classifier['id']}/apply", json={"scene_ids": [s.scene_id]}
    )
    assert answer.status_code == 201, answer.text
    perform_run(answer.json()[0]["id"])
    (run,) = (r for r in client.get(f"/api/studies/{s.id}/runs").json()
              if r["id"] == answer.json()[0]["id"])  # fmt: skip
    assert run["state"] == "done", run["problem"]
    assert np.array_equal(codes_of(run["layer_id"]), codes_of(kept))
    assert name(client, run["layer_id"], {1: s.class_ids[1]}).status_code == 204


def test_a_map_of_sites_is_no_map_of_clusters(client: TestClient, small_study: SmallStudy) -> None:
    s = small_study
    body = {"scene_id": s.scene_id, "roles": list(ROLES)}
    run = done(client, s, client.post(f"/api/studies/{s.id}/runs", json=body))
    for answer in (
        client.get(f"/api/cluster-maps/{run['layer_id']}"),
        name(client, run["layer_id"], {1: s.class_ids[1]}),
        client.post(f"/api/cluster-maps/{run['layer_id']}/map"),
    ):
        assert answer.status_code == 422 and "no map of clusters" in answer.json()["detail"]


def test_clusters_of_two_runs_are_matched_by_their_pixels(
    client: TestClient, small_study: SmallStudy, kept: int
) -> None:
    """The same groups in another order of numbers are the same groups."""
    s = small_study
    body = order(s, method="gaussian-mixture")
    run = done(client, s, client.post(f"/api/studies/{s.id}/cluster-runs", json=body))
    told = client.get(f"/api/maps/{kept}/against/{run['layer_id']}").json()
    assert len(told["matched"]) == 4 and told["points"] is None
    first, second = codes_of(kept), codes_of(run["layer_id"])
    partner = {pair["first"]: pair["second"] for pair in told["matched"]}
    alike = sum(int(((first == a) & (second == b)).sum()) for a, b in partner.items())
    assert told["same"] == pytest.approx(alike / ((first > 0) & (second > 0)).sum())
    assert told["rand"] > 0.5
    made = client.post(f"/api/maps/{kept}/disagreement", json={"other_id": run["layer_id"]})
    assert made.status_code == 201, made.text
    differs = codes_of(made.json()["id"])
    assert (differs == 1).sum() == alike


def test_every_pixel_is_looked_at_in_the_end(client: TestClient, small_study: SmallStudy) -> None:
    """The run tells all of the map's pixels; what is shown live stays with a sample."""
    s = small_study
    settings = {"n_clusters": 4, "n_sampled": 500, "every_pixel": True, "least_change": 0.0}
    found = live(client, s, id="k-means", settings=settings)
    assert found["problem"] is None and found["n_sampled"] == 500
    run = done(client, s, client.post(
        f"/api/studies/{s.id}/cluster-runs", json=order(s, settings=settings)
    ))  # fmt: skip
    told, codes = told_of(client, run["layer_id"]), codes_of(run["layer_id"])
    assert told["n_sampled"] == told["n_usable"] == (codes > 0).sum()
    pixels = [int((codes == one["code"]).sum()) for one in told["clusters"]]
    assert pixels == sorted(pixels, reverse=True)
    assert "over every pixel" in " ".join(run["log"])
    medians = json.dumps({"id": "k-means", "settings": settings | {"distance": "manhattan"}})
    query = {"scene_id": s.scene_id, "roles": ",".join(ROLES), "method": medians}
    bad = client.get(f"/api/studies/{s.id}/clusters", params=query)
    assert bad.status_code == 422 and "cannot be added up" in bad.json()["detail"]
