"""Sites grown from a pixel: what is taken, what is not, and what it is bounded by."""

import numpy as np
import numpy.typing as npt
import pytest
from affine import Affine
from scipy.ndimage import label
from shapely.geometry import box

from kitesort.core.errors import OutsideSceneError, SiteError
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.protocol import Block, block_of
from kitesort.core.site_pixels import site_mask
from kitesort.core.training.grow import Grown, Measure, grow

ONE = np.ones(2)


class Ground:
    """Values (bands, rows, columns) and how often they were read."""

    def __init__(self, values: npt.NDArray[np.floating]) -> None:
        self.values = values.astype(np.float32)
        rows, cols = values.shape[1:]
        self.grid = Grid("EPSG:32625", Affine(10, 0, 400_000, 0, -10, 5_000_000), rows, cols)

    def read(self, window: Window) -> Block:
        return block_of(self.values[:, *window.slices])

    def grow(
        self,
        row: int,
        col: int,
        threshold: float,
        measure: Measure = "distance",
        most: int = 20_000,
    ) -> tuple[npt.NDArray[np.bool_], Grown]:
        found = grow(
            self.read, self.grid, row, col, measure=measure, threshold=threshold, spread=ONE,
            most=most,
        )  # fmt: skip
        mask = np.zeros((self.grid.height, self.grid.width), bool)
        window, inside = site_mask(found.outline, self.grid)
        mask[window.slices] = inside
        assert mask.sum() == found.n_pixels
        return mask, found


@pytest.fixture
def rough() -> Ground:
    return Ground(np.random.default_rng(4).normal(0, 1, (2, 300, 260)))


@pytest.mark.parametrize("threshold", [0.5, 0.9, 1.1])
def test_the_same_by_hand(rough: Ground, threshold: float) -> None:
    """SciPy's label of all pixels of the whole scene that are near enough."""
    seed = rough.values[:, 150, 130]
    apart = np.sqrt(((rough.values - seed[:, None, None]) ** 2).mean(axis=0))
    labels, _ = label(apart <= threshold)
    expected = labels == labels[150, 130]
    got, _ = rough.grow(150, 130, threshold, most=100_000)
    assert (got & expected).sum() == expected.sum()
    holes, _ = label(~expected, np.ones((3, 3)))
    small = np.bincount(holes.ravel()) <= 3
    assert small[holes[got & ~expected]].all(), "only small holes are closed"


def test_a_block_of_one_value_is_taken_whole_and_no_more() -> None:
    values = np.zeros((2, 400, 400))
    values[:, 40:300, 60:360] = 5
    values[:, 100, 100] = 0  # a hole of one pixel
    values[:, 200:202, 200:202] = 0  # and one of four
    got, found = Ground(values).grow(150, 150, 0.5, most=200_000)
    expected = values[0] == 5
    expected[100, 100] = True
    assert (got == expected).all()
    assert not found.is_limited(0.5)


def test_angle_is_blind_to_brightness() -> None:
    """Spectral angle: Kruse et al. 1993."""
    values = np.ones((2, 20, 20))
    values[:, :, 10:] *= 3
    values[1, 10:, :] *= 4
    got, _ = Ground(values).grow(2, 2, 1.0, "angle")
    assert (got == (np.arange(20) < 10)[:, None]).all()
    near, _ = Ground(values).grow(2, 2, 1.0)
    assert near.sum() == 100


def test_it_is_bounded_and_says_so(rough: Ground) -> None:
    got, found = rough.grow(150, 130, 9.0, most=500)
    assert found.is_limited(9.0) and got.sum() <= 520
    again, same = rough.grow(150, 130, 9.0, most=500)
    assert (again == got).all() and same.threshold == found.threshold


def test_no_data_is_never_taken_nor_grown_from() -> None:
    values = np.zeros((2, 30, 30))
    values[0, :, 12] = np.nan
    got, _ = Ground(values).grow(5, 5, 1.0)
    assert (got == (np.arange(30) < 12)[None, :]).all()
    with pytest.raises(SiteError, match="nothing usable"):
        Ground(values).grow(5, 12, 1.0)
    with pytest.raises(OutsideSceneError):
        Ground(values).grow(30, 5, 1.0)


def test_one_pixel_alone() -> None:
    values = np.random.default_rng(0).normal(0, 9, (2, 9, 9))
    got, found = Ground(values).grow(0, 0, 0.0)
    assert got.sum() == 1
    assert found.outline.equals(box(400_000, 4_999_990, 400_010, 5_000_000))
