"""Outlines of training sites, from GeoJSON."""

import json
from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np
import numpy.typing as npt
import shapely
from shapely import get_coordinates
from shapely.geometry import box
from shapely.geometry.base import BaseGeometry
from shapely.validation import explain_validity

from kitesort.core.errors import SelfCrossingError, SiteError
from kitesort.core.geojson import shape_or_none
from kitesort.core.grid import Grid

MAX_VERTICES = 20_000
POLYGONAL = (shapely.GeometryType.POLYGON, shapely.GeometryType.MULTIPOLYGON)


def outline_text(geometry: Mapping[str, Any]) -> str:
    """A GeoJSON geometry as text, the same for the same outline."""
    return json.dumps(geometry, sort_keys=True)


def parse_site(geometry: Mapping[str, Any]) -> BaseGeometry:
    """A polygon from its GeoJSON, in the scene's CRS.

    Raises
    ------
    SelfCrossingError, SiteError
    """
    if geometry.get("type") not in ("Polygon", "MultiPolygon"):
        raise SiteError("A training site is a polygon. Draw an outline that encloses an area.")
    polygon = shape_or_none(geometry)
    if polygon is None:
        raise SiteError("The outline is incomplete: a polygon needs at least three corners.")
    corners = get_coordinates(polygon)
    if len(corners) > MAX_VERTICES:
        raise SiteError(
            f"The outline has {len(corners):,} corners; at most {MAX_VERTICES:,} are taken."
        )
    if polygon.is_empty or not np.isfinite(corners).all():
        raise SiteError("The outline is empty or has a corner without coordinates.")
    if not polygon.is_valid:
        reason = explain_validity(polygon)
        if "elf-intersection" not in reason:
            raise SiteError(f"The outline encloses no proper area ({reason}). Draw it again.")
        raise SelfCrossingError(
            f"The outline crosses itself ({reason}). "
            "Move the corner there so that the edges do not cross."
        )
    if polygon.area <= 0:
        raise SiteError("The outline encloses no area. Draw at least three corners apart.")
    return polygon


def parse_sites(
    geometries: Sequence[Mapping[str, Any]], texts: Sequence[str]
) -> list[BaseGeometry | SiteError]:
    """As ``parse_site`` for each, or why it is no outline; ``texts``: the same as GeoJSON text.

    What is plainly an outline is read at once; everything else one by one, with its reason.
    """
    shapes = shapely.from_geojson(np.array(texts, object), on_invalid="ignore")
    kinds = shapely.get_type_id(shapes)
    with np.errstate(invalid="ignore"):  # of corners without numbers
        plain = np.isin(kinds, POLYGONAL) & shapely.is_valid(shapes) & (shapely.area(shapes) > 0)
        plain &= np.isfinite(shapely.bounds(shapes)).reshape(-1, 4).all(axis=1)
    plain &= shapely.get_num_coordinates(shapes) <= MAX_VERTICES
    plain &= ~shapely.has_z(shapes)
    return [
        shape if is_plain else _parsed_or_error(geometry)
        for shape, is_plain, geometry in zip(shapes, plain.tolist(), geometries, strict=True)
    ]


def _parsed_or_error(geometry: Mapping[str, Any]) -> BaseGeometry | SiteError:
    try:
        return parse_site(geometry)
    except SiteError as error:
        return error.with_traceback(None)


def shares_outside(polygons: Sequence[BaseGeometry], grid: Grid) -> npt.NDArray[np.float64]:
    """Share (n,) of each outline's area that lies outside of the grid, 0 to 1."""
    shapes = np.empty(len(polygons), object)
    shapes[:] = polygons
    left, bottom, right, top = shapely.bounds(shapes).reshape(-1, 4).T
    west, south, east, north = grid.bounds
    outside = np.zeros(len(polygons))
    part = ~((west <= left) & (right <= east) & (south <= bottom) & (top <= north))
    inside = shapely.intersection(shapes[part], box(*grid.bounds))
    outside[part] = 1 - shapely.area(inside) / shapely.area(shapes[part])
    return outside
