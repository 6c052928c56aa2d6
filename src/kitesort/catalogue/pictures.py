"""Finer pictures from tile services that the administrator allowed, as rasters."""

import json
import os
import re
import time
from datetime import date
from functools import partial

import requests
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter
from shapely.geometry import box

from kitesort.catalogue.addresses import guarded_session
from kitesort.core.errors import CatalogueError, InputError, NotFoundError
from kitesort.core.geometry import reproject_shape
from kitesort.core.newest import remembered
from kitesort.core.raster.web_tiles import CRS, WebTiles

Bounds = tuple[float, float, float, float]
TIMEOUT_SECONDS = (2.0, 6.0)
REST_SECONDS = 20.0  # an address that failed is left alone for so long
KEPT_TILES = 512


class PictureSource(BaseModel):
    """One tile service. In the address stand ``{z}``, ``{x}``, ``{y}``, or the words of the WMTS
    standard, ``{TileMatrix}``, ``{TileCol}``, ``{TileRow}``."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    id: str = Field(pattern=r"^[a-z0-9-]{1,40}$")
    title: str = Field(min_length=1, max_length=80)
    address: str
    source: str = Field(max_length=120)
    taken: date | None = None
    max_level: int = Field(18, ge=0, le=24)

    def tile_address(self, level: int, col: int, row: int) -> str:
        names = {"z": level, "x": col, "y": row}
        names |= {"tilematrix": level, "tilecol": col, "tilerow": row}

        def fill(match: re.Match[str]) -> str:
            return str(names.get(match[1].lower(), match[0]))

        return re.sub(r"\{(\w+)\}", fill, self.address)


_SOURCES = TypeAdapter(tuple[PictureSource, ...])
_failures: dict[str, tuple[float, str]] = {}


def read_sources(text: str) -> tuple[PictureSource, ...]:
    """Tile services from JSON, as they stand in the file that the start command is given.

    Raises
    ------
    InputError
    """
    try:
        return _SOURCES.validate_python(json.loads(text or "[]"))
    except ValueError as error:
        raise InputError(f"The list of pictures cannot be used: {error}") from error


def configured_pictures() -> tuple[PictureSource, ...]:
    return read_sources(os.environ.get("KITESORT_PICTURES", ""))


def get_source(picture_id: str) -> PictureSource:
    for source in configured_pictures():
        if source.id == picture_id:
            return source
    raise NotFoundError("This picture is not offered any more.")


def picture_tiles(picture_id: str, bounds: Bounds, crs: str) -> WebTiles:
    """Red, green and blue over some ground, whose bounds are in ``crs``; fetched as it is read.

    Raises
    ------
    NotFoundError
    """
    source = get_source(picture_id)
    there = reproject_shape(box(*bounds), crs, CRS)
    return WebTiles(partial(_fetch, source), source.id, there.bounds, source.max_level)


def problem_of(picture_id: str) -> str | None:
    """Why a picture is not seen just now, in words; None when its address answers."""
    failed = _failures.get(picture_id)
    return failed[1] if failed and time.monotonic() - failed[0] < REST_SECONDS else None


def _fetch(source: PictureSource, level: int, col: int, row: int) -> bytes | None:
    """A tile of a source, unless it failed just now: then it is not asked again for a while."""
    problem = problem_of(source.id)
    if problem:
        raise CatalogueError(problem)
    try:
        return _fetch_tile(source.tile_address(level, col, row))
    except (CatalogueError, requests.RequestException) as error:
        said = error.sentence if isinstance(error, CatalogueError) else None
        sentence = said or f"“{source.title}” does not answer just now; it is tried again."
        _failures[source.id] = (time.monotonic(), sentence)
        raise CatalogueError(sentence) from error


@remembered(KEPT_TILES)
def _fetch_tile(address: str) -> bytes | None:
    """None where the service says that it has no such tile."""
    response = guarded_session(TIMEOUT_SECONDS).get(address)
    if response.status_code in (204, 404):
        return None
    response.raise_for_status()
    return response.content
