"""Training sites of others: files made by pyogrio, shapely and csv are brought in, and what we
write ourselves comes back the same."""

import csv
import io
import json
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
import pyogrio
import pytest
import shapely
from fastapi.testclient import TestClient
from pyproj import Transformer
from shapely.geometry import Point, Polygon, mapping, shape

from kitesort.runs.perform import perform_run
from kitesort.store.records import Site
from kitesort.store.scheme import list_classes
from kitesort.store.sites import create_sites, list_sites
from support.small_scene import CRS, NAMES, PIXEL, rectangle
from support.study import SmallStudy, centre_of

TO_DEGREES = Transformer.from_crs(CRS, "EPSG:4326", always_xy=True)


class Page:
    """Calls on one study."""

    def __init__(self, client: TestClient, study: SmallStudy) -> None:
        self.client, self.study = client, study
        self.base = f"/api/studies/{study.id}"

    def keep(self, content: bytes, name: str) -> dict[str, Any]:
        answer = self.client.post(
            f"{self.base}/ground-files", params={"name": name}, content=content
        )
        assert answer.status_code == 201, answer.text
        return {**answer.json(), "scene_id": self.study.scene_id}

    def look(self, content: bytes, name: str, **options: Any) -> Any:
        return self.client.post(f"{self.base}/ground", json=self.keep(content, name) | options)

    def take(self, content: bytes, name: str, **options: Any) -> list[str]:
        """All values, as proposed; the log of the run."""
        wanted = options.pop("wanted", None)
        told = self.keep(content, name) | options
        if wanted is None:
            values = self.client.post(f"{self.base}/ground", json=told).json()["values"]
            wanted = {
                v["value"]: {key: v[key] for key in ("class_id", "name", "code", "colour")}
                for v in values
            }
        run = self.client.post(f"{self.base}/ground-takes", json=told | {"wanted": wanted})
        assert run.status_code == 201, run.text
        perform_run(run.json()["id"])
        runs = self.client.get(f"{self.base}/runs").json()
        return [str(line) for line in next(r for r in runs if r["id"] == run.json()["id"])["log"]]

    def sites(self) -> list[Site]:
        return list_sites(self.study.id)

    def new_sites(self) -> list[Site]:
        return [s for s in self.sites() if s.id not in self.study.site_ids.values()]

    def class_of(self, site: Site) -> str:
        return next(c.name for c in list_classes(self.study.id) if c.id == site.class_id)


@pytest.fixture
def page(client: TestClient, small_study: SmallStudy) -> Page:
    return Page(client, small_study)


def geojson(*features: tuple[Any, dict[str, Any]], **members: Any) -> bytes:
    told = [
        {"type": "Feature", "geometry": geometry, "properties": properties}
        for geometry, properties in features
    ]
    return json.dumps({"type": "FeatureCollection", "features": told, **members}).encode()


def in_utm(*features: tuple[Any, dict[str, Any]]) -> bytes:
    """With the member of the format before RFC 7946."""
    crs = {"type": "name", "properties": {"name": f"urn:ogc:def:crs:{CRS.replace(':', '::')}"}}
    return geojson(*features, crs=crs)


def point(row: int, column: int) -> dict[str, Any]:
    return dict(mapping(Point(*centre_of(row, column))))


def table(*rows: list[Any], separator: str = ",") -> bytes:
    out = io.StringIO()
    csv.writer(out, delimiter=separator).writerows(rows)
    return out.getvalue().encode()


