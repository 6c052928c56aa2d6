from dataclasses import replace

import numpy as np
import pytest
from affine import Affine

from kitesort.core.errors import GridMismatchError, OutsideSceneError
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.resample import Resampling, resample
from kitesort.core.raster.warp import WarpedRaster, require_meeting, suggest_grid
from kitesort.core.raster.window import PlacedRaster, WindowRaster
from support.arrays import ArrayRaster, metric_grid, random_raster

ALL: tuple[Resampling, ...] = ("nearest", "bilinear", "cubic", "average")


def plane(height: int, width: int) -> ArrayRaster:
    """Row and column of each pixel's centre as two bands."""
    rows, cols = np.mgrid[0:height, 0:width].astype(np.float32) + np.float32(0.5)
    return ArrayRaster(np.stack([rows, cols]), np.ones((height, width), bool), ("blue", "red"))


@pytest.mark.parametrize("resampling", ALL)
def test_its_own_grid_gives_its_own_values(resampling: Resampling) -> None:
    source = random_raster(30, 20)
    block = WarpedRaster(source, source.grid, resampling).read(source.grid.whole)
    assert np.array_equal(block.valid, source.valid)
    assert block.values[:, block.valid] == pytest.approx(source.values[:, source.valid], abs=1e-6)


@pytest.mark.parametrize("resampling", ["bilinear", "cubic"])
def test_a_plane_stays_a_plane(resampling: Resampling) -> None:
    """Both kernels reproduce a linear surface exactly, away from the edges."""
    source = plane(24, 24)
    fine = replace(source.grid, transform=source.grid.transform @ Affine.scale(0.5), height=48,
                   width=48)  # fmt: skip
    block = WarpedRaster(source, fine, resampling).read(Window(8, 8, 32, 32))
    expected = (np.arange(8, 40) + 0.5) / 2
    assert block.values[0] == pytest.approx(np.repeat(expected[:, None], 32, 1), abs=1e-5)
    assert block.values[1] == pytest.approx(np.repeat(expected[None], 32, 0), abs=1e-5)


def test_average_is_the_mean_of_the_pixels_below() -> None:
    source = random_raster(24, 24, invalid_share=0.0)
    coarse = replace(source.grid, transform=source.grid.transform @ Affine.scale(4), height=6,
                     width=6)  # fmt: skip
    block = WarpedRaster(source, coarse, "average").read(coarse.whole)
    expected = source.values.reshape(3, 6, 4, 6, 4).mean(axis=(2, 4))
    assert block.values == pytest.approx(expected, abs=1e-6)


def test_average_needs_half_of_its_ground() -> None:
    values = np.ones((1, 2, 4), np.float32)
    valid = np.array([[True, False, True, False], [True, False, False, False]])
    source = ArrayRaster(values, valid, ("red",))
    coarse = replace(source.grid, transform=source.grid.transform @ Affine.scale(2), height=1,
                     width=2)  # fmt: skip
    assert WarpedRaster(source, coarse, "average").read(coarse.whole).valid.tolist() == [
        [True, False]
    ]


def test_pixels_that_are_not_valid_take_no_part() -> None:
    """Half-way between a good pixel of 1 and a bad one of 1000 the value is 1."""
    values = np.array([[[1.0, np.nan, 3.0]], [[1.0, 2.0, 3.0]]], np.float32)
    row = np.array([[0.5]])
    out = resample(values, row, np.array([[0.9]]), "bilinear")
    assert out[:, 0, 0] == pytest.approx([1.0, 1.4]), "each band goes by its own missing pixels"
    out = resample(values, row, np.array([[1.4]]), "bilinear")
    assert np.isnan(out[0, 0, 0]), "the place itself lies in a bad pixel"
    assert out[1, 0, 0] == pytest.approx(1.9)


@pytest.mark.thorough
@pytest.mark.parametrize("resampling", ALL)
@pytest.mark.parametrize("crs", ["EPSG:4326", "EPSG:32625", "EPSG:3035"])
def test_pieces_are_the_same_as_the_whole(resampling: Resampling, crs: str) -> None:
    source = random_raster(90, 120)
    target = suggest_grid(source.grid, crs)
    if crs == "EPSG:32625":
        target = replace(target, transform=target.transform @ Affine(1.7, 0, 0.3, 0, 1.7, 0.6))
    warped = WarpedRaster(source, target, resampling)
    whole = warped.read(target.whole)
    for window in target.blocks(37):
        part = warped.read(window)
        assert np.array_equal(part.valid, whole.valid[window.slices])
        assert np.array_equal(
            part.values, whole.values[(slice(None), *window.slices)], equal_nan=True
        )


