"""Pictures in the usual web tiling, read as a raster: 256 × 256 pixels, four tiles for each one
of the level above, in web Mercator.

Source: OGC 07-057r7 (WMTS 1.0), annex E.4, the well-known scale set GoogleMapsCompatible; the
half circumference of the sphere there is 20 037 508.342 789 m.
"""

import io
import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import ClassVar

import numpy as np
import numpy.typing as npt
from affine import Affine
from PIL import Image, UnidentifiedImageError

from kitesort.core.bands import Band
from kitesort.core.errors import InputError
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.protocol import Block, Shape, band_positions, masked_block

CRS = "EPSG:3857"
HALF_M = 20_037_508.342789244
TILE = 256
MAX_TILES = 64  # of one reading; a coarser level is taken where there would be more
# The bytes of a tile, None where there is none: (level, column, row) from the north-west.
FetchTile = Callable[[int, int, int], bytes | None]


def tile_size_m(level: int) -> float:
    return 2 * HALF_M / (1 << level)


@dataclass(frozen=True)
class WebTiles:
    """Bands red, green, blue (0 to 255) of the tiles that cover ``bounds`` (web Mercator), at
    ``max_level`` and all coarser ones. ``name`` tells sources apart."""

    fetch: FetchTile
    name: str
    bounds: tuple[float, float, float, float]
    max_level: int

    bands: ClassVar[tuple[Band, ...]] = (Band("red"), Band("green"), Band("blue"))

    @property
    def grid(self) -> Grid:
        """Whole tiles of the finest level around the bounds."""
        side, pixel = tile_size_m(self.max_level), tile_size_m(self.max_level) / TILE
        left, bottom, right, top = self.bounds
        first_col, first_row = math.floor((left + HALF_M) / side), math.floor((HALF_M - top) / side)
        n_cols = math.ceil((right + HALF_M) / side) - first_col
        n_rows = math.ceil((HALF_M - bottom) / side) - first_row
        west, north = first_col * side - HALF_M, HALF_M - first_row * side
        transform = Affine(pixel, 0, west, 0, -pixel, north)
        return Grid(CRS, transform, max(1, n_rows) * TILE, max(1, n_cols) * TILE)

    @property
    def fingerprint(self) -> str:
        return f"tiles {self.name} {self.max_level} {self.bounds}"

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        """Nearest neighbour from the coarsest level that is not coarser than asked for."""
        out = shape or (window.height, window.width)
        grid = self.grid
        step = max(1.0, min(window.height / out[0], window.width / out[1]))
        level = max(0, self.max_level - math.floor(math.log2(step)))
        pixel = grid.transform.a
        xs = grid.transform.c + pixel * (
            window.col + (np.arange(out[1]) + 0.5) * (window.width / out[1])
        )
        ys = grid.transform.f - pixel * (
            window.row + (np.arange(out[0]) + 0.5) * (window.height / out[0])
        )
        values, valid = self._mosaic(level, xs, ys)
        return masked_block(values[band_positions(self.bands, roles)], valid)

    def _mosaic(
        self, level: int, xs: npt.NDArray[np.float64], ys: npt.NDArray[np.float64]
    ) -> tuple[npt.NDArray[np.float32], npt.NDArray[np.bool_]]:
        while True:
            scale = TILE / tile_size_m(level)
            cols = np.floor((xs + HALF_M) * scale).astype(np.int64)
            rows = np.floor((HALF_M - ys) * scale).astype(np.int64)
            tile_cols, tile_rows = np.unique(cols // TILE), np.unique(rows // TILE)
            if len(tile_cols) * len(tile_rows) <= MAX_TILES or level == 0:
                break
            level -= 1
        values = np.zeros((3, len(ys), len(xs)), np.float32)
        valid = np.zeros((len(ys), len(xs)), np.bool_)
        for row in tile_rows:
            for col in tile_cols:
                content = self.fetch(level, int(col), int(row))
                if content is None:
                    continue
                picture = _decode(content)
                at_r, at_c = rows // TILE == row, cols // TILE == col
                part = picture[np.ix_(rows[at_r] % TILE, cols[at_c] % TILE)]
                place = np.ix_(at_r, at_c)
                values[(slice(None), *place)] = np.moveaxis(part[..., :3], -1, 0)
                valid[place] = part[..., 3] > 0
        return values, valid


def _decode(content: bytes) -> npt.NDArray[np.uint8]:
    """Pixels (256, 256, 4) of a tile.

    Raises
    ------
    InputError : not a picture of the right size.
    """
    try:
        with Image.open(io.BytesIO(content), formats=("PNG", "JPEG", "WEBP")) as picture:
            is_tile = picture.size == (TILE, TILE)
            pixels = np.asarray(picture.convert("RGBA")) if is_tile else None
    except (UnidentifiedImageError, OSError, ValueError, Image.DecompressionBombError) as error:
        raise InputError("What the picture's address sent is no picture.") from error
    if pixels is None:
        raise InputError("The picture's tiles are not 256 × 256 pixels.")
    return pixels
