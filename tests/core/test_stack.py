from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from affine import Affine

from kitesort.core.bands import Band
from kitesort.core.delivery.calibration import BandFactors, calibrate
from kitesort.core.errors import (
    BadSettingsError,
    GridMismatchError,
    InputError,
    MissingRoleError,
)
from kitesort.core.grid import Window
from kitesort.core.raster.file import FileRaster
from kitesort.core.raster.protocol import Raster, roles_of
from kitesort.core.raster.quality import QualityFlag
from kitesort.core.raster.stack import StackRaster
from support.small_scene import LEFT, TOP, write_band


def member(path: Path, role: str, data: np.ndarray, pixel: float, **options: object) -> FileRaster:
    write_band(path, data, pixel, **options)
    return FileRaster(str(path), (Band(role),), nodata=0)


@pytest.fixture
def stack(tmp_path: Path) -> StackRaster:
    """Red at 10 m (8 × 8) and short-wave at 20 m (4 × 4); row and column are in the numbers."""
    red = np.arange(1, 65, dtype=np.uint16).reshape(8, 8)
    swir = np.arange(101, 117, dtype=np.uint16).reshape(4, 4)
    swir[3, 3] = 0
    fine = member(tmp_path / "red.tif", "red", red, 10)
    coarse = member(tmp_path / "swir.tif", "swir16", swir, 20)
    flags = np.zeros((8, 8), np.uint16)
    flags[0, 1], flags[0, 2], flags[0, 3] = 1, 2, 4
    write_band(tmp_path / "flags.tif", flags, 10)
    quality = FileRaster(str(tmp_path / "flags.tif"), (Band("quality"),))
    excluded = (QualityFlag(name="one", first_bit=0), QualityFlag(name="two", first_bit=1))
    return StackRaster(fine.grid, (fine, coarse), quality, excluded)


def test_a_stack_is_a_raster_without_reading_anything(stack: StackRaster) -> None:
    assert isinstance(stack, Raster)
    assert roles_of(stack) == ("red", "swir16")


def test_coarser_band_is_repeated_on_the_finer_grid(stack: StackRaster) -> None:
    block = replace(stack, quality=None).read(stack.grid.whole)
    swir = np.arange(101, 117).reshape(4, 4).repeat(2, 0).repeat(2, 1)
    assert np.array_equal(block.values[1][:6, :6], swir[:6, :6], equal_nan=True)


def test_validity_is_shared_by_the_bands_that_are_read(stack: StackRaster) -> None:
    both, red = stack.read(stack.grid.whole), stack.read(stack.grid.whole, ("red",))
    assert not both.valid[6:, 6:].any(), "nodata of the short-wave band"
    assert red.valid[6:, 6:].all(), "red alone is good there"


def test_only_the_excluded_quality_bits_count(stack: StackRaster) -> None:
    assert stack.read(Window(0, 0, 1, 4)).valid.tolist() == [[True, False, False, True]]


def test_roles_come_in_the_order_asked_for(stack: StackRaster) -> None:
    forth = stack.read(Window(2, 2, 2, 2), ("red", "swir16")).values
    back = stack.read(Window(2, 2, 2, 2), ("swir16", "red")).values
    assert np.array_equal(forth, back[::-1])


def test_one_band_can_be_asked_for_several_times(stack: StackRaster) -> None:
    once = stack.read(Window(2, 2, 4, 4), ("swir16",)).values[0]
    thrice = stack.read(Window(2, 2, 4, 4), ("swir16", "red", "swir16", "swir16")).values
    assert all(np.array_equal(thrice[i], once) for i in (0, 2, 3))


@pytest.mark.parametrize("size", [1, 3, 5])
def test_reading_in_pieces_changes_nothing(stack: StackRaster, size: int) -> None:
    whole = stack.read(stack.grid.whole)
    for window in stack.grid.blocks(size):
        part = stack.read(window)
        assert np.array_equal(
            part.values, whole.values[(slice(None), *window.slices)], equal_nan=True
        )
        assert np.array_equal(part.valid, whole.valid[window.slices])


def test_a_band_given_twice_is_pointed_out(stack: StackRaster) -> None:
    red = stack.members[0]
    with pytest.raises(InputError, match="red is given twice"):
        StackRaster(stack.grid, (red, red))


def test_a_band_of_another_system_is_pointed_out(tmp_path: Path, stack: StackRaster) -> None:
    stranger = member(tmp_path / "x.tif", "nir", np.ones((8, 8), np.uint16), 10, crs="EPSG:32626")
    with pytest.raises(GridMismatchError, match=r"nir is in EPSG:32626.*Reproject"):
        StackRaster(stack.grid, (stranger,))


def test_a_band_of_another_place_is_pointed_out(tmp_path: Path, stack: StackRaster) -> None:
    far = Affine(10, 0, LEFT + 50_000, 0, -10, TOP)
    stranger = member(tmp_path / "x.tif", "nir", np.ones((8, 8), np.uint16), 10, transform=far)
    with pytest.raises(GridMismatchError, match="another place"):
        StackRaster(stack.grid, (stranger,))


def test_an_empty_stack_is_refused(stack: StackRaster) -> None:
    with pytest.raises(InputError, match="at least one band"):
        StackRaster(stack.grid, ())


def test_calibration_by_hand(stack: StackRaster) -> None:
    """Sun 30° high: divide by one half. DN 64 with gain 0.001 and offset 0.01 gives 0.148."""
    factors = {"red": BandFactors(0.001, 0.01), "swir16": BandFactors(0.01, 0.0)}
    raster = calibrate(stack, factors, 30.0)
    block = raster.read(Window(5, 5, 1, 1))
    red = stack.read(Window(5, 5, 1, 1)).values[0, 0, 0]
    assert block.values[:, 0, 0] == pytest.approx([(red * 0.001 + 0.01) * 2, 111 * 0.01 * 2])
    alone = raster.read(Window(5, 5, 1, 1), ("swir16",))
    assert alone.values[0, 0, 0] == pytest.approx(111 * 0.01 * 2)


def test_calibration_without_sun_takes_factors_as_they_are(stack: StackRaster) -> None:
    factors = {"red": BandFactors(2.0, 1.0), "swir16": BandFactors(1.0, 0.0)}
    raster = calibrate(stack, factors, None)
    assert raster.read(Window(0, 0, 1, 1), ("red",)).values[0, 0, 0] == 3.0


def test_calibration_changes_the_fingerprint(stack: StackRaster) -> None:
    one = calibrate(stack, {r: BandFactors(1, 0) for r in ("red", "swir16")}, None)
    two = calibrate(stack, {r: BandFactors(1, 1) for r in ("red", "swir16")}, None)
    assert len({stack.fingerprint, one.fingerprint, two.fingerprint}) == 3


@pytest.mark.parametrize("sun", [0.0, -5.0, 91.0])
def test_sun_that_cannot_be(stack: StackRaster, sun: float) -> None:
    factors = {r: BandFactors(1, 0) for r in ("red", "swir16")}
    with pytest.raises(BadSettingsError, match="sun elevation"):
        calibrate(stack, factors, sun)


def test_a_band_without_factors_is_named(stack: StackRaster) -> None:
    with pytest.raises(MissingRoleError, match="swir16"):
        calibrate(stack, {"red": BandFactors(1, 0)}, None)
