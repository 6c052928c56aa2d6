import io
import json
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
import pyogrio.raw
import pytest
import shapely
from shapely.geometry import Polygon, box, mapping, shape

from kitesort.core.boundary import read_boundary
from kitesort.core.errors import InputError, KiteSortError, UnreadableFileError
from kitesort.core.geometry import reproject_shape

UTM, DEGREES = "EPSG:32625", "EPSG:4326"
SQUARE = box(410_000, 5_095_000, 411_000, 5_096_000)


def write(path: Path, crs: str | None, *shapes: Any) -> bytes:
    names = np.array([f"Part {i}" for i in range(len(shapes))], object)
    pyogrio.raw.write(
        path, shapely.to_wkb(np.array(shapes, object)), [names], fields=["name"], crs=crs,
        geometry_type="Polygon",
    )  # fmt: skip
    return path.read_bytes()


def zipped_shapefile(folder: Path, crs: str | None, *shapes: Any) -> bytes:
    write(folder / "area.shp", crs or UTM, *shapes)
    if crs is None:
        (folder / "area.prj").unlink()
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as packed:
        for part in folder.glob("area.*"):
            packed.write(part, f"inside/{part.name}")
    return buffer.getvalue()


@pytest.mark.parametrize("kind", ["gpkg", "geojson", "zip"])
@pytest.mark.parametrize("crs", [UTM, "EPSG:32624", DEGREES])
def test_every_format_in_any_system(tmp_path: Path, kind: str, crs: str) -> None:
    if kind == "geojson" and crs != DEGREES:
        pytest.skip("GeoJSON is in degrees by its standard (RFC 7946)")
    there = reproject_shape(SQUARE, UTM, crs)
    if kind == "zip":
        content = zipped_shapefile(tmp_path, crs, there)
    else:
        content = write(tmp_path / f"x.{kind}", crs, there)
    found = read_boundary(content, f"area.{kind}", UTM)
    assert found.crs == crs
    [feature] = found.features
    assert feature.name == "Part 0"
    outline = shape(feature.geometry)
    assert outline.symmetric_difference(SQUARE).area / SQUARE.area < 1e-3


def test_a_file_without_a_system_asks_for_one(tmp_path: Path) -> None:
    content = zipped_shapefile(tmp_path, None, SQUARE)
    with pytest.raises(InputError, match="names no coordinate system"):
        read_boundary(content, "area.zip", UTM)
    assert read_boundary(content, "area.zip", UTM, UTM).features[0].geometry["type"] == "Polygon"


def test_parts_and_broken_outlines_are_taken_apart() -> None:
    bow_tie = Polygon([(0, 0), (1, 1), (1, 0), (0, 1)])
    two = shapely.MultiPolygon([box(2, 0, 3, 1), box(4, 0, 5, 1)])
    features = [{"type": "Feature", "properties": {}, "geometry": mapping(g)}
                for g in (bow_tie, two, shapely.Point(0, 0))]  # fmt: skip
    text = json.dumps({"type": "FeatureCollection", "features": features})
    found = read_boundary(text.encode(), "x.geojson", DEGREES)
    assert len(found.features) == 4, "two halves of the bow tie, two parts; a point is no area"
    assert all(shape(f.geometry).is_valid for f in found.features)


@pytest.mark.parametrize(
    ("content", "name", "sentence"),
    [
        (b"", "x.geojson", "not what its name says"),
        (b"{\"type\": \"Feat", "x.geojson", "cannot be read"),
        (b"SQLite format 3\0" + b"x" * 200, "x.gpkg", "cannot be read"),
        (b"hello", "x.gpkg", "not what its name says"),
        (b"hello", "x.kml", "no file that is read"),
        (b"\0\0\x27\x0a", "x.shp", "zipped shapefile with all its parts"),
        (b'{"type": "FeatureCollection", "features": []}', "x.geojson", "no outline"),
    ],
)  # fmt: skip
def test_what_is_no_boundary(content: bytes, name: str, sentence: str) -> None:
    with pytest.raises(KiteSortError, match=sentence):
        read_boundary(content, name, UTM)


def test_an_archive_with_nothing_of_the_kind() -> None:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as packed:
        packed.writestr("readme.txt", "hello")
    with pytest.raises(UnreadableFileError, match="holds no shapefile"):
        read_boundary(buffer.getvalue(), "x.zip", UTM)


def test_far_too_large(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("kitesort.core.vector_file.MAX_BYTES", 10)
    with pytest.raises(UnreadableFileError, match="too large"):
        read_boundary(b"{" + b" " * 20, "x.geojson", UTM)


def test_how_many_outlines_there_are_is_told_in_full(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("kitesort.core.boundary.MAX_FEATURES", 5)
    features = [{"type": "Feature", "properties": {}, "geometry": mapping(box(i, 0, i + 1, 1))}
                for i in range(12)]  # fmt: skip
    content = json.dumps({"type": "FeatureCollection", "features": features}).encode()
    with pytest.raises(InputError, match="holds 12 outlines; at most 5 are taken"):
        read_boundary(content, "x.geojson", UTM)


FEATURE = {"type": "Feature", "properties": {"name": "Fen"}, "geometry": mapping(SQUARE)}


def geojson(**more: Any) -> bytes:
    return json.dumps({"type": "FeatureCollection", "features": [FEATURE], **more}).encode()


def test_a_coordinate_system_that_is_named_is_taken() -> None:
    crs = {"type": "name", "properties": {"name": "urn:ogc:def:crs:EPSG::32625"}}
    found = read_boundary(geojson(crs=crs), "x.geojson", UTM)
    assert found.crs == UTM and found.features[0].name == "Fen"
    assert shape(found.features[0].geometry).equals(SQUARE)


@pytest.mark.parametrize(
    "crs",
    [
        {"type": "link", "properties": {"href": "http://127.0.0.1:9/crs", "type": "ogcwkt"}},
        {"type": "name", "properties": {"name": "http://127.0.0.1:9/crs"}},
        {"type": "name", "properties": {"name": "urn:ogc:def:crs:EPSG::999999"}},
        {"type": "name", "properties": {"name": "Somewhere"}},
        {"type": "name"},
        "EPSG:32625",
    ],
)
def test_no_coordinate_system_is_fetched_or_guessed(
    crs: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Nothing is connected to, and an unknown system is not taken for degrees."""
    reached: list[Any] = []
    monkeypatch.setattr("socket.socket.connect", lambda *address: reached.append(address))
    with pytest.raises(InputError, match="coordinate system"):
        read_boundary(geojson(crs=crs), "x.geojson", UTM)
    assert reached == []
    given = read_boundary(geojson(), "x.geojson", UTM, UTM)
    assert shape(given.features[0].geometry).equals(SQUARE)


@pytest.mark.parametrize("number", ["NaN", "1e308", "-1e400", "1e" + "9" * 400])
def test_corners_without_a_place_are_told(number: str) -> None:
    text = json.dumps({"type": "Polygon", "coordinates": [[[0, 0], [1, 0], [1, 77], [0, 0]]]})
    with pytest.raises(KiteSortError, match=r"without a place on the ground|cannot be read"):
        read_boundary(text.replace("77", number).encode(), "x.geojson", DEGREES)


def test_another_planet_is_another_place() -> None:
    with pytest.raises(KiteSortError, match="There is no way from"):
        read_boundary(geojson(), "x.geojson", UTM, "IAU_2015:30100")
