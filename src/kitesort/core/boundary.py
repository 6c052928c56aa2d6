"""Outlines from a boundary file: GeoPackage, GeoJSON or zipped shapefile, in any CRS."""

from dataclasses import dataclass
from typing import Any

import shapely
from shapely.geometry import mapping
from shapely.geometry.base import BaseGeometry
from shapely.geometry.polygon import orient

from kitesort.core.crs_search import require_crs
from kitesort.core.errors import InputError, UnreadableFileError
from kitesort.core.geometry import reproject_shape
from kitesort.core.vector_file import MAX_BYTES, VectorTable, read_vector

__all__ = ["MAX_BYTES", "Boundary", "BoundaryFeature", "read_boundary"]
MAX_FEATURES = 2_000


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
    found = read_vector(content, file_name, MAX_FEATURES)
    own = given_crs or found.crs
    if own is None:
        raise InputError(f"{file_name} names no coordinate system. Choose the one it is in.")
    own = require_crs(own)
    features = tuple(
        BoundaryFeature(name, dict(mapping(reproject_shape(part, own, crs))))
        for geometry, name in zip(found.shapes, _names(found), strict=True)
        for part in _polygons_of(geometry)
    )
    if not features:
        raise UnreadableFileError(f"{file_name} holds no outline that encloses an area.")
    if len(features) > MAX_FEATURES:
        raise InputError(
            f"{file_name} holds {len(features):,} outlines; at most {MAX_FEATURES:,} are taken. "
            "Leave out what is not needed."
        )
    return Boundary(own, features)


def _names(table: VectorTable) -> list[str]:
    """What the outlines are called: the first attribute that is a name, else the only one that is
    text, else their number."""
    texts = {
        name: values
        for name, values in table.columns.items()
        if any(isinstance(value, str) for value in values)
    }
    called = [name for name in texts if "name" in name.casefold()]
    chosen = called[0] if called else next(iter(texts)) if len(texts) == 1 else None
    told = texts[chosen] if chosen is not None else (None,) * len(table.shapes)
    return [
        value if isinstance(value, str) and value else f"Outline {i}"
        for i, value in enumerate(told, start=1)
    ]


def _polygons_of(geometry: BaseGeometry | None) -> list[BaseGeometry]:
    if geometry is None or geometry.is_empty:
        return []
    good = geometry if geometry.is_valid else shapely.make_valid(geometry)
    parts = shapely.get_parts(good) if hasattr(good, "geoms") else [good]
    return [orient(part) for part in parts if part.geom_type == "Polygon" and part.area > 0]
