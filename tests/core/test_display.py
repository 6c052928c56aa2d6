import io

import numpy as np
import pytest
from PIL import Image

from kitesort.core.display.stretch import Limits, apply_stretch, percentile_limits
from kitesort.core.display.tile import (
    TILE_SIZE,
    TileScheme,
    read_tile,
    render_classes,
    render_composite,
)
from kitesort.core.errors import BadSettingsError, NotFoundError
from kitesort.core.grid import Window
from kitesort.core.raster.protocol import Block
from kitesort.core.raster.sample import read_coarse, valid_values
from support.arrays import ArrayRaster, metric_grid, random_raster


def pixels_of(png: bytes) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(png)).convert("RGBA"))


@pytest.mark.parametrize(("low", "high"), [(0, 100), (2, 98), (5, 99.5)])
def test_limits_are_numpy_percentiles(low: float, high: float) -> None:
    values = np.random.default_rng(3).gamma(2, 0.1, 5000).astype(np.float32)
    limits = percentile_limits(values, low, high)
    expected = np.percentile(values, [low, high])
    assert (limits.low, limits.high) == pytest.approx(tuple(expected))


def test_one_value_shows_as_mid_grey() -> None:
    limits = percentile_limits(np.full(10, 0.3, np.float32), 2, 98)
    levels = apply_stretch(np.full((1, 1, 1), 0.3, np.float32), [limits])
    assert levels[0, 0, 0] in (127, 128)


def test_no_value_at_all_gives_usable_limits() -> None:
    assert percentile_limits(np.array([], np.float32), 2, 98) == Limits(0, 1)


@pytest.mark.parametrize(("low", "high"), [(98, 2), (-1, 50), (50, 101), (50, 50)])
def test_ends_that_cannot_be(low: float, high: float) -> None:
    with pytest.raises(BadSettingsError, match="low end must be below"):
        percentile_limits(np.ones(4, np.float32), low, high)


def test_stretch_by_hand() -> None:
    values = np.array([[[-1, 0, 0.5, 1, 2, np.nan]]], np.float32)
    assert apply_stretch(values, [Limits(0, 1)])[0, 0].tolist() == [0, 0, 128, 255, 255, 0]


def test_stretch_takes_each_band_by_itself() -> None:
    values = np.array([[[1.0]], [[10.0]]], np.float32)
    levels = apply_stretch(values, [Limits(0, 1), Limits(0, 20)])
    assert levels[:, 0, 0].tolist() == [255, 128]


def test_sample_holds_valid_values_only() -> None:
    raster = random_raster(40, 30, invalid_share=0.25)
    sample = valid_values(read_coarse(raster, ("green",)))[0]
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
    assert np.array_equal(block.values[0, :44, :44], raster.values[0, 256:, 256:])


def test_composite_tile_holds_the_expected_colours() -> None:
    values = np.array([[[0, 1]], [[0.5, 0]], [[1, 0.5]]], np.float32)
    png = render_composite(Block(values, np.array([[True, False]])), [Limits(0, 1)] * 3)
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
    render_composite(block, [Limits(0, 1)] * 3)
    assert np.array_equal(values, raster.values)
    assert np.array_equal(valid, raster.valid)
