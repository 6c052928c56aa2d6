"""Ranges and correlation of a stack's members, and what is pointed out."""

import numpy as np
import pytest

from kitesort.core.derive.members import relate_members
from kitesort.core.errors import NoValidPixelsError
from support.arrays import ArrayRaster, random_raster


def test_correlation_is_that_of_numpy() -> None:
    raster = random_raster(50, 60, 4)
    found = relate_members(raster)
    values = raster.values[:, raster.valid].astype(np.float64)
    assert np.allclose(found.correlation, np.corrcoef(values))
    assert np.allclose(np.diag(found.correlation), 1), "of a band with itself it is 1"
    assert found.n_valid == int(raster.valid.sum()) and found.remarks == []
    assert [m.role for m in found.members] == list(raster.roles)
    for member, v in zip(found.members, values, strict=True):
        assert (member.minimum, member.maximum) == (v.min(), v.max())
        assert member.standard_deviation == pytest.approx(v.std(ddof=1))


def test_near_duplicates_constants_and_uneven_ranges_are_pointed_out() -> None:
    raster = random_raster(50, 60, 6)
    raster.values[1] = raster.values[0] * 2 + 0.001 * raster.values[2]
    raster.values[3] = 0.7
    raster.values[5] *= 5000
    remarks = " ".join(relate_members(raster).remarks)
    assert "blue and green say nearly the same" in remarks
    assert "nir is the same everywhere" in remarks
    assert "swir22 varies" in remarks and "times as much as" in remarks


def test_opposites_are_duplicates_too() -> None:
    raster = random_raster(30, 30, 2)
    raster.values[1] = 1 - raster.values[0]
    assert "correlation -1.000" in relate_members(raster).remarks[0]


def test_nothing_in_common() -> None:
    raster = random_raster(10, 10, 2)
    empty = ArrayRaster(raster.values, np.zeros((10, 10), np.bool_), raster.roles)
    with pytest.raises(NoValidPixelsError, match="in all of these layers at once"):
        relate_members(empty)
