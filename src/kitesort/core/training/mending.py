"""Outlines of others: what is in them, and mended where it is plain what was meant."""

import numpy as np
import numpy.typing as npt
import shapely
from shapely.geometry.base import BaseGeometry

PLAIN_SHARE = 0.95  # of a mended outline's area that its corners told of before


def areas_and_points(
    shape: BaseGeometry | None,
) -> tuple[list[BaseGeometry], list[BaseGeometry]]:
    """Polygons and points of a feature, collections within collections included."""
    areas: list[BaseGeometry] = []
    points: list[BaseGeometry] = []
    waiting = [shape] if shape is not None and not shape.is_empty else []
    while waiting:
        one = waiting.pop()
        if one.geom_type == "Polygon":
            areas.append(one)
        elif one.geom_type == "Point" and not one.is_empty:
            points.append(one)
        elif hasattr(one, "geoms") and "Line" not in one.geom_type:
            waiting += reversed(list(one.geoms))
    return areas, points


def mended(outline: BaseGeometry) -> BaseGeometry | None:
    """An outline without crossings: as it is where it has none; mended where what its corners tell
    is all but the whole of it (a spike, a corner given twice); None where it could be read in more
    than one way, as a figure of eight can."""
    if outline.is_valid:
        return outline if outline.area > 0 else None
    good = shapely.make_valid(outline)
    areas, _ = areas_and_points(good)
    if not areas:
        return None
    whole = areas[0] if len(areas) == 1 else shapely.MultiPolygon(areas)
    if whole.area == 0 or not whole.is_valid:
        return None
    told = abs(sum(_signed_area(part) for part in shapely.get_parts(outline)))
    return whole if PLAIN_SHARE <= told / whole.area <= 1 / PLAIN_SHARE else None


def _signed_area(polygon: BaseGeometry) -> float:
    """Of the outer ring without its holes, by the corners in their order."""
    rings = [polygon.exterior, *polygon.interiors]
    outer, *holes = (abs(_ring_area(shapely.get_coordinates(ring))) for ring in rings)
    return float(outer - sum(holes))


def _ring_area(corners: npt.NDArray[np.float64]) -> float:
    x, y = (corners - corners[0]).T
    return float((x[:-1] * y[1:] - x[1:] * y[:-1]).sum() / 2)
