from dataclasses import dataclass, replace

import numpy as np
import pytest
from affine import Affine

from kitesort.core.correct.registry import COMBINATIONS
from kitesort.core.errors import GridMismatchError, InputError, MissingRoleError
from kitesort.core.grid import Grid
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import validate_settings
from support.arrays import ArrayRaster, random_raster
from support.opening import open_by

PER_PIXEL = sorted(set(COMBINATIONS) - {"mosaic"})


def combined(method: str, *members: Raster, **settings: object) -> Raster:
    spec = COMBINATIONS[method]
    return open_by(spec, members, validate_settings(spec, settings))


def dates(n: int) -> list[ArrayRaster]:
    return [random_raster(40, 50, 4, seed=i, invalid_share=0.3) for i in range(n)]


@pytest.mark.parametrize("method", sorted(COMBINATIONS))
def test_pieces_are_the_same_as_the_whole(method: str) -> None:
    raster = combined(method, *dates(4))
    whole = raster.read(raster.grid.whole)
    for window in raster.grid.blocks(17):
        part = raster.read(window)
        assert np.array_equal(
            part.values, whole.values[(slice(None), *window.slices)], equal_nan=True
        )
        assert np.array_equal(part.valid, whole.valid[window.slices])


@pytest.mark.parametrize("method", sorted(COMBINATIONS))
def test_valid_where_any_date_is(method: str) -> None:
    members = dates(3)
    raster = combined(method, *members)
    expected = np.any([m.valid for m in members], axis=0)
    assert np.array_equal(raster.read(raster.grid.whole).valid, expected)
    assert COMBINATIONS[method].say(validate_settings(COMBINATIONS[method], {}))


@pytest.mark.parametrize("n", [2, 3, 4, 5])
def test_median_as_numpy_has_it(n: int) -> None:
    members = dates(n)
    raster = combined("median", *members)
    block = raster.read(raster.grid.whole)
    stack = np.stack([np.where(m.valid, m.values, np.nan) for m in members])
    expected = np.nanmedian(stack[:, :, block.valid], axis=0)
    assert block.values[:, block.valid] == pytest.approx(expected, abs=1e-6)


def test_the_clearest_date_has_the_least_blue_in_all_bands() -> None:
    values = np.array([[[[0.2]], [[1.0]]], [[[0.1]], [[2.0]]], [[[0.05]], [[3.0]]]], np.float32)
    members = [ArrayRaster(v, np.ones((1, 1), bool), ("blue", "nir")) for v in values]
    members[2] = replace(members[2], valid=np.zeros((1, 1), bool))  # clearest of all, but cloud
    raster = combined("clearest", *members)
    assert raster.read(raster.grid.whole).values[:, 0, 0] == pytest.approx([0.1, 2.0])
    assert raster.read(raster.grid.whole, ("nir",)).values[0, 0, 0] == 2.0, "blue is read anyway"


def test_the_greenest_date_wins() -> None:
    """Index 0.5 against 0.2; a date with nothing in both bands has no index and never wins."""
    pairs = [(0.1, 0.3), (0.2, 0.3), (0.0, 0.0)]
    members = [
        ArrayRaster(np.array([[[r]], [[n]]], np.float32), np.ones((1, 1), bool), ("red", "nir"))
        for r, n in pairs
    ]
    raster = combined("highest-index", *members)
    assert raster.read(raster.grid.whole).values[:, 0, 0] == pytest.approx([0.1, 0.3])
    lowest = combined("highest-index", *members, upper="red", lower="nir")
    assert lowest.read(raster.grid.whole).values[:, 0, 0] == pytest.approx([0.2, 0.3])


@pytest.mark.parametrize("method", PER_PIXEL)
def test_other_grids_are_refused(method: str) -> None:
    with pytest.raises(GridMismatchError):
        combined(method, random_raster(5, 5, 4), random_raster(5, 6, 4))
    with pytest.raises(InputError, match="at least two"):
        combined(method, random_raster(5, 5, 4))


def test_a_band_that_one_date_lacks() -> None:
    without_blue = ArrayRaster(np.ones((1, 5, 5), np.float32), np.ones((5, 5), bool), ("red",))
    with pytest.raises(MissingRoleError, match="blue"):
        combined("clearest", random_raster(5, 5, 4), without_blue)


@dataclass(frozen=True)
class Placed(ArrayRaster):
    """On a metric grid that begins somewhere else."""

    right: float = 0.0
    down: float = 0.0

    @property
    def grid(self) -> Grid:
        first = super().grid
        moved = first.transform @ Affine.translation(self.right, self.down)
        return replace(first, transform=moved)


def tile(value: float, right: float = 0, down: float = 0) -> Placed:
    values = np.full((1, 10, 10), value, np.float32)
    return Placed(values, np.ones((10, 10), bool), ("red",), right, down)


def test_tiles_lie_beside_one_another_and_the_first_is_on_top() -> None:
    raster = combined("mosaic", tile(1), tile(2, right=8), tile(3, down=-10))
    assert (raster.grid.height, raster.grid.width) == (20, 18)
    block = raster.read(raster.grid.whole)
    assert block.values[0, 12, 9] == 1, "overlap: the first one named"
    assert block.values[0, 12, 12] == 2
    assert block.values[0, 3, 3] == 3
    assert not block.valid[3, 15], "no tile there"


@pytest.mark.parametrize("stranger", [tile(2, right=8.4), random_raster(5, 5, 4)])
def test_tiles_that_do_not_fit(stranger: ArrayRaster) -> None:
    with pytest.raises((GridMismatchError, MissingRoleError)):
        combined("mosaic", tile(1), stranger if isinstance(stranger, Placed) else Placed(
            stranger.values[:1], stranger.valid, ("other",), 30))  # fmt: skip


@pytest.mark.parametrize("method", sorted(COMBINATIONS))
def test_numbers_are_not_mixed_with_reflectance(method: str) -> None:
    first = random_raster(5, 5, 4)
    raw = replace(first, quantity="numbers")
    with pytest.raises(InputError, match="is reflectance in one of the scenes and numbers in an"):
        combined(method, first, raw)
    bands = combined(method, raw, raw).bands
    assert {band.quantity for band in bands} == {"numbers"}, "a composite of numbers holds numbers"


def test_of_three_dates_the_one_in_shadow_is_left_out() -> None:
    """Blue and near infrared of a clear, a hazy and a shaded date: shadow has the least blue."""

    def date_of(blue: float, nir: float) -> ArrayRaster:
        values = np.full((2, 4, 4), blue, np.float32)
        values[1] = nir
        return ArrayRaster(values, np.ones((4, 4), bool), ("blue", "nir"))

    clear, hazy, shaded = date_of(0.05, 0.40), date_of(0.12, 0.38), date_of(0.02, 0.09)
    three = combined("clearest", hazy, shaded, clear)
    assert three.read(three.grid.whole).values[:, 0, 0] == pytest.approx([0.05, 0.40])
    alone = three.read(three.grid.whole, ("blue",))
    assert alone.values[0, 0, 0] == pytest.approx(0.05), "whichever bands are asked for"
    ploughed = date_of(0.04, 0.25)
    again = combined("clearest", hazy, ploughed, clear)
    assert again.read(again.grid.whole).values[0, 0, 0] == pytest.approx(0.04), "dark, no shadow"
