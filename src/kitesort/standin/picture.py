"""A small tile service over the demo's fine photo, in the usual web tiling."""

from pathlib import Path

from affine import Affine
from fastapi import APIRouter, HTTPException, Response

from kitesort.core.bands import Band
from kitesort.core.display.tile import render_picture
from kitesort.core.grid import Grid
from kitesort.core.newest import remembered
from kitesort.core.raster.file import FileRaster
from kitesort.core.raster.warp import WarpedRaster
from kitesort.core.raster.web_tiles import CRS, HALF_M, TILE, tile_size_m

ROLES = ("red", "green", "blue")
MAX_LEVEL = 16


def picture_router(photo: Path) -> APIRouter:
    """``/picture/{level}/{column}/{row}.png``; 404 where the photo does not reach."""
    router = APIRouter()
    render = remembered(1024)(lambda level, col, row: _render(photo, level, col, row))

    @router.get("/picture/{level}/{col}/{row}.png", response_class=Response)
    def get_picture_tile(level: int, col: int, row: int) -> Response:
        side = 1 << max(0, min(level, MAX_LEVEL))
        if not (0 <= level <= MAX_LEVEL and 0 <= col < side and 0 <= row < side):
            raise HTTPException(404, "There is no such tile.")
        content = render(level, col, row)
        if content is None:
            raise HTTPException(404, "The photo does not reach there.")
        return Response(content, media_type="image/png")

    return router


def _render(photo: Path, level: int, col: int, row: int) -> bytes | None:
    side = tile_size_m(level)
    pixel = side / TILE
    transform = Affine(pixel, 0, col * side - HALF_M, 0, -pixel, HALF_M - row * side)
    bands = tuple(Band(role, source=str(i)) for i, role in enumerate(ROLES, start=1))
    source = FileRaster(str(photo), bands, nodata=0)
    warped = WarpedRaster(source, Grid(CRS, transform, TILE, TILE), "average")
    block = warped.read(warped.grid.whole)
    return render_picture(block) if block.valid.any() else None
