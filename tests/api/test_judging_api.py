"""Judged sites, acts over many of them as one edit, and the first check, as a program sees them."""

from typing import Any
from uuid import uuid4

import numpy as np
import pytest
from fastapi.testclient import TestClient
from shapely.geometry import shape

from kitesort.core.grid import Window
from kitesort.store.sites import create_sites, list_sites
from kitesort.study.rasters import open_layer
from support.small_scene import BOW_TIE, PIXEL, rectangle
from support.study import SmallStudy, centre_of


class Page:
    """Calls on one study."""

    def __init__(self, client: TestClient, study: SmallStudy) -> None:
        self.client, self.study = client, study
        self.base = f"/api/studies/{study.id}"
        self.of_scene = {"scene_id": study.scene_id}

    def draw(self, code: int, *at: float) -> int:
        body = {"key": uuid4().hex, "class_id": self.study.class_ids[code]}
        made = self.client.post(
            f"{self.base}/sites", params=self.of_scene, json={**body, "geometry": rectangle(*at)}
        )
        assert made.status_code == 201
        return int(made.json()["id"])

    def act(self, act: str, *site_ids: int, **more: Any) -> Any:
        body = {"act": act, "site_ids": site_ids, **self.of_scene, **more}
        return self.client.post(f"{self.base}/site-acts", json=body)

    def judgement(self) -> Any:
        answer = self.client.get(f"{self.base}/judgement", params=self.of_scene)
        assert answer.status_code == 200, answer.text
        return answer.json()

    def check(self, **order: Any) -> Any:
        return self.client.get(f"{self.base}/first-check", params={**self.of_scene, **order})

    def sites(self) -> dict[int, Any]:
        answer = self.client.get(f"{self.base}/sites", params=self.of_scene)
        return {site["id"]: site for site in answer.json()}

    def undo(self) -> None:
        assert self.client.post(f"{self.base}/undo").status_code == 200


@pytest.fixture
def page(client: TestClient, small_study: SmallStudy) -> Page:
    return Page(client, small_study)


def test_a_site_on_other_ground_is_named_with_the_class_it_looks_like(page: Page) -> None:
    wrong = page.draw(1, 80, 50, 6, 6)  # grass taken for water
    found = page.judgement()
    assert found["sites"][0]["id"] == wrong
    assert (found["sites"][0]["like"], found["sites"][0]["like_share"]) == (3, 1.0)
    first = found["advice"][0]
    assert first["sentence"] == "Site 2 of Water looks like Grass: 36 of its 36 pixels."
    assert (first["acts"], first["site_ids"], first["other_code"]) == (
        ["move", "delete", "trust"], [wrong], 3,
    )  # fmt: skip
    page.act("trust", wrong)
    assert all(wrong not in one["site_ids"] for one in page.judgement()["advice"])
    page.undo()
    assert page.judgement()["advice"][0]["site_ids"] == [wrong]


def test_odd_pixels_are_shown_where_they_lie(page: Page) -> None:
    edge = page.draw(1, 44, 20, 8, 6)  # four rows of water, four of grass
    params = {**page.of_scene, "site_id": edge}
    found = page.client.get(f"{page.base}/odd-pixels", params=params).json()
    lit = shape(found["geometry"])
    assert lit.area == pytest.approx(found["n_pixels"] * PIXEL**2)
    assert found["n_pixels"] >= 24
    grass = shape(rectangle(48, 20, 4, 6))
    assert lit.intersection(grass).area == pytest.approx(grass.area)


def test_a_site_across_an_edge_is_split_and_its_half_moved(page: Page) -> None:
    edge = page.draw(1, 44, 20, 8, 6)
    before = page.sites()
    made = page.act("split", edge)
    assert made.status_code == 200
    kept, other = made.json()["site_ids"]
    assert kept == edge
    sites = page.sites()
    assert sites[kept]["n_pixels"] + sites[other]["n_pixels"] == 48
    halves = sorted((sites[kept], sites[other]), key=lambda site: shape(site["geometry"]).bounds[1])
    assert shape(halves[0]["geometry"]).equals(shape(rectangle(48, 20, 4, 6)))
    page.undo()
    assert page.sites() == before


@pytest.mark.parametrize(
    ("act", "left"),
    [("move", {3: 3}), ("copy", {1: 1, 3: 3, 2: 1}), ("delete", {3: 1})],
)
def test_many_are_changed_as_one(page: Page, act: str, left: dict[int, int]) -> None:
    chosen = [page.study.site_ids[1], page.study.site_ids[2]]
    more = {} if act == "delete" else {"class_id": page.study.class_ids[3]}
    before = page.sites()
    assert page.act(act, *chosen, **more).status_code == 200
    codes = {class_id: code for code, class_id in page.study.class_ids.items()}
    counted: dict[int, int] = {}
    for site in page.sites().values():
        code = codes[site["class_id"]]
        counted[code] = counted.get(code, 0) + 1
    assert {code: n for code, n in counted.items() if code != 4} == left
    page.undo()
    assert page.sites() == before


