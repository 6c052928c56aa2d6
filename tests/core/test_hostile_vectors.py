"""Vector files and tables that are small to send and dear to read: refused in a sentence, soon."""

import json
import sqlite3
from pathlib import Path

import numpy as np
import pyogrio
import pytest
import shapely

from kitesort.core.errors import InputError, UnreadableFileError
from kitesort.core.training.point_table import MOST_CELLS, read_point_table
from kitesort.core.vector_file import MOST_COLUMNS, read_vector

ENDLESS = (
    "WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n) "
    "SELECT squares.* FROM squares, n"
)


def geopackage(folder: Path, n: int = 3) -> Path:
    path = folder / "squares.gpkg"
    shapes = shapely.to_wkb(np.array([shapely.box(i, 0, i + 1, 1) for i in range(n)]))
    pyogrio.raw.write(
        path, shapes, [np.arange(n)], ["code"], layer="squares", driver="GPKG",
        geometry_type="Polygon", crs="EPSG:32625",
    )  # fmt: skip
    return path


def test_a_plain_geopackage_is_read(tmp_path: Path) -> None:
    """Its own triggers, which every one with an index of places has, do no harm."""
    found = read_vector(geopackage(tmp_path).read_bytes(), "squares.gpkg", 3)
    assert found.columns["code"] == (0, 1, 2)
    assert [shape.area for shape in found.shapes if shape] == [1, 1, 1]


def test_a_view_is_not_followed(tmp_path: Path) -> None:
    path = geopackage(tmp_path)
    with sqlite3.connect(path) as database:
        database.execute(f"CREATE VIEW endless AS {ENDLESS}")
        database.execute(
            "INSERT INTO gpkg_contents (table_name, data_type, srs_id) "
            "VALUES ('endless', 'features', 32625)"
        )
        database.execute("DELETE FROM gpkg_contents WHERE table_name = 'squares'")
    with pytest.raises(InputError, match="a view, “endless”"):
        read_vector(path.read_bytes(), "squares.gpkg", 3)


def test_features_are_counted_up_to_the_bound(tmp_path: Path) -> None:
    path = geopackage(tmp_path, 5)
    with pytest.raises(InputError, match="more than 4 outlines"):
        read_vector(path.read_bytes(), "squares.gpkg", 4)


@pytest.mark.parametrize("n_bytes", [40, 700, 5_000])
def test_a_cut_geopackage(tmp_path: Path, n_bytes: int) -> None:
    with pytest.raises(UnreadableFileError, match="cannot be read"):
        read_vector(geopackage(tmp_path).read_bytes()[:n_bytes], "squares.gpkg", 3)


def test_attributes_of_their_own_for_each_feature() -> None:
    square = {"type": "Polygon", "coordinates": [[[0, 0], [1, 0], [1, 1], [0, 0]]]}
    features = [
        {"type": "Feature", "properties": {f"a{i}": i}, "geometry": square}
        for i in range(MOST_COLUMNS + 1)
    ]

    def content(n: int) -> bytes:
        return json.dumps({"type": "FeatureCollection", "features": features[:n]}).encode()

    assert len(read_vector(content(MOST_COLUMNS), "a.geojson", 10_000).columns) == MOST_COLUMNS
    with pytest.raises(InputError, match="more than 500 attributes"):
        read_vector(content(MOST_COLUMNS + 1), "a.geojson", 10_000)


def test_short_rows_under_a_wide_head() -> None:
    head = ",".join(f"c{i}" for i in range(500))
    rows = "1\n" * (MOST_CELLS // 500 + 1)
    with pytest.raises(InputError, match="cells"):
        read_point_table(f"{head}\n{rows}".encode(), "wide.csv", 1_000_000)
