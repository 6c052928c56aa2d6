"""Histogram matching against scikit-image; shifts against known ones made with SciPy."""

import numpy as np
import pytest
from scipy import ndimage
from skimage.exposure import match_histograms

from kitesort.core.correct.methods.move import measure_shift
from kitesort.core.correct.registry import CORRECTIONS
from kitesort.core.errors import NoValidPixelsError
from kitesort.core.settings import validate_settings
from support.arrays import ArrayRaster, random_raster
from support.opening import open_by, prepare_by
from support.scene_context import context_of


def field(shape: tuple[int, int], seed: int, smooth: float = 1.5) -> np.ndarray:
    rng = np.random.default_rng(seed)
    return ndimage.gaussian_filter(rng.normal(0.2, 0.5, shape), smooth)


def raster_of(*bands: np.ndarray, valid: np.ndarray | None = None) -> ArrayRaster:
    values = np.stack(bands).astype(np.float32)
    good = np.ones(values.shape[1:], bool) if valid is None else valid
    return ArrayRaster(values, good, ("red", "nir")[: len(bands)])


def test_matched_histograms_as_scikit_image_makes_them() -> None:
    """Ours keeps 513 quantiles in the recipe, theirs every value: equal to two
    thousandths of the spread on average, less so at the very ends."""
    here = raster_of(field((200, 220), 1), field((200, 220), 2) ** 2)
    there = raster_of(field((200, 220), 3) * 1.7 + 0.1, field((200, 220), 4))
    spec = CORRECTIONS["match-histogram"]
    context = context_of({2: there})
    settings = prepare_by(spec, here, validate_settings(spec, {"scene_id": 2}), context)
    ours = open_by(spec, here, settings, context).read(here.grid.whole).values
    for i in (0, 1):
        theirs = match_histograms(here.values[i], there.values[i])
        spread = there.values[i].std()
        assert np.abs(ours[i] - theirs).max() < spread, "at the very ends"
        assert np.abs(ours[i] - theirs).mean() < 0.002 * spread


@pytest.mark.parametrize(
    ("down", "right"), [(0.0, 0.0), (0.4, -0.4), (-3.25, 7.5), (12.0, -0.1), (0.0, 21.0)]
)
def test_a_known_shift_is_measured_to_a_twentieth_of_a_pixel(down: float, right: float) -> None:
    """The moving scene is the reference, moved by cubic splines (scipy.ndimage.shift)."""
    ground = field((620, 660), 5)
    moved = ndimage.shift(ground, (-down, -right), order=3, mode="reflect")
    found = measure_shift(raster_of(moved[40:-40, 40:-40]), raster_of(ground[40:-40, 40:-40]))
    assert (found.right_px, found.down_px) == pytest.approx((right, down), abs=0.05)
    assert found.n_agreeing == found.n_pieces


def test_shift_in_spite_of_cloud_and_other_brightness() -> None:
    ground = field((512, 512), 6)
    moved = 0.4 * ndimage.shift(ground, (1.5, -2.25), order=3, mode="reflect") + 0.3
    valid = np.ones((512, 512), bool)
    valid[100:180, 200:300] = False
    moved[~valid] = 9
    found = measure_shift(raster_of(moved, valid=valid), raster_of(ground))
    assert (found.right_px, found.down_px) == pytest.approx((2.25, -1.5), abs=0.06)


def test_no_common_ground_to_measure_by() -> None:
    empty = raster_of(field((64, 64), 7), valid=np.zeros((64, 64), bool))
    with pytest.raises(NoValidPixelsError, match="too little valid ground"):
        measure_shift(empty, raster_of(field((64, 64), 7)))
    with pytest.raises(NoValidPixelsError, match="no band in common"):
        measure_shift(raster_of(field((64, 64), 7)), random_raster(64, 64, 1))