def test_sites_are_merged_cut_and_shrunk(page: Page) -> None:
    first, second = page.draw(1, 2, 60, 4, 4), page.draw(1, 2, 64, 4, 4)
    assert page.act("merge", first, second).json()["site_ids"] == [first]
    assert page.sites()[first]["n_pixels"] == 32
    assert second not in page.sites()
    west, south, east, north = shape(page.sites()[first]["geometry"]).bounds
    middle = (west + east) / 2
    line = [(middle, south - 5), (middle, north + 5)]
    one, two = page.act("cut", first, line=line).json()["site_ids"]
    assert [page.sites()[i]["n_pixels"] for i in (one, two)] == [16, 16]
    page.act("shrink", one)
    assert page.sites()[one]["n_pixels"] == 4
    refused = page.act("shrink", two, one)
    assert refused.status_code == 422
    assert refused.json()["detail"].endswith("nothing would be left of it.")
    assert page.sites()[two]["n_pixels"] == 16, "all of them, or none"


@pytest.mark.parametrize(
    ("act", "more", "words"),
    [
        ("move", {}, "Say which class"),
        ("move", {"class_id": 999_999}, "not there any more"),
        ("merge", {}, "at least two sites"),
        ("cut", {"line": [(0, 0), (1, 1)]}, "right across"),
        ("split", {}, "nothing to split"),
    ],
)
def test_what_cannot_be_done_is_said_and_nothing_is_changed(
    page: Page, act: str, more: dict[str, Any], words: str
) -> None:
    before = page.sites()
    refused = page.act(act, page.study.site_ids[1], **more)
    assert refused.status_code in (404, 422)
    assert words in refused.json()["detail"]
    assert page.sites() == before


@pytest.mark.parametrize("act", ["merge", "cut", "shrink", "split"])
def test_a_site_that_crosses_itself_is_named(page: Page, act: str) -> None:
    (crossing,) = create_sites(page.study.id, [(page.study.class_ids[1], BOW_TIE, "")])
    before = page.sites()
    line = [(399_000, 4_999_000), (402_000, 4_999_700)]
    refused = page.act(act, crossing.id, page.study.site_ids[1], line=line)
    assert refused.status_code == 422
    words = "no pixel that could be split" if act == "split" else "crosses itself"
    assert words in refused.json()["detail"]
    assert page.sites() == before


def test_sites_of_two_classes_do_not_merge_and_strange_ones_are_not_found(page: Page) -> None:
    ids = page.study.site_ids
    assert "one class" in page.act("merge", ids[1], ids[2]).json()["detail"]
    assert page.act("delete", ids[1], 999_999).status_code == 404
    assert len(page.sites()) == 4


def test_sites_set_aside_never_train_and_are_told_apart(page: Page) -> None:
    for row in (2, 12, 22, 32):
        page.draw(1, row, 60 - 22, 5, 5)
        page.draw(2, row + 2, 64, 5, 5)
    chosen = page.client.post(f"{page.base}/sites-aside", json={"share": 0.4, "seed": 2})
    aside = chosen.json()["site_ids"]
    assert len(aside) == 4
    assert {i for i, site in page.sites().items() if site["set_aside"]} == set(aside)
    found = page.check().json()
    told = found["aside"]["counts"]
    assert sum(map(sum, told)) == sum(page.sites()[i]["n_pixels"] for i in aside)
    assert found["aside"]["mean_right"] == 1.0
    judged = {site["id"] for site in page.judgement()["sites"]}
    assert judged.isdisjoint(aside)
    page.act("train", *aside)
    assert page.check().json()["aside"] is None
    assert len(list_sites(page.study.id)) == 12


def test_first_check_tells_every_class_and_what_was_not_tested(page: Page) -> None:
    page.draw(1, 2, 20, 5, 5)
    page.draw(3, 60, 20, 5, 5)
    found = page.check(n_folds=2).json()
    assert found["codes"] == [1, 2, 3, 4]
    assert [one["tested"] for one in found["classes"]] == [True, False, True, False]
    assert all(one["back"] == 1.0 for one in found["classes"])
    assert found["classes"][1]["folds"]["mean"] is None
    assert found["overall"]["mean"] == 1.0
    assert "site" in found["curve_words"]


def test_first_check_of_nothing_says_what_is_missing(page: Page) -> None:
    page.act("delete", *page.study.site_ids.values())
    refused = page.check()
    assert refused.status_code == 422
    assert "no training pixel" in refused.json()["detail"]
    assert page.judgement()["sites"] == []