@pytest.mark.parametrize("form", ["gpkg", "geojson", "zip"])
def test_what_we_write_comes_back_the_same(page: Page, form: str) -> None:
    ids = page.study.class_ids
    pieces = shapely.MultiPolygon([shape(rectangle(30, 60, 3, 3)), shape(rectangle(36, 66, 2, 4))])
    create_sites(page.study.id, [(ids[2], dict(mapping(pieces)), "two pieces, „zwei“")])
    before = page.sites()
    content = page.client.get(f"{page.base}/sites.{form}").content
    for site in before:
        page.client.delete(f"/api/sites/{site.id}")
    for class_id in ids.values():
        page.client.delete(f"/api/classes/{class_id}")
    assert page.take(content, f"sites.{form}")[-1] == "5 sites taken."
    after = page.sites()
    classes = [(c.code, c.name, c.colour) for c in list_classes(page.study.id)]
    assert [name for _, name, _ in classes] == list(NAMES.values())
    assert [code for code, _, _ in classes] == list(NAMES)
    assert [s.note for s in after] == [s.note for s in before]
    for one, other in zip(before, after, strict=True):
        assert shapely.hausdorff_distance(shape(one.geometry), shape(other.geometry)) < 1e-3
    page.client.post(f"{page.base}/undo")
    assert list(page.sites()) == [] and list_classes(page.study.id) == []


def test_pixels_as_points_come_back_as_the_same_pixels(page: Page) -> None:
    params = {"scene_id": page.study.scene_id}
    content = page.client.get(f"{page.base}/site-pixels.csv", params=params).content
    before = page.client.get(f"{page.base}/training", params=params).json()["classes"]
    for site in page.sites():
        page.client.delete(f"/api/sites/{site.id}")
    assert page.look(content, "p.csv").json()["crs"] is None, "a table does not say where it is"
    assert page.take(content, "p.csv", crs=CRS, attribute="class")[-1] == "720 sites taken."
    after = page.client.get(f"{page.base}/training", params=params).json()["classes"]
    assert [c["n_pixels"] for c in after] == [c["n_pixels"] for c in before]
    assert np.allclose([c["mean"] for c in after], [c["mean"] for c in before])


def test_a_file_of_pyogrio_in_another_system_lands_where_it_was(page: Page, tmp_path: Path) -> None:
    """UTM zone of the neighbour: edges are slightly bent there."""
    outline = shape(rectangle(60, 30, 6, 8))
    other = Transformer.from_crs(CRS, "EPSG:32626", always_xy=True)
    moved = shapely.transform(outline, other.transform, interleaved=False)
    path = tmp_path / "given.gpkg"
    pyogrio.raw.write(
        path, geometry=np.array([shapely.to_wkb(moved)], object),
        field_data=[np.array(["GRASS"], object)], fields=np.array(["cover"], object),
        geometry_type="Polygon", crs="EPSG:32626", driver="GPKG",
    )  # fmt: skip
    assert page.look(path.read_bytes(), "given.gpkg").json()["crs"] == "EPSG:32626"
    page.take(path.read_bytes(), "given.gpkg")
    (site,) = page.new_sites()
    assert page.class_of(site) == "Grass", "whatever the case of its letters"
    assert shapely.hausdorff_distance(shape(site.geometry), outline) < 0.01


def test_points_are_single_pixels_and_what_is_not_taken_has_a_reason(page: Page) -> None:
    content = in_utm(
        (point(20, 30), {"cover": 1}),
        (point(20, 30), {"cover": 1}),
        ({"type": "MultiPoint", "coordinates": [centre_of(60, 30), centre_of(61, 30)]},
         {"cover": 3}),
        (point(20, 900), {"cover": 1}),
        ({"type": "LineString", "coordinates": [[0, 0], [1, 1]]}, {"cover": 1}),
        (None, {"cover": 2}),
        (point(22, 30), {"cover": None}),
    )  # fmt: skip
    seen = page.look(content, "p.geojson").json()
    assert seen["n_features"] == 7 and seen["n_sites"] == 3
    assert {one["reason"]: one["n"] for one in seen["left_out"]} == {
        "without an area or a point": 2,
        "outside the scene": 1,
        "in a pixel that is taken already": 1,
        "without a class": 1,
    }
    log = page.take(content, "p.geojson")
    assert "2 without an area or a point not taken." in log
    made = page.new_sites()
    assert [page.class_of(site) for site in made] == ["Water", "Grass", "Grass"]
    assert all(shape(site.geometry).area == pytest.approx(PIXEL**2) for site in made)
    assert shape(made[0].geometry).centroid.coords[0] == pytest.approx(centre_of(20, 30))


