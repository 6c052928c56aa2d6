"""Tiles of 256 × 256 pixels in the raster's own grid, as PNG."""

import io
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from PIL import Image

from kitesort.core.display.stretch import Curve, apply_curves
from kitesort.core.errors import NotFoundError
from kitesort.core.grid import Grid, Window
from kitesort.core.legend import N_CODES, Legend
from kitesort.core.raster.class_codes import codes_in
from kitesort.core.raster.protocol import Block, Raster, Shape, block_of

TILE_SIZE = 256
Rgba = tuple[int, int, int, int]
VEIL: Rgba = (88, 92, 94, 215)  # over what is not looked at just now


@dataclass(frozen=True)
class TileScheme:
    """Levels 0 (whole raster in one tile) to ``n_levels`` - 1 (native resolution)."""

    grid: Grid

    @property
    def n_levels(self) -> int:
        side = max(self.grid.height, self.grid.width)
        return 1 + max(0, math.ceil(math.log2(side / TILE_SIZE)))

    def factor(self, level: int) -> int:
        """Native pixels per tile pixel along one side."""
        return 1 << (self.n_levels - 1 - level)

    def tile_window(self, level: int, row: int, col: int) -> tuple[Window, Shape]:
        """Native window of a tile, clipped to the raster, and its shape on the tile.

        Raises
        ------
        NotFoundError : no such tile.
        """
        if not 0 <= level < self.n_levels or row < 0 or col < 0:
            raise NotFoundError("There is no such tile.")
        factor = self.factor(level)
        side = TILE_SIZE * factor
        row0, col0 = row * side, col * side
        height = min(side, self.grid.height - row0)
        width = min(side, self.grid.width - col0)
        if height < 1 or width < 1:
            raise NotFoundError("There is no such tile.")
        shape = (math.ceil(height / factor), math.ceil(width / factor))
        return Window(row0, col0, height, width), shape


def read_tile(raster: Raster, level: int, row: int, col: int, roles: tuple[str, ...]) -> Block:
    """Block of exactly 256 × 256; what lies beyond the raster is not valid."""
    window, shape = TileScheme(raster.grid).tile_window(level, row, col)
    part = raster.read(window, roles, shape)
    if shape == (TILE_SIZE, TILE_SIZE):
        return part
    values = np.full((len(roles), TILE_SIZE, TILE_SIZE), np.nan, np.float32)
    values[:, : shape[0], : shape[1]] = part.values
    return block_of(values)


def render_composite(block: Block, curves: Sequence[Curve]) -> bytes:
    """PNG of three bands as red, green, blue; clear where not valid."""
    rgba = np.empty((*block.valid.shape, 4), np.uint8)
    rgba[..., :3] = np.moveaxis(apply_curves(block.values, curves), 0, -1)
    rgba[..., 3] = np.where(block.valid, 255, 0)
    rgba[~block.valid] = 0
    return encode_png(rgba)


def render_picture(block: Block) -> bytes:
    """PNG of red, green and blue that are levels already; clear where not valid."""
    rgba = np.empty((*block.valid.shape, 4), np.uint8)
    rgba[..., :3] = np.moveaxis(np.where(block.valid, block.values, 0), 0, -1)
    rgba[..., 3] = np.where(block.valid, 255, 0)
    return encode_png(rgba)


def render_palette(block: Block, curve: Curve, table: npt.NDArray[np.uint8]) -> bytes:
    """PNG of one band in the colours (256, 3) of a palette; clear where not valid."""
    rgba = np.empty((*block.valid.shape, 4), np.uint8)
    rgba[..., :3] = table[apply_curves(block.values, [curve])[0]]
    rgba[..., 3] = np.where(block.valid, 255, 0)
    rgba[~block.valid] = 0
    return encode_png(rgba)


def render_marks(marked: npt.NDArray[np.bool_], colour: Rgba) -> bytes:
    """PNG of marked pixels in one colour; clear elsewhere."""
    return encode_png(np.where(marked[..., None], np.array(colour, np.uint8), np.uint8(0)))


def colours_of(legend: Legend) -> dict[int, Rgba]:
    """By code."""
    return {entry.code: (*entry.rgb, 255) for entry in legend}


def render_classes(block: Block, colours: Mapping[int, Rgba], unlike: Block | None = None) -> bytes:
    """PNG of class codes in their colours; clear where not valid or without colour, and under a
    veil where another block, if one is given, has the same codes."""
    table = np.zeros((N_CODES, 4), np.uint8)
    for code, colour in colours.items():
        table[code] = colour
    codes = codes_in(block)
    picture = table[codes]
    if unlike is not None:
        picture[(codes == codes_in(unlike)) & block.valid] = VEIL
    return encode_png(picture)


def encode_png(rgba: npt.NDArray[np.uint8]) -> bytes:
    buffer = io.BytesIO()
    Image.fromarray(rgba, "RGBA").save(buffer, "PNG", compress_level=1)
    return buffer.getvalue()
