"""Sharpening: what comes back exactly, what is left alone, and what cannot be sharpened."""

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from affine import Affine

from kitesort.core.bands import Band
from kitesort.core.derive.methods.sharpen import SPEC, SharpenSettings
from kitesort.core.engine import Watch
from kitesort.core.errors import BadSettingsError, MissingRoleError, NoValidPixelsError
from kitesort.core.grid import Grid
from kitesort.core.operation import Context
from kitesort.core.raster.joined import JoinedRaster, Member
from kitesort.core.raster.protocol import Raster, roles_of
from kitesort.core.raster.sample import spread_windows
from kitesort.core.raster.stack import StackRaster
from kitesort.core.raster.warp import WarpedRaster
from support.arrays import ArrayRaster, metric_grid, random_raster
from support.opening import open_by, prepare_by


def shifted(grid: Grid, factor: int, by: float) -> Grid:
    """A grid of larger pixels whose corner lies ``by`` fine pixels off."""
    transform = grid.transform @ Affine.translation(by, by) @ Affine.scale(factor)
    return Grid(grid.crs, transform, grid.height // factor - 1, grid.width // factor - 1)


class OneBand:
    """A band kept as an array on any grid."""

    def __init__(self, raster: Raster, role: str, name: str, grid: Grid, gain: float) -> None:
        block = WarpedRaster(raster, grid, "average").read(grid.whole, (role,))
        self._array = ArrayRaster(np.float32(gain) * block.values, block.valid, (name,))
        self.grid = grid
        self.bands = (Band(name, 1.6),)
        self.fingerprint = name
        self.read = self._array.read


def seen_coarse(scene: Raster, factor: int, by: float, gain: float = 0.5) -> StackRaster:
    """The red band, and half of it as a sensor of larger pixels sees it, on the red band's grid."""
    coarse = OneBand(scene, "red", "swir16", shifted(scene.grid, factor, by), gain)
    fine = JoinedRaster((Member("red", scene, "red"), Member("blue", scene, "blue")), scene.grid)
    return StackRaster(scene.grid, (fine, coarse))


def prepared(raster: Raster, **settings: Any) -> SharpenSettings:
    ready = prepare_by(
        SPEC, raster, SharpenSettings(**settings), Context(lambda *_: raster), Watch()
    )
    assert isinstance(ready, SharpenSettings)
    return ready


def sharpened(raster: Raster, **settings: Any) -> Raster:
    context = Context(lambda *_: raster)
    return open_by(SPEC, raster, prepared(raster, **settings), context)


@pytest.mark.parametrize(("factor", "by"), [(2, 0.0), (2, 0.5), (3, 0.0), (6, 2.0)])
def test_what_follows_the_fine_band_comes_back_exactly(factor: int, by: float) -> None:
    """A coarse band that is half the fine one everywhere is half of it, pixel by pixel, wherever
    its own pixels lie: also half a fine pixel off, as a panchromatic band's do."""
    scene = random_raster(90, 96, 3, invalid_share=0)
    stack = seen_coarse(scene, factor, by)
    ready = prepared(stack, fine=("red",))
    assert ready.roles == ("swir16",) and ready.gains == (pytest.approx(0.5, abs=1e-5),)
    block = sharpened(stack, fine=("red",)).read(scene.grid.whole, ("red", "swir16"))
    assert block.valid[12:-18, 12:-18].all()
    assert np.allclose(block.values[1][block.valid], block.values[0][block.valid] / 2, atol=1e-5)
    plain = stack.read(scene.grid.whole, ("swir16",)).values[0]
    assert np.abs(plain - block.values[0] / 2)[block.valid].mean() > 0.02, "it was not so before"


def test_a_band_unlike_the_fine_one_takes_none_of_its_detail() -> None:
    scene = random_raster(200, 200, 3, invalid_share=0)
    other = random_raster(200, 200, 3, seed=9, invalid_share=0)
    coarse = OneBand(other, "red", "swir16", shifted(scene.grid, 2, 0), 1.0)
    stack = StackRaster(scene.grid, (scene, coarse))
    assert abs(prepared(stack, fine=("red",)).gains[0]) < 0.02


def test_averages_over_coarse_pixels_stay_what_the_sensor_saw() -> None:
    """On a smooth ground, where interpolation takes nothing away."""
    rows, cols = np.mgrid[:96, :96] / 96
    image = (0.1 + 0.2 * rows + 0.1 * cols**2).astype(np.float32)
    scene = ArrayRaster(np.stack([image, image]), np.ones((96, 96), np.bool_), ("red", "blue"))
    stack = seen_coarse(scene, 4, 0)
    grid = shifted(scene.grid, 4, 0)
    seen = WarpedRaster(stack, grid, "nearest").read(grid.whole, ("swir16",)).values[0]
    again = WarpedRaster(sharpened(stack), grid, "average").read(grid.whole, ("swir16",)).values[0]
    assert np.allclose(again[2:-2, 2:-2], seen[2:-2, 2:-2], atol=2e-4)


def test_fine_bands_are_passed_on_and_bands_say_what_they_are_now() -> None:
    scene = random_raster(60, 60, 3)
    stack = seen_coarse(scene, 3, 0)
    raster = sharpened(stack)
    assert roles_of(raster) == ("red", "blue", "swir16")
    before, after = (r.read(scene.grid.whole, ("blue",)) for r in (stack, raster))
    assert np.array_equal(before.values[:, after.valid], after.values[:, after.valid])
    band = raster.bands[2]
    assert (band.native, band.wavelength_um) == (None, 1.6)
    assert band.pixel_size == scene.grid.pixel_size[0]
    with pytest.raises(BadSettingsError, match="nothing to sharpen"):
        sharpened(raster)


def test_one_band_asked_for_twice() -> None:
    raster = sharpened(seen_coarse(random_raster(40, 40, 3), 2, 0))
    twice = raster.read(raster.grid.whole, ("swir16", "red", "swir16"))
    assert np.array_equal(twice.values[0], twice.values[2], equal_nan=True)


def test_detail_is_the_panchromatic_band_where_there_is_one() -> None:
    scene = random_raster(60, 60, 3)
    coarse = OneBand(scene, "red", "swir16", shifted(scene.grid, 2, 0), 1.0)
    pan = replace(random_raster(60, 60, 1, seed=3), roles=("pan",))
    assert prepared(StackRaster(scene.grid, (scene, pan, coarse))).fine == ("pan",)
    assert prepared(StackRaster(scene.grid, (scene, coarse))).fine == ("blue", "green", "red")


class TestRefused:
    def test_nothing_coarse(self) -> None:
        with pytest.raises(
            BadSettingsError, match="There is nothing to sharpen: that takes bands as fine"
        ):
            sharpened(random_raster(30, 30, 3))

    def test_a_band_that_is_fine_already(self) -> None:
        stack = seen_coarse(random_raster(40, 40, 3), 2, 0)
        with pytest.raises(BadSettingsError, match="blue is as fine as"):
            sharpened(stack, roles=("blue",))

    def test_detail_of_a_coarse_band(self) -> None:
        stack = seen_coarse(random_raster(40, 40, 3), 2, 0)
        with pytest.raises(BadSettingsError, match="own pixel size, which swir16 was not"):
            sharpened(stack, fine=("swir16",))

    def test_a_stack_whose_bands_are_all_coarse(self) -> None:
        scene = random_raster(40, 40, 3)
        coarse = OneBand(scene, "red", "swir16", shifted(scene.grid, 2, 0), 1.0)
        with pytest.raises(BadSettingsError, match="There is nothing to sharpen"):
            sharpened(StackRaster(scene.grid, (coarse,)))

    def test_a_stack_on_its_coarsest_grid(self) -> None:
        scene = random_raster(40, 40, 3)
        grid = shifted(scene.grid, 2, 0)
        coarse = OneBand(scene, "red", "swir16", grid, 1.0)
        with pytest.raises(BadSettingsError, match="on the grid of its finest band"):
            sharpened(StackRaster(grid, (scene, coarse)))

    def test_an_unknown_band(self) -> None:
        with pytest.raises(MissingRoleError, match="pan"):
            sharpened(seen_coarse(random_raster(40, 40, 3), 2, 0), fine=("pan",))

    def test_a_fine_band_that_is_the_same_everywhere(self) -> None:
        scene = random_raster(40, 40, 3)
        flat = replace(scene, values=np.full_like(scene.values, 0.25))
        with pytest.raises(BadSettingsError, match="has no detail"):
            sharpened(seen_coarse(flat, 2, 0))

    def test_no_valid_pixel(self) -> None:
        scene = random_raster(40, 40, 3)
        empty = replace(scene, valid=np.zeros((40, 40), np.bool_))
        with pytest.raises(NoValidPixelsError, match="Fewer than three pixels"):
            sharpened(seen_coarse(empty, 2, 0))


@pytest.mark.parametrize("size", [(100, 300), (1024, 1024), (5000, 900), (20_000, 30_000)])
def test_windows_of_a_sample_lie_inside_and_apart(size: tuple[int, int]) -> None:
    grid = metric_grid(*size)
    windows = spread_windows(grid)
    assert len(windows) <= 16
    for axis, length in enumerate(size):
        spans = {((w.row, w.height), (w.col, w.width))[axis] for w in windows}
        starts = sorted(spans)
        assert starts[0][0] == 0 and starts[-1][0] + starts[-1][1] == length
        ends = [start + n for start, n in starts]
        assert all(end <= start for end, (start, _) in zip(ends, starts[1:], strict=False))