@pytest.mark.parametrize("order", [{"n_folds": 1}, {"n_folds": 99}, {"together_m": "nan"}])
def test_orders_out_of_bounds_are_refused(page: Page, order: dict[str, Any]) -> None:
    assert page.check(**order).status_code == 422


def test_a_site_grows_from_a_pixel_to_the_edge_of_its_cover(page: Page) -> None:
    x, y = centre_of(70, 30)
    order = {**page.of_scene, "x": x, "y": y, "threshold": 0.5}
    grown = page.client.get(f"{page.base}/grown", params=order).json()
    grass = shape(rectangle(48, 4, 48, 60))
    outline = shape(grown["geometry"])
    assert outline.difference(grass).area == 0
    assert outline.area == pytest.approx(grown["n_pixels"] * PIXEL**2)
    assert outline.area > 0.9 * grass.area and not grown["limited"]
    for place, words in (((x, 9e8), "no pixel of the scene"), (centre_of(20, 1), "nothing usable")):
        wrong = {**order, "x": place[0], "y": place[1]}
        refused = page.client.get(f"{page.base}/grown", params=wrong)
        assert (refused.status_code, words in refused.json()["detail"]) == (422, True)


def test_pixels_are_painted_on_and_off(page: Page) -> None:
    def paint(geometry: Any, *cells: tuple[int, int], on: bool = True) -> Any:
        places = [centre_of(*cell) for cell in cells]
        body = {"scene_id": page.study.scene_id, "geometry": geometry, "places": places, "on": on}
        return page.client.post(f"{page.base}/painted", json=body)

    one = paint(None, (20, 30), (20, 31), (20, 31)).json()["geometry"]
    assert shape(one).equals(shape(rectangle(20, 30, 1, 2)))
    apart = paint(one, (25, 40)).json()["geometry"]
    assert apart["type"] == "MultiPolygon"
    assert shape(paint(apart, (20, 30), on=False).json()["geometry"]).area == 2 * PIXEL**2
    assert paint(one, (20, 30), (20, 31), on=False).json()["geometry"] is None
    assert paint(None, (20, 900)).status_code == 422


def test_statistics_of_classes_and_of_a_site_as_numpy_has_them(page: Page) -> None:
    params = {**page.of_scene, "roles": "red,nir"}
    found = page.client.get(f"{page.base}/class-statistics", params=params).json()
    assert found["roles"] == ["red", "nir"]
    assert [group["code"] for group in found["groups"]] == [1, 2, 3, 4]
    raster = open_layer(page.study.scene_id)
    block = raster.read(Window(15, 20, 12, 15), ("red", "nir"))
    pixels = block.values.reshape(2, -1).astype(np.float64)
    water = found["groups"][0]
    assert water["n_pixels"] == 180
    assert np.allclose(water["mean"], pixels.mean(axis=1))
    assert np.allclose(water["standard_deviation"], pixels.std(axis=1, ddof=1))
    assert np.allclose(water["covariance"], np.cov(pixels))
    assert np.allclose(water["correlation"], np.corrcoef(pixels))
    assert np.allclose(water["maximum"], pixels.max(axis=1))
    page.draw(1, 2, 60, 4, 4)
    of_site = {**params, "site_id": page.study.site_ids[1]}
    again = page.client.get(f"{page.base}/class-statistics", params=of_site).json()
    assert again["groups"] == [water]
    of_site["site_id"] = 999_999
    assert page.client.get(f"{page.base}/class-statistics", params=of_site).status_code == 404


def test_bands_that_tell_two_classes_apart(page: Page) -> None:
    params = {**page.of_scene, "code": 3, "other_code": 4}
    pair = page.client.get(f"{page.base}/band-subsets", params=params).json()
    assert pair["enough"] == 1 and pair["subsets"][0]["roles"] == ["nir"]
    missing = page.client.get(f"{page.base}/band-subsets", params={**params, "code": 77})
    assert "too few pixels" in missing.json()["detail"]


def test_sites_are_carried_to_another_date_and_bound_to_this_one(page: Page) -> None:
    """To the same scene nothing has changed; what is true on one date is not carried."""
    params = {**page.of_scene, "other_id": page.study.scene_id}
    found = page.client.get(f"{page.base}/carried", params=params).json()
    assert [one["changed"] for one in found["sites"]] == [False] * 4
    assert (found["grids"], found["lost"]) == ([], [])
    assert all(one["mean_here"] == one["mean_there"] for one in found["sites"])
    chosen = page.study.site_ids[1]
    assert page.act("this_date", chosen).status_code == 200
    assert page.sites()[chosen]["true_on"] == "2024-06-01"
    page.act("any_date", chosen)
    assert page.sites()[chosen]["true_on"] is None
    strange = page.client.get(f"{page.base}/carried", params={**params, "other_id": 999_999})
    assert strange.status_code == 404
