"""Outlines carried from one coordinate system to another."""

from collections.abc import Callable, Mapping, Sequence
from typing import Any

import numpy as np
import numpy.typing as npt
import shapely
from shapely.geometry import mapping
from shapely.geometry.base import BaseGeometry

from kitesort.core.errors import BadSettingsError
from kitesort.core.geodesy import geod_of, in_degrees
from kitesort.core.geojson import geometries_of, shape_or_none
from kitesort.core.grid import SQUARE_METRES_PER_HECTARE, parse_crs
from kitesort.core.raster.warp import transformer

PIECES_PER_SIDE = 64  # long straight edges are bent in another coordinate system
STRAIGHT = 1e-5  # of an outline's size, by which the middle of an edge may be off


def is_same_crs(a: str, b: str) -> bool:
    return a == b or bool(parse_crs(a) == parse_crs(b))


def shape_of(geometry: Mapping[str, Any]) -> BaseGeometry:
    """A shape from GeoJSON.

    Raises
    ------
    BadSettingsError : it is none, or has a corner without coordinates.
    """
    found = shape_or_none(geometry)
    if found is None:
        raise BadSettingsError("The outline is no GeoJSON geometry.")
    if found.is_empty or not np.isfinite(shapely.get_coordinates(found)).all():
        raise BadSettingsError("The outline is empty or has a corner without coordinates.")
    return found


def reproject_shape(geometry: BaseGeometry, from_crs: str, to_crs: str) -> BaseGeometry:
    """The same outline in another CRS, edges cut fine enough to follow the ground where they are
    long enough to be bent.

    Raises
    ------
    BadSettingsError : part of it cannot be shown there.
    """
    if is_same_crs(from_crs, to_crs):
        return geometry

    def move(points: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
        return reproject_points(points, from_crs, to_crs)

    moved = shapely.transform(geometry, move)
    if not _is_straight(geometry, moved, move):
        left, bottom, right, top = geometry.bounds
        longest = max(right - left, top - bottom) / PIECES_PER_SIDE
        moved = shapely.transform(shapely.segmentize(geometry, longest), move)
    if not np.isfinite(shapely.get_coordinates(moved)).all():
        raise BadSettingsError(f"Part of the outline cannot be shown in {to_crs}.")
    return moved


def _is_straight(
    before: BaseGeometry,
    after: BaseGeometry,
    move: Callable[[npt.NDArray[np.float64]], npt.NDArray[np.float64]],
) -> bool:
    """Whether the middles of all edges lie where they would on straight ones."""
    corners, moved = shapely.get_coordinates(before), shapely.get_coordinates(after)
    if len(corners) < 2 or not np.isfinite(moved).all():
        return True
    off = move((corners[1:] + corners[:-1]) / 2) - (moved[1:] + moved[:-1]) / 2
    size = float(np.ptp(moved, axis=0).max())
    return bool(np.hypot(*off.T).max() <= STRAIGHT * size)


def reproject_geometry(geometry: dict[str, Any], from_crs: str, to_crs: str) -> dict[str, Any]:
    """As ``reproject_shape``, from GeoJSON to GeoJSON; as it is when the CRS is the same."""
    if is_same_crs(from_crs, to_crs):
        return geometry
    return dict(mapping(reproject_shape(shape_of(geometry), from_crs, to_crs)))


def reproject_outlines(
    geometries: Sequence[dict[str, Any]], texts: Sequence[str], from_crs: str, to_crs: str
) -> list[dict[str, Any]]:
    """As ``reproject_geometry`` for each, carried in one go; ``texts``: the same as GeoJSON text.

    Raises
    ------
    BadSettingsError : one of them is none, or part of it cannot be shown there.
    """

    def move(points: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
        return reproject_points(points, from_crs, to_crs)

    shapes = shapely.from_geojson(np.array(texts, object), on_invalid="ignore")
    moved = shapely.transform(shapes, move)
    straight = ~(shapely.is_missing(shapes) | shapely.is_empty(shapes) | shapely.has_z(shapes))
    straight &= _are_straight(shapes, moved, move)
    there = iter(geometries_of(list(moved[straight])))
    return [
        next(there) if plain else reproject_geometry(here, from_crs, to_crs)
        for here, plain in zip(geometries, straight.tolist(), strict=True)
    ]


def _are_straight(
    before: npt.NDArray[np.object_],
    after: npt.NDArray[np.object_],
    move: Callable[[npt.NDArray[np.float64]], npt.NDArray[np.float64]],
) -> npt.NDArray[np.bool_]:
    """As ``_is_straight`` of each (n,); False where a corner cannot be shown there."""
    corners, of_shape = shapely.get_coordinates(before, return_index=True)
    moved = shapely.get_coordinates(after)
    edge = np.diff(of_shape) == 0
    middles = move((corners[1:] + corners[:-1])[edge] / 2)
    off = np.hypot(*(middles - (moved[1:] + moved[:-1])[edge] / 2).T)
    bounds = shapely.bounds(after).reshape(-1, 4)
    allowed = STRAIGHT * np.maximum(bounds[:, 2] - bounds[:, 0], bounds[:, 3] - bounds[:, 1])
    straight = np.ones(len(before), np.bool_)
    np.logical_and.at(straight, of_shape[1:][edge], off <= allowed[of_shape[1:][edge]])
    np.logical_and.at(straight, of_shape, np.isfinite(moved).all(axis=1))
    return straight


def reproject_points(
    points: npt.NDArray[np.float64], from_crs: str, to_crs: str
) -> npt.NDArray[np.float64]:
    """Places (n, 2) in another CRS; infinite where they cannot be shown there."""
    if is_same_crs(from_crs, to_crs):
        return points
    return np.column_stack(transformer(from_crs, to_crs).transform(points[:, 0], points[:, 1]))


def reproject_point(x: float, y: float, from_crs: str, to_crs: str) -> tuple[float, float]:
    if is_same_crs(from_crs, to_crs):
        return x, y
    moved = transformer(from_crs, to_crs).transform(x, y)
    return float(moved[0]), float(moved[1])


def area_ha(geometry: dict[str, Any], crs: str) -> float:
    """Area of an outline in hectares, on the ellipsoid: its edges are straight in its CRS, so that
    they are cut into pieces before they are carried into degrees."""
    outline = shape_of(geometry)
    left, bottom, right, top = outline.bounds
    longest = max(right - left, top - bottom) / PIECES_PER_SIDE
    fine = shapely.segmentize(outline, longest) if longest > 0 else outline

    def move(points: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
        return np.column_stack(in_degrees(crs, points[:, 0], points[:, 1]))

    degrees = shapely.transform(fine, move)
    return float(abs(geod_of(crs).geometry_area_perimeter(degrees)[0])) / SQUARE_METRES_PER_HECTARE
