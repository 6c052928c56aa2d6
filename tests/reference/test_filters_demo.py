"""Stripe filter and sharpening on the demo's summer pass: what was put in must come out, and what
was there must stay. The stripes and the coarse view are made here, so that the truth is known."""

from dataclasses import replace

import numpy as np
import numpy.typing as npt
import pytest
from affine import Affine

from kitesort.core.grid import Grid
from kitesort.core.raster.protocol import Raster
from kitesort.core.raster.warp import WarpedRaster
from support.arrays import ArrayRaster, coarser_grid
from support.derived import layer_of

ROLES = ("blue", "green", "red", "nir")


@pytest.fixture(scope="module")
def scene(summer: Raster) -> ArrayRaster:
    """The bands of 10 m as arrays."""
    block = summer.read(summer.grid.whole, ROLES)
    return ArrayRaster(np.where(block.valid, block.values, 0), block.valid, ROLES)


def rms(values: npt.NDArray[np.float64]) -> float:
    return float(np.sqrt(np.nanmean(values**2)))


@pytest.mark.parametrize(("axis", "direction_deg"), [(0, 0.0), (1, 90.0)])
def test_stripes_of_six_detectors_go_and_the_ground_stays(
    scene: ArrayRaster, axis: int, direction_deg: float
) -> None:
    """A whisk-broom scanner of six detectors whose offsets differ: one line in six alike."""
    offsets = np.array([0.006, -0.004, 0.002, -0.007, 0.005, -0.002])
    lines = np.resize(offsets, scene.valid.shape[axis])
    stripes = np.expand_dims(lines, 1 - axis) * np.ones(scene.valid.shape)
    striped = replace(scene, values=(scene.values + stripes).astype(np.float32))
    found = layer_of(striped, "stripe-filter", roles=["red"], direction_deg=direction_deg)[0]
    clean = layer_of(scene, "stripe-filter", roles=["red"], direction_deg=direction_deg)[0]
    before = np.where(scene.valid, scene.values[2], np.nan)
    assert rms(found - clean) < 0.1 * rms(stripes), "of the stripes next to nothing is left"
    assert rms(clean - before) < 0.08 * np.nanstd(before), "without stripes little changes"
    assert rms(found - before) < 0.6 * rms(stripes)


def test_coarse_red_becomes_nearer_to_the_real_one(scene: ArrayRaster) -> None:
    """The protocol of Wald, Ranchin and Mangolini 1997 (see test_sharpen_reference.py) on a band
    that is seen at 20 m, sharpened by the others, and known at 10 m."""
    coarse = coarser_grid(scene.grid, 2)
    seen = WarpedRaster(scene, coarse, "average").read(coarse.whole, ("red",))
    blocky = np.repeat(np.repeat(seen.values[0], 2, axis=0), 2, axis=1)
    height, width = scene.valid.shape
    values = scene.values.copy()
    values[2] = blocky[:height, :width]
    degraded = replace(scene, values=values, coarse=(("red", 2),))
    sharp = layer_of(degraded, "sharpen", fine=["blue", "green"])[2]
    up = WarpedRaster(WarpedRaster(degraded, coarse, "nearest"), scene.grid, "bilinear")
    plain = up.read(scene.grid.whole, ("red",)).values[0]
    truth = np.where(scene.valid, scene.values[2], np.nan)
    inside = np.isfinite(sharp) & np.isfinite(truth)
    assert inside.mean() > 0.8
    errors = [rms((image - truth)[inside]) for image in (blocky[:height, :width], plain, sharp)]
    assert errors[2] < 0.6 * min(errors[:2]), errors


def test_all_coarse_bands_of_the_sensor_take_detail_where_it_is_theirs(summer: Raster) -> None:
    """20 m bands lie on every second line of the 10 m grid, the 60 m band on every sixth."""
    natives = {band.role: band.native for band in summer.bands}
    assert {role for role, native in natives.items() if native is None} == set(ROLES)
    corner = summer.grid.transform
    for role, factor in (("swir16", 2), ("swir22", 2), ("rededge", 2), ("coastal", 6)):
        native = natives[role]
        assert native is not None
        expected = Grid(summer.grid.crs, corner @ Affine.scale(factor), native.height, native.width)
        assert native == expected
    sharp = layer_of(summer, "sharpen")
    plain = summer.read(summer.grid.whole)
    for i, band in enumerate(summer.bands):
        steps = np.nanmean(np.abs(np.diff(sharp[i], axis=1)))
        valid = plain.valid[:, 1:] & plain.valid[:, :-1]
        before = np.abs(np.diff(plain.values[i].astype(np.float64), axis=1))[valid].mean()
        if band.native is None:
            assert steps == pytest.approx(before, rel=0.05), "fine bands are passed on"
        elif band.role != "coastal":
            assert steps > before, "neighbours differ that were one coarse pixel"
