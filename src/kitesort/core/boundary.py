"""Outlines from a boundary file: GeoPackage, GeoJSON or zipped shapefile, in any CRS."""

import tempfile
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
import shapely
from shapely.geometry import mapping
from shapely.geometry.base import BaseGeometry
from shapely.geometry.polygon import orient

from kitesort.core.crs_search import require_crs
from kitesort.core.delivery.archive import unpack
from kitesort.core.errors import InputError, UnreadableFileError
from kitesort.core.geojson import read_geojson
from kitesort.core.geometry import reproject_shape

MAX_FEATURES = 2_000
MAX_BYTES = 64 * 2**20
MAX_COORDINATE = 1e9  # beyond any place on the ground, in metres, feet or degrees
SUFFIXES = (".gpkg", ".geojson", ".json", ".shp")


@dataclass(frozen=True)
class BoundaryFeature:
    """One outline: its name (from the file's attributes), and GeoJSON in the wanted CRS."""

    name: str
    geometry: dict[str, Any]


@dataclass(frozen=True)
class Boundary:
    """What a file holds, and the CRS it was given in."""

    crs: str
    features: tuple[BoundaryFeature, ...]


def read_boundary(
    content: bytes, file_name: str, crs: str, given_crs: str | None = None
) -> Boundary:
    """The polygons of a boundary file in ``crs``; ``given_crs`` for a file that names none.

    Raises
    ------
    UnreadableFileError : not one of the formats, damaged, or without polygons.
    InputError : no CRS is known, or there are too many outlines.
    """
    if len(content) > MAX_BYTES:
        raise UnreadableFileError(f"{file_name} is too large for a boundary.")
    with _on_disk(content, file_name) as path:
        shapes, names, found = _read(path, file_name)
    own = given_crs or found
    if own is None:
        raise InputError(f"{file_name} names no coordinate system. Choose the one it is in.")
    own = require_crs(own)
    if not all(_has_a_place(geometry) for geometry in shapes):
        raise UnreadableFileError(f"{file_name} holds a corner without a place on the ground.")
    features = tuple(
        BoundaryFeature(name, dict(mapping(reproject_shape(part, own, crs))))
        for geometry, name in zip(shapes, names, strict=True)
        for part in _polygons_of(geometry)
    )
    if not features:
        raise UnreadableFileError(f"{file_name} holds no outline that encloses an area.")
    if len(features) > MAX_FEATURES:
        raise _too_many(file_name, len(features))
    return Boundary(own, features)


@contextmanager
def _on_disk(content: bytes, file_name: str) -> Iterator[Path]:
    """The file under a name of our own; a zip is unpacked and its shapefile looked for."""
    with tempfile.TemporaryDirectory(prefix="kitesort-boundary-") as text:
        folder = Path(text)
        suffix = Path(file_name).suffix.lower()
        path = folder / f"boundary{suffix}"
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
                f"{file_name} is no boundary that is read. Give a GeoPackage, GeoJSON, or a zipped "
                "shapefile with all its parts."
            )
        yield path


def _read(path: Path, file_name: str) -> tuple[list[BaseGeometry], list[str], str | None]:
    driver = {".gpkg": "geopackage", ".shp": "shapefile"}.get(path.suffix.lower(), "geojson")
    if not _begins_as(path, driver):
        raise UnreadableFileError(f"{file_name} is not what its name says.")
    if driver != "geojson":
        return _read_layer(path, file_name)
    shapes, names, crs = read_geojson(path.read_bytes(), file_name)
    if len(shapes) > MAX_FEATURES:
        raise _too_many(file_name, len(shapes))
    return shapes, names, crs


def _read_layer(path: Path, file_name: str) -> tuple[list[BaseGeometry], list[str], str | None]:
    import pyogrio  # slow to import, and only needed here
    from pyogrio.errors import DataSourceError

    try:
        meta, _, wkb, columns = pyogrio.raw.read(path, force_2d=True, max_features=MAX_FEATURES + 1)
        n = pyogrio.read_info(path, force_feature_count=True)["features"]
    except (DataSourceError, ValueError) as error:
        raise UnreadableFileError(
            f"{file_name} cannot be read. It may be cut short or of another format."
        ) from error
    if n > MAX_FEATURES:
        raise _too_many(file_name, n)
    shapes = list(shapely.from_wkb(wkb)) if wkb is not None else []
    crs = meta["crs"]
    if crs is not None and "undefined" in crs.casefold():
        crs = None  # what a GeoPackage writes where nobody has said
    return shapes, _names(meta["fields"], columns, len(shapes)), crs


def _too_many(file_name: str, n: int) -> InputError:
    return InputError(
        f"{file_name} holds {n:,} outlines; at most {MAX_FEATURES:,} are taken. Leave out what is "
        "not needed."
    )


def _begins_as(path: Path, driver: str) -> bool:
    """First bytes of each format; the name of a file proves nothing."""
    with path.open("rb") as handle:
        head = handle.read(512)
    starts = {"geopackage": head.startswith(b"SQLite format 3"),
              "shapefile": head.startswith(b"\0\0\x27\x0a"),
              "geojson": head.lstrip(b"\xef\xbb\xbf \t\r\n").startswith(b"{")}  # fmt: skip
    return starts[driver]


def _names(fields: Any, columns: Any, n: int) -> list[str]:
    """What the outlines are called: the first attribute of text, else their number."""
    for field, values in zip(fields, columns, strict=True):
        if values.dtype == object and ("name" in str(field).casefold() or len(fields) == 1):
            return [str(v) if v is not None else f"Outline {i + 1}" for i, v in enumerate(values)]
    return [f"Outline {i + 1}" for i in range(n)]


def _has_a_place(geometry: BaseGeometry | None) -> bool:
    corners = shapely.get_coordinates(geometry)
    return bool(np.isfinite(corners).all() and (np.abs(corners) < MAX_COORDINATE).all())


def _polygons_of(geometry: BaseGeometry | None) -> list[BaseGeometry]:
    if geometry is None or geometry.is_empty:
        return []
    good = geometry if geometry.is_valid else shapely.make_valid(geometry)
    parts = shapely.get_parts(good) if hasattr(good, "geoms") else [good]
    return [orient(part) for part in parts if part.geom_type == "Polygon" and part.area > 0]
