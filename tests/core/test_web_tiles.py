"""Pictures in the usual web tiling as rasters, from made-up tiles."""

import io

import numpy as np
import pytest
from affine import Affine
from PIL import Image

from kitesort.core.errors import InputError, MissingRoleError
from kitesort.core.geometry import reproject_point
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.warp import WarpedRaster
from kitesort.core.raster.web_tiles import CRS, HALF_M, MAX_TILES, TILE, WebTiles, tile_size_m

LEVEL = 6
SIDE = tile_size_m(LEVEL)


def coded_tile(level: int, col: int, row: int) -> bytes:
    """Red tells the level, green the column, blue the row of the tile."""
    picture = Image.new("RGB", (TILE, TILE), (level, col, row))
    buffer = io.BytesIO()
    picture.save(buffer, "PNG")
    return buffer.getvalue()


def tiles(fetch=coded_tile, n: int = 2) -> WebTiles:  # type: ignore[no-untyped-def]
    """The n × n tiles south-east of column 33, row 20."""
    west, north = 33 * SIDE - HALF_M, HALF_M - 20 * SIDE
    bounds = (west + 1, north - n * SIDE + 1, west + n * SIDE - 1, north - 1)
    return WebTiles(fetch, "coded", bounds, LEVEL)


def test_the_world_is_one_tile_at_level_0() -> None:
    """OGC 07-057r7, annex E.4: 156 543.033 9 m per pixel at level 0 (from memory)."""
    assert tile_size_m(0) / TILE == pytest.approx(156_543.0339, abs=1e-3)
    assert tile_size_m(3) == tile_size_m(0) / 8


def test_grid_is_whole_tiles() -> None:
    grid = tiles().grid
    assert (grid.crs, grid.height, grid.width) == (CRS, 2 * TILE, 2 * TILE)
    assert grid.bounds[0] == pytest.approx(33 * SIDE - HALF_M)


def test_each_pixel_comes_from_its_tile() -> None:
    block = tiles().read(Window(200, 200, 100, 100))
    assert block.valid.all()
    assert (block.values[0] == LEVEL).all()
    assert (block.values[1, :, :56] == 33).all() and (block.values[1, :, 56:] == 34).all()
    assert (block.values[2, :56] == 20).all() and (block.values[2, 56:] == 21).all()


def test_coarse_view_takes_a_coarser_level() -> None:
    raster = tiles(n=4)
    block = raster.read(raster.grid.whole, ("red",), (256, 256))
    assert (block.values == LEVEL - 2).all()


@pytest.mark.thorough
def test_number_of_tiles_is_bounded() -> None:
    asked: list[tuple[int, int, int]] = []

    def fetch(level: int, col: int, row: int) -> bytes:
        asked.append((level, col, row))
        return coded_tile(level, col, row)

    raster = tiles(fetch, n=30)
    raster.read(raster.grid.whole)
    assert 0 < len(asked) <= MAX_TILES


def test_missing_tile_is_not_valid() -> None:
    raster = tiles(lambda level, col, row: None if col == 33 else coded_tile(level, col, row))
    block = raster.read(raster.grid.whole)
    assert not block.valid[:, :TILE].any() and block.valid[:, TILE:].all()


@pytest.mark.parametrize("content", [b"", b"<html>no</html>", b"\x89PNG broken"])
def test_what_is_no_picture_is_told(content: bytes) -> None:
    with pytest.raises(InputError, match="no picture"):
        tiles(lambda *_: content).read(Window(0, 0, 1, 1))


def test_tiles_of_another_size_are_told() -> None:
    buffer = io.BytesIO()
    Image.new("RGB", (512, 512)).save(buffer, "PNG")
    with pytest.raises(InputError, match="256 × 256"):
        tiles(lambda *_: buffer.getvalue()).read(Window(0, 0, 1, 1))


def test_values_are_those_of_the_tile() -> None:
    noise = np.random.default_rng(1).integers(0, 256, (TILE, TILE, 3), np.uint8)
    buffer = io.BytesIO()
    Image.fromarray(noise).save(buffer, "PNG")
    block = tiles(lambda *_: buffer.getvalue()).read(Window(0, 0, TILE, TILE))
    assert (np.moveaxis(block.values, 0, -1) == noise).all()


def test_tiles_lie_where_they_belong_in_another_system() -> None:
    """The border between two tiles, carried into UTM by pyproj, is where the colour changes."""
    raster = tiles()
    north = HALF_M - 20.5 * SIDE
    border = reproject_point(34 * SIDE - HALF_M, north, CRS, "EPSG:32631")
    pixel = 250.0
    left, top = border[0] - 20 * pixel, border[1] + 0.5 * pixel
    grid = Grid("EPSG:32631", Affine(pixel, 0, left, 0, -pixel, top), 1, 40)
    block = WarpedRaster(raster, grid).read(grid.whole, ("green",))
    assert block.valid.all()
    assert block.values[0, 0, :20].tolist() == [33] * 20
    assert block.values[0, 0, 21:].tolist() == [34] * 19


def test_colours_by_role_in_any_order() -> None:
    raster = tiles()
    turned = raster.read(Window(0, 0, 2, 2), ("blue", "red"))
    assert turned.values[:, 0, 0].tolist() == [20, LEVEL]
    with pytest.raises(MissingRoleError, match="nir"):
        raster.read(Window(0, 0, 2, 2), ("nir",))


def test_fingerprint_tells_sources_and_extents_apart() -> None:
    one, two = tiles(), tiles(n=3)
    assert one.fingerprint == tiles().fingerprint
    assert one.fingerprint != two.fingerprint