def test_a_much_finer_source_is_read_in_halves(monkeypatch: pytest.MonkeyPatch) -> None:
    source = random_raster(64, 64)
    coarse = replace(source.grid, transform=source.grid.transform @ Affine.scale(4), height=16,
                     width=16)  # fmt: skip
    warped = WarpedRaster(source, coarse, "average")
    whole = warped.read(coarse.whole)
    monkeypatch.setattr("kitesort.core.raster.warp.MAX_SOURCE_PIXELS", 700)
    halves = warped.read(coarse.whole)
    assert np.array_equal(halves.values, whole.values, equal_nan=True)


def test_outside_is_not_valid() -> None:
    source = random_raster(10, 10, invalid_share=0.0)
    far = replace(source.grid, transform=source.grid.transform @ Affine.translation(500, 0))
    assert not WarpedRaster(source, far).read(far.whole).valid.any()
    beside = replace(source.grid, transform=source.grid.transform @ Affine.translation(5, 0))
    valid = WarpedRaster(source, beside).read(beside.whole).valid
    assert valid[:, :5].all() and not valid[:, 5:].any()


def test_suggested_grid_holds_the_ground_with_pixels_alike() -> None:
    grid = metric_grid(700, 900)
    there = suggest_grid(grid, "EPSG:32624")
    assert there.pixel_size[0] == pytest.approx(10, rel=0.15)
    block = WarpedRaster(random_raster(700, 900, 1, invalid_share=0), there).read(there.whole)
    assert block.valid.sum() == pytest.approx(700 * 900 * 100 / there.pixel_size[0] ** 2, rel=0.02)
    assert suggest_grid(grid, "EPSG:32625") is grid


def test_a_place_that_a_system_cannot_show() -> None:
    elsewhere = Grid("EPSG:4326", Affine(0.1, 0, 55, 0, -0.1, 0), 10, 10)
    with pytest.raises(GridMismatchError, match="EPSG:32625"):
        suggest_grid(elsewhere, "EPSG:32625")


def test_a_part_and_a_placed_raster_keep_their_pixels() -> None:
    source = random_raster(20, 30, invalid_share=0)
    part = WindowRaster(source, Window(5, 7, 10, 12))
    assert part.grid.pixel_to_world(0, 0) == source.grid.pixel_to_world(5, 7)
    assert np.array_equal(
        part.read(part.grid.whole).values, source.values[:, 5:15, 7:19], equal_nan=True
    )
    placed = PlacedRaster(source, replace(source.grid, crs="EPSG:32624"))
    assert placed.grid.crs == "EPSG:32624"
    assert np.array_equal(
        placed.read(Window(2, 2, 3, 3)).values, source.values[:, 2:5, 2:5], equal_nan=True
    )
    assert len({source.fingerprint, part.fingerprint, placed.fingerprint}) == 3


@pytest.mark.parametrize("resampling", ["bilinear", "cubic"])
def test_onto_coarser_pixels_all_that_is_measured_counts(resampling: Resampling) -> None:
    """Four by four pixels of white noise: their mean, whose spread is a quarter; nearest keeps one
    of them."""
    source = random_raster(64, 64, invalid_share=0.0)
    coarse = replace(source.grid, transform=source.grid.transform @ Affine.scale(4), height=16,
                     width=16)  # fmt: skip
    values = WarpedRaster(source, coarse, resampling).read(coarse.whole).values
    expected = source.values.reshape(3, 16, 4, 16, 4).mean(axis=(2, 4))
    assert values == pytest.approx(expected, abs=1e-6)
    assert values.std() == pytest.approx(source.values.std() / 4, rel=0.15)


def test_half_a_pixel_away_is_between_pixels_as_before() -> None:
    source = plane(24, 24)
    moved = replace(source.grid, transform=source.grid.transform @ Affine.translation(0.5, 0.5),
                    height=20, width=20)  # fmt: skip
    block = WarpedRaster(source, moved, "bilinear").read(Window(2, 2, 10, 10))
    assert block.values[0, :, 0] == pytest.approx(np.arange(2, 12) + 1.0, abs=1e-5)


def test_what_lies_elsewhere_is_not_brought_here() -> None:
    source = random_raster(20, 20)
    far = replace(source.grid, transform=source.grid.transform @ Affine.translation(900, 0))
    with pytest.raises(OutsideSceneError, match="june and this scene have no ground in common"):
        require_meeting(source.grid, far, "june")
    wide = replace(source.grid, transform=source.grid.transform @ Affine.translation(-7777, -3333),
                   height=9_000, width=9_000)  # fmt: skip
    require_meeting(source.grid, wide)
    require_meeting(wide, source.grid)
