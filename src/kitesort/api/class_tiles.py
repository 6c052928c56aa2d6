"""Tiles of class maps, whatever they were made by."""

from collections.abc import Mapping

from fastapi import Request, Response

from kitesort.api.pictures import picture_response
from kitesort.core.display.tile import Rgba, read_tile, render_classes
from kitesort.core.raster.protocol import Block, Raster, roles_of

Place = tuple[int, int, int]  # level, row, column


def class_tile(
    request: Request,
    raster: Raster,
    place: Place,
    colours: Mapping[int, Rgba],
    unlike: Raster | None = None,
) -> Response:
    """A tile in the colours of codes; where another map on the same grid is given, what is alike
    lies under a veil."""

    def make() -> bytes:
        other = None if unlike is None else _read(unlike, place)
        return render_classes(_read(raster, place), colours, other)

    beside = "" if unlike is None else unlike.fingerprint
    return picture_response(
        request, f"{raster.fingerprint}|{beside}|{sorted(colours.items())}|{place}", make
    )


def _read(raster: Raster, place: Place) -> Block:
    return read_tile(raster, *place, roles_of(raster)[:1])
