"""The stripe filter: which frequencies go, which stay, and that tiles and missing pixels do not
show."""

import math
from dataclasses import replace
from typing import Any

import numpy as np
import numpy.typing as npt
import pytest
from scipy import ndimage

from kitesort.core.derive.methods import stripe_filter
from kitesort.core.derive.methods.stripe_filter import SPEC, StripeFilterSettings
from kitesort.core.errors import MissingRoleError
from kitesort.core.grid import Window
from kitesort.core.operation import Context
from kitesort.core.raster.protocol import Raster
from support.arrays import ArrayRaster, random_raster
from support.opening import open_by, prepare_by

ROWS, COLS = np.mgrid[:600, :560].astype(np.float64)
INNER = (slice(150, 450), slice(150, 410))
Image = npt.NDArray[np.float64]


def scene_of(image: Image, valid: npt.NDArray[np.bool_] | None = None) -> ArrayRaster:
    usable = np.ones(image.shape, np.bool_) if valid is None else valid
    return ArrayRaster(image[None].astype(np.float32), usable, ("red",))


def filtered(raster: Raster, **settings: Any) -> Raster:
    settings = {"length_px": 128, "period_px": 32} | settings
    context = Context(lambda *_: raster)
    ready = prepare_by(SPEC, raster, StripeFilterSettings(**settings), context)
    return open_by(SPEC, raster, ready, context)


def values_of(raster: Raster) -> Image:
    return raster.read(raster.grid.whole).values[0].astype(np.float64)


def wave(period: float, direction_deg: float) -> Image:
    """A wave whose crests run in a direction, counted from the rows, upwards."""
    angle = math.radians(direction_deg)
    return 0.05 * np.sin(2 * math.pi / period * (COLS * math.sin(angle) + ROWS * math.cos(angle)))


def left_of(image: Image, **settings: Any) -> float:
    """The share of an image's spread that the filter leaves, away from the edges."""
    return float(values_of(filtered(scene_of(image), **settings))[INNER].std() / image[INNER].std())


@pytest.mark.parametrize("period", [4, 8, 16, 32, 64, 128])
def test_response_is_the_one_that_is_stated(period: float) -> None:
    """1 - A (1 - B), where A is 1 for endless stripes and B = exp(-2 (pi s / period)^2) with s a
    third of the longest period (closed form of a Gaussian's transform)."""
    kept = math.exp(-2 * (math.pi * (32 / 3) / period) ** 2)
    assert left_of(wave(period, 0), period_px=32) == pytest.approx(kept, abs=0.01)


@pytest.mark.parametrize("direction", [0.0, 30.0, 45.0, 90.0, 135.0])
def test_only_stripes_in_the_direction_go(direction: float) -> None:
    image = wave(8, direction)
    assert left_of(image, direction_deg=direction) < 0.02
    for other in (25.0, 90.0):
        assert left_of(image, direction_deg=(direction + other) % 180) > 0.98


def test_same_as_gaussian_filters_of_a_reference_library() -> None:
    """Against SciPy's one-dimensional Gaussian filters, over the seams of four tiles."""
    image = np.random.default_rng(3).normal(0.2, 0.05, ROWS.shape)
    along = ndimage.gaussian_filter1d(image, 128 / 5, axis=1, truncate=6)
    ground = ndimage.gaussian_filter1d(along, 32 / 3, axis=0, truncate=6)
    found = values_of(filtered(scene_of(image)))
    assert np.allclose(found[INNER], (image - along + ground)[INNER], atol=2e-6)


@pytest.mark.parametrize("window", [
    Window(0, 0, 600, 560), Window(250, 250, 12, 12), Window(0, 255, 1, 2), Window(511, 0, 89, 560),
])  # fmt: skip
def test_no_window_changes_a_pixel(window: Window) -> None:
    source = random_raster(600, 560, 2)
    raster = filtered(source, direction_deg=20)
    whole, part = raster.read(raster.grid.whole), raster.read(window)
    assert np.array_equal(part.values, whole.values[(slice(None), *window.slices)], equal_nan=True)
    assert np.array_equal(part.valid, whole.valid[window.slices])


def test_edges_of_data_are_no_stripes() -> None:
    """A flat ground with a gap along the rows stays flat, up to the gap and the scene's edges."""
    valid = np.ones(ROWS.shape, np.bool_)
    valid[200:230] = valid[:, :40] = False
    found = filtered(scene_of(np.full(ROWS.shape, 0.3), valid)).read(Window(0, 0, 600, 560))
    assert np.array_equal(found.valid, valid)
    assert np.allclose(found.values[0][valid], 0.3, atol=1e-6)


def test_stripes_go_beside_a_gap_too() -> None:
    image = 0.3 + wave(6, 0)
    valid = np.ones(ROWS.shape, np.bool_)
    valid[:, 250:300] = False
    found = filtered(scene_of(image, valid)).read(Window(150, 150, 300, 260))
    assert found.values[0][found.valid].std() < 0.05 * wave(6, 0).std()


def test_nothing_valid_is_nothing() -> None:
    source = random_raster(40, 40, 1)
    empty = replace(source, valid=np.zeros((40, 40), np.bool_))
    block = filtered(empty).read(empty.grid.whole)
    assert not block.valid.any() and np.isnan(block.values).all()


def test_bands_that_are_not_chosen_are_not_in_it() -> None:
    source = random_raster(50, 50, 4)
    raster = filtered(source, roles=("nir", "blue", "nir"))
    assert [band.role for band in raster.bands] == ["blue", "nir"], "in the order of the scene"
    with pytest.raises(MissingRoleError, match="swir16"):
        filtered(source, roles=("swir16",))


def test_a_coarse_view_of_one_pixel_is_the_middle_one(monkeypatch: pytest.MonkeyPatch) -> None:
    raster = filtered(random_raster(600, 560, 1, invalid_share=0))
    native = values_of(raster)
    one = raster.read(raster.grid.whole, None, (1, 1))
    assert one.values[0, 0, 0] == np.float32(native[300, 280])
    monkeypatch.setattr(stripe_filter, "TILE", 128)
    smaller = values_of(filtered(random_raster(600, 560, 1, invalid_share=0)))
    assert np.allclose(smaller, native, atol=2e-6), "tiles are a matter of computing only"
