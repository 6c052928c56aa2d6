"""Sites in a scene: parsed and read once, and what is told of each."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from threading import Lock
from typing import Any

import numpy as np
from shapely.geometry.base import BaseGeometry

from kitesort.core.classify.training import DrawnSite, PixelReader
from kitesort.core.engine import UNWATCHED, Watch
from kitesort.core.errors import SiteError
from kitesort.core.geometry import is_same_crs, reproject_geometry, reproject_points
from kitesort.core.newest import Newest
from kitesort.core.outline import outline_text, parse_site, parse_sites, shares_outside
from kitesort.core.raster.protocol import Raster
from kitesort.core.site_pixels import SitePixels, many_site_pixels
from kitesort.store.records import Site
from kitesort.study.drawn_sites import Outline, outlines_in
from kitesort.study.rasters import layer_record, open_layer, study_crs

KEPT_PIXEL_BYTES = 512 * 2**20
KEPT_LOCKS = 256


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
    return _reading(scene_id, outline_text(there), there, roles).summary


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

    @cached_property
    def summary(self) -> SiteSummary:
        if self.error is not None:
            is_outline = self.outline is not None or type(self.error) is not SiteError
            problem = self.error.sentence
            return SiteSummary(outside=self.outside, problem=problem, is_outline=is_outline)
        n_valid, n_covered = (self.pixels.n_valid, self.pixels.n_covered) if self.pixels else (0, 0)
        return SiteSummary(n_valid, n_covered, self.outside)

    @property
    def n_bytes(self) -> int:
        return (self.pixels.values.nbytes if self.pixels else 0) + 1000


_Key = tuple[int, str, tuple[str, ...]]
_readings: Newest[_Key, SiteReading] = Newest(KEPT_PIXEL_BYTES, lambda read: read.n_bytes)
# Answers that overlap want the same sites: the first one reads them for all.
_reading_now: Newest[tuple[int, tuple[str, ...]], Lock] = Newest(KEPT_LOCKS)


def _reading(
    scene_id: int, text: str, geometry: dict[str, Any], roles: tuple[str, ...]
) -> SiteReading:
    key = scene_id, text, roles
    return _readings.get(
        key, lambda: _read_many(open_layer(scene_id), [(text, geometry)], roles, UNWATCHED)[0]
    )


def readings_of(
    scene_id: int,
    sites: Sequence[DrawnSite],
    roles: tuple[str, ...],
    watch: Watch = UNWATCHED,
) -> list[SiteReading]:
    """Of many sites, in their order: those that have not been read yet are read at once.

    Raises
    ------
    CancelledError
    """
    return read_outlines(scene_id, [(s.outline, s.geometry) for s in sites], roles, watch)


def read_outlines(
    scene_id: int, outlines: Sequence[Outline], roles: tuple[str, ...], watch: Watch = UNWATCHED
) -> list[SiteReading]:
    """As ``readings_of``, of outlines in the scene's CRS."""
    raster = open_layer(scene_id)
    found = {text: _readings.find((scene_id, text, roles)) for text, _ in outlines}
    missing = {text: geometry for text, geometry in outlines if found[text] is None}
    if missing:
        with _reading_now.get((scene_id, roles), Lock):
            found |= _read_missing(raster, scene_id, missing, roles, watch)
    return [read for text, _ in outlines if (read := found[text]) is not None]


def _read_missing(
    raster: Raster,
    scene_id: int,
    missing: dict[str, dict[str, Any]],
    roles: tuple[str, ...],
    watch: Watch,
) -> dict[str, SiteReading]:
    """Those that nobody has read meanwhile, by the outline's text."""
    known = {text: _readings.find((scene_id, text, roles)) for text in missing}
    waiting = [(text, geometry) for text, geometry in missing.items() if known[text] is None]
    reads = _read_many(raster, waiting, roles, watch)
    read = {text: one for (text, _), one in zip(waiting, reads, strict=True)}
    for text, one in read.items():
        _readings.put((scene_id, text, roles), one)
    return {text: one for text, one in known.items() if one is not None} | read


def summaries(
    study_id: int, scene_id: int, roles: tuple[str, ...], sites: Sequence[Site]
) -> list[SiteSummary]:
    """Of sites of a study in a scene, in their order."""
    outlines = outlines_in(study_id, scene_id, sites)
    return [read.summary for read in read_outlines(scene_id, outlines, roles)]


def _read_many(
    raster: Raster, outlines: Sequence[Outline], roles: tuple[str, ...], watch: Watch
) -> list[SiteReading]:
    parsed = parse_sites([geometry for _, geometry in outlines], [text for text, _ in outlines])
    shapes = [one for one in parsed if not isinstance(one, SiteError)]
    pixels = many_site_pixels(raster, shapes, roles, watch)
    read = iter(zip(pixels, shares_outside(shapes, raster.grid).tolist(), strict=True))
    return [
        SiteReading(None, None, 0.0, one)
        if isinstance(one, SiteError)
        else _site_reading(one, *next(read))
        for one in parsed
    ]


def _site_reading(
    outline: BaseGeometry, pixels: SitePixels | SiteError, outside: float
) -> SiteReading:
    if isinstance(pixels, SiteError):
        return SiteReading(outline, None, outside, pixels)
    return SiteReading(outline, pixels, outside, None)


def remembering_reader(scene_id: int) -> PixelReader:
    """Reads each site's pixels once."""

    def read(
        _: Raster, sites: Sequence[DrawnSite], roles: tuple[str, ...], watch: Watch
    ) -> list[SitePixels | SiteError]:
        return [
            found.pixels or found.error or SiteError("The site was not read.")
            for found in readings_of(scene_id, sites, roles, watch)
        ]

    return read
