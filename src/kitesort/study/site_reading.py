"""Sites in a scene: parsed and read once, and what is told of each."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from shapely.geometry.base import BaseGeometry

from kitesort.core.classify.training import DrawnSite, PixelReader
from kitesort.core.errors import SiteError
from kitesort.core.geometry import is_same_crs, reproject_geometry, reproject_points
from kitesort.core.newest import Newest
from kitesort.core.outline import (
    SitePixels,
    many_site_pixels,
    outline_text,
    parse_site,
    share_outside,
    site_pixels,
)
from kitesort.core.raster.protocol import Raster
from kitesort.study.rasters import layer_record, open_layer, study_crs

KEPT_PIXEL_BYTES = 256 * 2**20
LEAST_AHEAD = 64  # sites: fewer are read one by one
Outlines = Mapping[str, dict[str, Any]]  # GeoJSON geometries by their text


def outline_in(raster: Raster, study_id: int, geometry: dict[str, Any]) -> dict[str, Any]:
    """An outline as it was drawn (in the study's CRS) in the CRS of a scene."""
    return reproject_geometry(geometry, study_crs(study_id), raster.grid.crs)


@dataclass(frozen=True)
class SiteSummary:
    """Valid pixels, covered ones, the share of the outline that lies outside the scene, and in
    words why it takes no part; not ``is_outline``: it cannot even be kept."""

    n_valid: int = 0
    n_covered: int = 0
    outside: float = 0.0
    problem: str | None = None
    is_outline: bool = True


def site_summary(scene_id: int, roles: tuple[str, ...], geometry: dict[str, Any]) -> SiteSummary:
    """Of an outline in the study's CRS."""
    raster, study_id = open_layer(scene_id), layer_record(scene_id).study_id
    try:
        if not is_same_crs(study_crs(study_id), raster.grid.crs):
            parse_site(geometry)
        there = outline_in(raster, study_id, geometry)
    except SiteError as error:
        return SiteSummary(problem=error.sentence, is_outline=type(error) is not SiteError)
    read = _reading(scene_id, outline_text(there), there, roles)
    if read.error is not None:
        is_outline = read.outline is not None or type(read.error) is not SiteError
        return SiteSummary(outside=read.outside, problem=read.error.sentence, is_outline=is_outline)
    assert read.pixels is not None
    return SiteSummary(read.pixels.n_valid, read.pixels.n_covered, read.outside)


def pixel_centres(
    scene_id: int, roles: tuple[str, ...], geometry: dict[str, Any]
) -> list[tuple[float, float]]:
    """Of the usable pixels of an outline (in the study's CRS), in that CRS; none where it has
    none."""
    raster, crs = open_layer(scene_id), study_crs(layer_record(scene_id).study_id)
    there = outline_in(raster, layer_record(scene_id).study_id, geometry)
    pixels = _reading(scene_id, outline_text(there), there, roles).pixels
    if pixels is None:
        return []
    places = np.column_stack(raster.grid.transform @ (pixels.cols + 0.5, pixels.rows + 0.5))
    return [(x, y) for x, y in reproject_points(places, raster.grid.crs, crs).tolist()]


@dataclass(frozen=True)
class SiteReading:
    """A site in a scene, parsed and read once: its outline, its pixels, the share of it outside,
    and why one of them is missing."""

    outline: BaseGeometry | None
    pixels: SitePixels | None
    outside: float
    error: SiteError | None

    @property
    def n_bytes(self) -> int:
        return (self.pixels.values.nbytes if self.pixels else 0) + 1000


_Reading = tuple[int, str, tuple[str, ...]]
_readings: Newest[_Reading, SiteReading] = Newest(KEPT_PIXEL_BYTES, lambda read: read.n_bytes)


def reading_of(scene_id: int, site: DrawnSite, roles: tuple[str, ...]) -> SiteReading:
    """Of a site whose outline is in the scene's CRS; a redrawn one is another site."""
    return _reading(scene_id, site.outline, site.geometry, roles)


def _reading(
    scene_id: int, text: str, geometry: dict[str, Any], roles: tuple[str, ...]
) -> SiteReading:
    key = scene_id, text, roles
    return _readings.get(key, lambda: _read(open_layer(scene_id), geometry, roles))


def read_ahead(scene_id: int, outlines: Outlines, roles: tuple[str, ...]) -> None:
    """Read many outlines (in the scene's CRS) at once, so that ``reading_of`` knows them."""
    wanted = {(scene_id, text, roles): geometry for text, geometry in outlines.items()}
    waiting = {key: geometry for key, geometry in wanted.items() if _readings.find(key) is None}
    if len(waiting) < LEAST_AHEAD:
        return
    raster = open_layer(scene_id)
    parsed = {}
    for key, geometry in waiting.items():
        try:
            parsed[key] = parse_site(geometry)
        except SiteError as error:
            _readings.put(key, SiteReading(None, None, 0.0, error.with_traceback(None)))
    pixels = many_site_pixels(raster, list(parsed.values()), roles)
    for (key, outline), found in zip(parsed.items(), pixels, strict=True):
        outside = share_outside(outline, raster.grid)
        if isinstance(found, SiteError):
            _readings.put(key, SiteReading(outline, None, outside, found))
        else:
            _readings.put(key, SiteReading(outline, found, outside, None))


def _read(raster: Raster, geometry: dict[str, Any], roles: tuple[str, ...]) -> SiteReading:
    outline, outside = None, 0.0
    try:
        outline = parse_site(geometry)
        outside = share_outside(outline, raster.grid)
        return SiteReading(outline, site_pixels(raster, outline, roles), outside, None)
    except SiteError as error:
        return SiteReading(outline, None, outside, error.with_traceback(None))


def remembering_reader(scene_id: int) -> PixelReader:
    """Reads a site's pixels once."""

    def read(_: Raster, site: DrawnSite, roles: tuple[str, ...]) -> SitePixels:
        found = reading_of(scene_id, site, roles)
        if found.pixels is None:
            raise SiteError(found.error.sentence if found.error else "The site was not read.")
        return found.pixels

    return read
