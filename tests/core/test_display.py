import io

import numpy as np
import pytest
from PIL import Image

from kitesort.core.display.stretch import Curve
from kitesort.core.display.tile import (
    TILE_SIZE,
    TileScheme,
    read_tile,
    render_classes,
    render_composite,
)
from kitesort.core.errors import NotFoundError
from kitesort.core.grid import Window
from kitesort.core.raster.protocol import Block
from kitesort.core.raster.sample import sample_pixels
from support.arrays import ArrayRaster, metric_grid, random_raster


def pixels_of(png: bytes) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(png)).convert("RGBA"))


def test_sample_holds_valid_values_only() -> None:
    raster = random_raster(40, 30, invalid_share=0.25)
    sample = sample_pixels(raster, ("green",)).values[0]
    assert sorted(sample) == sorted(raster.values[1][raster.valid])


@pytest.mark.parametrize(
    ("side", "levels"), [(1, 1), (256, 1), (257, 2), (512, 2), (513, 3), (960, 3), (10_980, 7)]
)
def test_number_of_levels(side: int, levels: int) -> None:
    scheme = TileScheme(metric_grid(side, 10))
    assert scheme.n_levels == levels
    assert scheme.factor(levels - 1) == 1
    assert scheme.factor(0) * TILE_SIZE >= side


def test_tiles_of_the_finest_level_tile_the_raster() -> None:
    scheme = TileScheme(metric_grid(600, 700))
    hits = np.zeros((600, 700), int)
    for row in range(3):
        for col in range(3):
            window, shape = scheme.tile_window(scheme.n_levels - 1, row, col)
            assert shape == (window.height, window.width)
            hits[window.slices] += 1
    assert (hits == 1).all()


@pytest.mark.parametrize(("level", "row", "col"), [(3, 0, 0), (-1, 0, 0), (2, 3, 0), (2, 0, -1)])
def test_tiles_that_do_not_exist(level: int, row: int, col: int) -> None:
    with pytest.raises(NotFoundError):
        TileScheme(metric_grid(600, 700)).tile_window(level, row, col)


def test_tile_at_the_edge_is_filled_up() -> None:
    raster = random_raster(300, 300, invalid_share=0)
    block = read_tile(raster, 1, 1, 1, ("blue",))
    assert block.valid.shape == (TILE_SIZE, TILE_SIZE)
    assert block.valid[:44, :44].all()
    assert block.valid.sum() == 44 * 44
    assert np.array_equal(block.values[0, :44, :44], raster.values[0, 256:, 256:], equal_nan=True)


def test_composite_tile_holds_the_expected_colours() -> None:
    values = np.array([[[0, 1]], [[0.5, 0]], [[1, 0.5]]], np.float32)
    png = render_composite(Block(values, np.array([[True, False]])), [Curve((0, 1), (0, 1))] * 3)
    assert pixels_of(png).tolist() == [[[0, 128, 255, 255], [0, 0, 0, 0]]]


def test_class_tile_holds_the_colours_of_its_codes() -> None:
    values = np.array([[[1, 2, 7, 1]]], np.float32)
    valid = np.array([[True, True, True, False]])
    colours = {1: (10, 20, 30, 255), 2: (200, 100, 50, 255)}
    png = render_classes(Block(values, valid), colours)
    assert pixels_of(png).tolist() == [
        [[10, 20, 30, 255], [200, 100, 50, 255], [0, 0, 0, 0], [0, 0, 0, 0]]
    ]


def test_reading_a_tile_does_not_change_the_source() -> None:
    raster = random_raster(64, 64)
    values, valid = raster.values.copy(), raster.valid.copy()
    frozen = ArrayRaster(values, valid, raster.roles)
    block = frozen.read(Window(0, 0, 64, 64))
    render_composite(block, [Curve((0, 1), (0, 1))] * 3)
    assert np.array_equal(values, raster.values, equal_nan=True)
    assert np.array_equal(valid, raster.valid)