@pytest.mark.parametrize(
    ("separator", "as_text"), [(",", str), (";", lambda v: str(v).replace(".", ",")), ("\t", str)]
)
def test_tables_of_points(page: Page, separator: str, as_text: Any) -> None:
    places = [TO_DEGREES.transform(*centre_of(row, 30)) for row in (20, 25, 60)]
    rows = [["Lon", "Lat", "what"]]
    rows += [[as_text(x), as_text(y), what] for (x, y), what in zip(places, "AAB", strict=True)]
    content = table(*rows, ["", "4", "A"], separator=separator)
    seen = page.look(content, "t.csv", attribute="what").json()
    assert (seen["x"], seen["y"], seen["crs"]) == ("Lon", "Lat", "EPSG:4326")
    assert [(v["value"], v["n_sites"], v["class_id"]) for v in seen["values"]] == [
        ("A", 2, None), ("B", 1, None),
    ]  # fmt: skip
    page.take(
        content, "t.csv", attribute="what",
        wanted={"A": {"class_id": page.study.class_ids[1]}, "B": {"name": "Ried ▲"}},
    )  # fmt: skip
    assert [page.class_of(site) for site in page.new_sites()] == ["Water", "Water", "Ried ▲"]


def test_columns_of_a_table_are_asked_for(page: Page) -> None:
    content = table(["a", "b", "kind"], [*centre_of(20, 30), "Sand"])
    seen = page.look(content, "t.csv", crs=CRS).json()
    assert (seen["is_table"], seen["x"], seen["n_sites"]) == (True, None, 0)
    named = page.look(content, "t.csv", crs=CRS, x="a", y="b", attribute="kind").json()
    assert named["n_sites"] == 1
    wrong = page.look(content, "t.csv", crs=CRS, x="a", y="q")
    assert (wrong.status_code, wrong.json()["detail"]) == (422, "The table has no column “q”.")


def test_a_spike_is_mended_and_a_figure_of_eight_is_not(page: Page) -> None:
    west, south, east, north = shape(rectangle(60, 30, 6, 6)).bounds
    spike = [(west, south), (east, south), (east, north + 30), (east, north), (west, north)]
    eight = [(west, south), (east, north), (east, south), (west, north)]
    content = in_utm(
        (dict(mapping(Polygon(spike))), {"cover": "Grass"}),
        (dict(mapping(Polygon(eight))), {"cover": "Grass"}),
    )
    seen = page.look(content, "g.geojson").json()
    assert (seen["n_sites"], seen["n_mended"]) == (1, 1)
    assert seen["left_out"] == [{"reason": "whose outline crosses itself", "n": 1}]
    page.take(content, "g.geojson")
    (site,) = page.new_sites()
    assert shape(site.geometry).area == pytest.approx(3600)


def test_collections_within_collections_are_looked_through(page: Page) -> None:
    inner = {"type": "GeometryCollection", "geometries": [rectangle(60, 30, 3, 3), point(70, 40)]}
    outer = {"type": "GeometryCollection", "geometries": [inner, rectangle(64, 30, 3, 3)]}
    page.take(in_utm((outer, {"cover": "Grass"})), "c.geojson")
    assert [shape(s.geometry).area for s in page.new_sites()] == pytest.approx([1800, 100])


@pytest.mark.parametrize(
    ("content", "name", "words"),
    [
        (b"hello", "x.gpkg", "not what its name says"),
        (b"\x89PNG\r\n", "x.geojson", "not what its name says"),
        (b'{"type":"FeatureCollection","features":[{}', "x.geojson", "cut short"),
        (b"hello", "x.xyz", "no file that is read here"),
        (b"hello", "x.csv", "no table with a head"),
        (b"a,a\n1,2\n", "x.csv", "same name"),
        ("x;y;ä\n1;2;3".encode("latin-1"), "x.csv", "UTF-8"),
        (geojson(({"type": "Point", "coordinates": [4e5, 5e6]}, {"c": 1})), "x.geojson",
         "beyond the globe"),
        (geojson(({"type": "Point", "coordinates": [1e12, 0]}, {"c": 1})), "x.geojson",
         "without a place"),
    ],
)  # fmt: skip
def test_what_cannot_be_read_is_said(page: Page, content: bytes, name: str, words: str) -> None:
    refused = page.look(content, name)
    assert refused.status_code == 422
    assert words in refused.json()["detail"]


