"""Polygons of a class map as files that other programs read: GeoPackage, GeoJSON."""

from pathlib import Path
from typing import Any, Literal

import numpy as np
import numpy.typing as npt
import shapely

from kitesort.core.geojson import DEGREES
from kitesort.core.geometry import reproject_points
from kitesort.core.legend import Legend
from kitesort.core.objects.polygons import Polygons, Shapes
from kitesort.core.storage import put_in_place, require_space, storage_errors, temporary_beside

Form = Literal["gpkg", "geojson"]
DRIVERS: dict[Form, str] = {"gpkg": "GPKG", "geojson": "GeoJSON"}
LAYER = "classes"
DEGREE_DIGITS = 9  # a tenth of a millimetre
BYTES_EACH = 400  # of a polygon, roughly, and 40 of each corner
BYTES_PER_CORNER = 40


def write_polygons(
    found: Polygons, legend: Legend, path: Path, form: Form, mean_of: str | None
) -> None:
    """A complete file, or none: a GeoPackage in the map's CRS, or GeoJSON, which knows degrees only
    (RFC 7946). ``mean_of``: what the mean is one of.

    Raises
    ------
    DiskFullError, StorageError
    """
    import pyogrio  # slow to import, and only needed here

    n_corners = int(shapely.get_num_coordinates(found.shapes).sum())
    require_space(path.parent, BYTES_EACH * len(found.shapes) + BYTES_PER_CORNER * n_corners)
    shapes, crs, options = found.shapes, found.crs, dict[str, Any]()
    if form == "geojson":
        shapes, crs = _in_degrees(found), DEGREES
        options = {"RFC7946": "YES", "COORDINATE_PRECISION": DEGREE_DIGITS}
    fields = _fields(found, legend, mean_of)
    with temporary_beside(path) as working, storage_errors(path):
        pyogrio.raw.write(
            working,
            geometry=np.asarray(shapely.to_wkb(shapes), object),
            field_data=list(fields.values()),
            fields=np.array(list(fields), object),
            geometry_type="Polygon",
            crs=crs,
            driver=DRIVERS[form],
            layer=LAYER,
            layer_options=options,
        )
        put_in_place(working, path)


def _in_degrees(found: Polygons) -> Shapes:
    """Every corner by itself, so that both sides of a border go the same way."""

    def move(points: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
        return reproject_points(points, found.crs, DEGREES).round(DEGREE_DIGITS)

    return np.asarray(shapely.transform(found.shapes, move), object)


def _fields(found: Polygons, legend: Legend, mean_of: str | None) -> dict[str, Any]:
    named = {entry.code: entry for entry in legend}
    known = [named.get(code) for code in found.codes.tolist()]
    fields: dict[str, Any] = {
        "code": found.codes.astype(np.int32),
        "class": np.array([e.name if e else "" for e in known], object),
        "colour": np.array([e.colour if e else "" for e in known], object),
        "pixels": found.n_pixels.astype(np.int64),
        "area_ha": found.area_ha,
        "perimeter_m": found.perimeter_m,
    }
    if found.mean is not None:
        fields[f"mean_{mean_of}"] = found.mean
    return fields
