"""Shapes with their attributes from files of others: GeoPackage, GeoJSON, zipped shapefile."""

import sqlite3
import tempfile
import zipfile
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from kitesort.core.delivery.archive import unpack
from kitesort.core.errors import InputError, UnreadableFileError
from kitesort.core.geojson import read_features

MAX_BYTES = 64 * 2**20
MAX_COORDINATE = 1e9  # beyond any place on the ground, in metres, feet or degrees
MOST_COLUMNS = 500
SUFFIXES = (".gpkg", ".geojson", ".json", ".shp")


@dataclass(frozen=True)
class VectorTable:
    """Features of a file: shapes without heights (None where a feature has none), what is said of
    each by attribute (None where nothing is), and the CRS that the file names, if any."""

    shapes: tuple[BaseGeometry | None, ...]
    columns: dict[str, tuple[Any, ...]]
    crs: str | None


def read_vector(content: bytes, file_name: str, most: int) -> VectorTable:
    """All features of a file, of which there may be at most so many.

    Raises
    ------
    UnreadableFileError : not one of the formats, damaged, or a corner without a place.
    InputError : too many features, or a coordinate system that is not named.
    """
    require_moderate(content, file_name)
    with _on_disk(content, file_name) as path:
        driver = {".gpkg": "geopackage", ".shp": "shapefile"}.get(path.suffix.lower(), "geojson")
        if not _begins_as(path, driver):
            raise UnreadableFileError(f"{file_name} is not what its name says.")
        found = (
            _read_geojson(path, file_name, most)
            if driver == "geojson"
            else _read_layer(path, file_name, most)
        )
    if not all(has_a_place(shape) for shape in found.shapes):
        raise UnreadableFileError(f"{file_name} holds a corner without a place on the ground.")
    return found


def require_moderate(content: bytes, file_name: str) -> None:
    """Raises UnreadableFileError : more than is read of one file."""
    if len(content) > MAX_BYTES:
        raise UnreadableFileError(
            f"{file_name} is too large: at most {MAX_BYTES // 2**20} MiB are read."
        )


@contextmanager
def _on_disk(content: bytes, file_name: str) -> Iterator[Path]:
    """The file under a name of our own; a zip is unpacked and its shapefile looked for."""
    with tempfile.TemporaryDirectory(prefix="kitesort-vector-") as text:
        folder = Path(text)
        suffix = Path(file_name).suffix.lower()
        path = folder / f"given{suffix}"
        path.write_bytes(content)
        if zipfile.is_zipfile(path):
            unpack(path, folder / "inside")
            inside = [p for p in sorted((folder / "inside").rglob("*"))
                      if p.suffix.lower() in SUFFIXES]  # fmt: skip
            if not inside:
                raise UnreadableFileError(f"{file_name} holds no shapefile, GeoPackage or GeoJSON.")
            path = inside[0]
        elif suffix not in SUFFIXES or suffix == ".shp":
            raise UnreadableFileError(
                f"{file_name} is no file that is read here. Give a GeoPackage, GeoJSON, or a "
                "zipped shapefile with all its parts."
            )
        yield path


def _begins_as(path: Path, driver: str) -> bool:
    """First bytes of each format; the name of a file proves nothing."""
    with path.open("rb") as handle:
        head = handle.read(512)
    starts = {"geopackage": head.startswith(b"SQLite format 3"),
              "shapefile": head.startswith(b"\0\0\x27\x0a"),
              "geojson": head.lstrip(b"\xef\xbb\xbf \t\r\n").startswith(b"{")}  # fmt: skip
    return starts[driver]


def _read_geojson(path: Path, file_name: str, most: int) -> VectorTable:
    shapes, attributes, crs = read_features(path.read_bytes(), file_name)
    if len(shapes) > most:
        raise _too_many(file_name, most, len(shapes))
    names: dict[str, None] = {}
    for one in attributes:
        names |= dict.fromkeys(map(str, one))
        if len(names) > MOST_COLUMNS:  # each is kept for every feature
            raise InputError(
                f"{file_name} has more than {MOST_COLUMNS} attributes; that many are taken at most."
            )
    columns = {name: tuple(one.get(name) for one in attributes) for name in names}
    return VectorTable(tuple(shapes), columns, crs)


def _require_plain_tables(path: Path, file_name: str) -> None:
    """Refuse a database with a query in it: one that never ends would never be read."""
    address = f"{path.resolve().as_uri()}?mode=ro&immutable=1"
    try:
        with closing(sqlite3.connect(address, uri=True)) as database:
            views = database.execute("SELECT name FROM sqlite_master WHERE type = 'view'")
            found = views.fetchone()
    except sqlite3.DatabaseError as error:
        raise _unreadable(file_name) from error
    if found is not None:
        raise InputError(
            f"{file_name} holds a view, “{found[0][:80]}”: a query, which is not followed. Save "
            "what it gives as a table."
        )


def _read_layer(path: Path, file_name: str, most: int) -> VectorTable:
    import pyogrio  # slow to import, and only needed here
    from pyogrio.errors import DataSourceError

    if path.suffix.lower() == ".gpkg":
        _require_plain_tables(path, file_name)
    try:
        meta, found, wkb, columns = pyogrio.raw.read(
            path, force_2d=True, max_features=most + 1, return_fids=True
        )
    except (DataSourceError, ValueError) as error:
        raise _unreadable(file_name) from error
    if len(found) > most:
        raise _too_many(file_name, most)
    shapes = tuple(shapely.from_wkb(wkb)) if wkb is not None else (None,) * len(found)
    crs = meta["crs"]
    if crs is not None and "undefined" in crs.casefold():
        crs = None  # what a GeoPackage writes where nobody has said
    told = {
        str(field): tuple(_plain(value) for value in values)
        for field, values in zip(meta["fields"], columns, strict=True)
    }
    return VectorTable(shapes, told, crs)


def _plain(value: Any) -> Any:
    """As Python has it; None for what is not there."""
    if isinstance(value, np.datetime64):
        return None if np.isnat(value) else str(value)
    plain = value.item() if isinstance(value, np.generic) else value
    return None if plain != plain else plain  # not-a-number


def _too_many(file_name: str, most: int, n: int | None = None) -> InputError:
    """``n``: how many there are, where all have been read."""
    found = f"more than {most:,}" if n is None else f"{n:,}"
    return InputError(
        f"{file_name} holds {found} outlines; at most {most:,} are taken. Leave out what is not "
        "needed."
    )


def _unreadable(file_name: str) -> UnreadableFileError:
    return UnreadableFileError(
        f"{file_name} cannot be read. It may be cut short or of another format."
    )


def has_a_place(geometry: BaseGeometry | None) -> bool:
    """Whether all corners are numbers that can be coordinates."""
    corners = shapely.get_coordinates(geometry)
    return bool(np.isfinite(corners).all() and (np.abs(corners) < MAX_COORDINATE).all())