def test_a_layer_that_names_no_system_is_asked_for_it(page: Page, tmp_path: Path) -> None:
    path = tmp_path / "nowhere.shp"
    with pytest.warns(UserWarning, match="crs"):
        pyogrio.raw.write(
            path, geometry=np.array([shapely.to_wkb(shape(rectangle(60, 30, 6, 8)))], object),
            field_data=[np.array([3], np.int32)], fields=np.array(["code"], object),
            geometry_type="Polygon", crs=None,
        )  # fmt: skip
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w") as archive:
        for part in tmp_path.iterdir():
            archive.write(part, part.name)
    seen = page.look(packed.getvalue(), "nowhere.zip").json()
    assert (seen["crs"], seen["n_features"], seen["n_sites"]) == (None, 1, 0)
    assert page.look(packed.getvalue(), "nowhere.zip", crs="EPSG:99999").status_code == 422
    page.take(packed.getvalue(), "nowhere.zip", crs=CRS)
    assert [page.class_of(site) for site in page.new_sites()] == ["Grass"]


def test_ten_thousand_values_are_no_classes(page: Page) -> None:
    rows = [[*centre_of(i // 100 % 90, 10 + i % 100), f"id {i}"] for i in range(9_000)]
    content = table(["x", "y", "class"], *rows)
    seen = page.look(content, "t.csv", crs=CRS).json()
    assert seen["n_values"] == 9_000 and len(seen["values"]) == 254
    wanted = {f"id {i}": {"name": f"Class {i}"} for i in range(254)}
    log = page.take(content, "t.csv", crs=CRS, wanted=wanted)
    assert log[-1] == "A class scheme holds at most 254 classes."
    assert page.new_sites() == [] and len(list_classes(page.study.id)) == len(NAMES)


def test_a_file_that_is_not_kept_any_more_and_classes_that_have_gone(page: Page) -> None:
    order = {"token": "0" * 40, "name": "x.csv", "scene_id": page.study.scene_id}
    assert page.client.post(f"{page.base}/ground", json=order).status_code == 404
    for token in ("../x", "", "0" * 39 + "/"):
        gone = page.client.post(f"{page.base}/ground", json={**order, "token": token})
        assert gone.status_code == 404
    content = in_utm((point(20, 30), {"cover": "Water"}))
    log = page.take(content, "p.geojson", wanted={"Water": {"class_id": 999_999}})
    assert "removed meanwhile" in log[-1]
    assert page.take(content, "p.geojson", wanted={})[-1].startswith("No site of the file")
    assert page.new_sites() == []


def test_a_file_of_which_nothing_lies_there_says_why(page: Page) -> None:
    content = b"x,y,code\n0,0,1\n5,5,1\n"
    log = page.take(content, "away.csv", x="x", y="y", crs=CRS, attribute="code", wanted={})
    assert log[-1] == "No site of the file can be taken: 2 outside the scene."
    assert page.new_sites() == []


@pytest.mark.parametrize("note", ["a\0b", "\ud800x"])
def test_texts_that_cannot_be_stored_are_said_at_the_first_look(page: Page, note: str) -> None:
    """They ended the run that brought them in as something unforeseen."""
    looked = page.look(in_utm((point(20, 30), {"cover": 1, "note": note})), "p.geojson")
    assert looked.status_code == 422, looked.text
    table = f"x,y,code,note\n1,2,1,{note}\n".encode("utf-8", "surrogatepass")
    assert page.look(table, "p.csv").status_code == 422
