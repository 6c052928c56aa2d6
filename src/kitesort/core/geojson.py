"""Outlines from GeoJSON, read by ourselves: nothing in it is followed anywhere.

Source: RFC 7946, which knows degrees only; the member ``crs`` of the format before it (2008) is
honoured where it names a coordinate system, and refused where it gives an address to look one up.
"""

from collections.abc import Sequence
from typing import Any

import numpy as np
import shapely
from shapely.errors import ShapelyError
from shapely.geometry import mapping, shape
from shapely.geometry.base import BaseGeometry

from kitesort.core.errors import InputError, UnreadableFileError
from kitesort.core.outside_json import read_json

DEGREES = "EPSG:4326"
Json = dict[str, Any]


def read_features(
    content: bytes, file_name: str
) -> tuple[list[BaseGeometry | None], list[Json], str]:
    """Shapes without heights (None where a feature has none), the attributes of each, and the
    coordinate system's name.

    Raises
    ------
    UnreadableFileError : no GeoJSON, or damaged. InputError : a coordinate system by address.
    """
    try:
        told = read_json(content.decode("utf-8-sig"))
    except ValueError as error:
        raise _unreadable(file_name) from error
    if not isinstance(told, dict):
        raise _unreadable(file_name)
    features = told.get("features") if told.get("type") == "FeatureCollection" else [told]
    if not isinstance(features, list):
        raise _unreadable(file_name)
    shapes = [_shape_of(feature, file_name) for feature in features]
    return shapes, [_attributes_of(feature) for feature in features], _crs_of(told, file_name)


def _attributes_of(feature: Json) -> Json:
    told = feature.get("properties")
    return told if isinstance(told, dict) else {}


def _unreadable(file_name: str) -> UnreadableFileError:
    return UnreadableFileError(
        f"{file_name} cannot be read. It may be cut short or of another format."
    )


def _shape_of(feature: Any, file_name: str) -> BaseGeometry | None:
    """A feature's geometry, or the geometry itself; None where a feature has none."""
    if not isinstance(feature, dict):
        raise _unreadable(file_name)
    geometry = feature.get("geometry") if feature.get("type") == "Feature" else feature
    if geometry is None:
        return None
    found = shape_or_none(geometry)
    if found is None:
        raise _unreadable(file_name)
    return shapely.force_2d(found)


def shape_or_none(geometry: Any) -> BaseGeometry | None:
    """A shape from a GeoJSON geometry; None where it is none. Corners may lack numbers."""
    try:
        with np.errstate(invalid="ignore"):  # told by whoever asks
            return shape(geometry)
    except (ShapelyError, LookupError, TypeError, ValueError, AttributeError):
        return None


def geometries_of(shapes: Sequence[BaseGeometry]) -> list[Json]:
    """Each as a GeoJSON geometry; plain rings of any number at once."""
    array = np.empty(len(shapes), object)
    array[:] = shapes
    plain = (shapely.get_type_id(array) == shapely.GeometryType.POLYGON) & (
        shapely.get_num_interior_rings(array) == 0
    )
    plain &= ~shapely.has_z(array)
    corners = shapely.get_coordinates(array[plain]).tolist()
    ends = np.cumsum(shapely.get_num_coordinates(array[plain])).tolist()
    rings = iter([corners[start:end] for start, end in zip([0, *ends], ends, strict=False)])
    return [
        {"type": "Polygon", "coordinates": [next(rings)]} if is_plain else dict(mapping(one))
        for one, is_plain in zip(shapes, plain.tolist(), strict=True)
    ]


def _crs_of(told: Json, file_name: str) -> str:
    crs = told.get("crs")
    if crs is None:
        return DEGREES
    properties = crs.get("properties") if isinstance(crs, dict) else None
    name = properties.get("name") if isinstance(properties, dict) else None
    if not isinstance(name, str):
        raise InputError(
            f"{file_name} does not name its coordinate system, or gives an address where it is "
            "described, which is not fetched. Choose the one it is in."
        )
    return DEGREES if name.upper().endswith("CRS84") else name  # longitude before latitude
