"""Training sites as files that other programs read: GeoPackage, GeoJSON, zipped shapefile."""

import io
import json
import tempfile
import zipfile
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from pathlib import Path
from typing import Any, Literal

import numpy as np
import pyogrio
import shapely
from shapely.geometry import mapping

from kitesort.core.geojson import DEGREES
from kitesort.core.geometry import reproject_shape, shape_of

Format = Literal["gpkg", "geojson", "zip"]
LAYER = "training_sites"
DEGREE_DIGITS = 9  # a tenth of a millimetre


@dataclass(frozen=True)
class TakenSite:
    """A site to be written: class code, name and colour, outline (GeoJSON, in the study's CRS),
    note, and the only date on which it is true."""

    code: int
    class_name: str
    colour: str
    geometry: dict[str, Any]
    note: str
    true_on: date | None


def write_sites(sites: Sequence[TakenSite], crs: str, form: Format) -> bytes:
    """All sites as one file: a GeoPackage or a zipped shapefile in ``crs``, or GeoJSON, which knows
    degrees only (RFC 7946)."""
    if form == "geojson":
        return _geojson(sites, crs)
    with tempfile.TemporaryDirectory() as text:
        folder = Path(text)
        if form == "gpkg":
            return _layer(sites, crs, folder / f"{LAYER}.gpkg").read_bytes()
        _layer(sites, crs, folder / f"{LAYER}.shp", encoding="UTF-8")
        return _zipped(sorted(folder.iterdir()))


def _geojson(sites: Sequence[TakenSite], crs: str) -> bytes:
    features = [
        {
            "type": "Feature",
            "geometry": _in_degrees(site.geometry, crs),
            "properties": {
                "code": site.code,
                "class": site.class_name,
                "colour": site.colour,
                "note": site.note,
                "true_on": site.true_on and site.true_on.isoformat(),
            },
        }
        for site in sites
    ]
    told = {"type": "FeatureCollection", "name": LAYER, "features": features}
    return json.dumps(told, ensure_ascii=False).encode()


def _in_degrees(geometry: dict[str, Any], crs: str) -> dict[str, Any]:
    """Rings run as RFC 7946 wants them: the outer counter-clockwise."""
    there = shapely.orient_polygons(reproject_shape(shape_of(geometry), crs, DEGREES))
    return dict(mapping(shapely.transform(there, lambda xy: xy.round(DEGREE_DIGITS))))


def _layer(sites: Sequence[TakenSite], crs: str, path: Path, **options: str) -> Path:
    """Written in the format that its name says."""
    fields: dict[str, Any] = {
        "code": np.array([site.code for site in sites], np.int32),
        "class": _texts(site.class_name for site in sites),
        "colour": _texts(site.colour for site in sites),
        "note": _texts(site.note for site in sites),
        "true_on": np.array([site.true_on or "NaT" for site in sites], "datetime64[D]"),
    }
    shapes = [shape_of(site.geometry) for site in sites]
    several = any(one.geom_type == "MultiPolygon" for one in shapes)
    if several:
        shapes = [shapely.MultiPolygon(shapely.get_parts(one).tolist()) for one in shapes]
    pyogrio.raw.write(
        path,
        geometry=np.asarray(shapely.to_wkb(np.array(shapes, object)), object),
        field_data=list(fields.values()),
        fields=np.array(list(fields), object),
        geometry_type="MultiPolygon" if several else "Polygon",
        crs=crs,
        layer=LAYER,
        **options,
    )
    return path


def _zipped(paths: Sequence[Path]) -> bytes:
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
        for path in paths:
            archive.write(path, path.name)
    return packed.getvalue()


def _texts(values: Any) -> Any:
    return np.array(list(values), object)
