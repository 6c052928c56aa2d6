"""Statistics, histograms, grids compared, coordinate systems found."""

from dataclasses import replace

import numpy as np
import pytest
from affine import Affine

from kitesort.core.crs_search import require_crs, search_crs
from kitesort.core.errors import BadSettingsError
from kitesort.core.grid import Grid
from kitesort.core.grid_comparison import compare_grids
from kitesort.core.statistics import exact_statistics, histogram_of, quick_statistics
from support.arrays import ArrayRaster, metric_grid, random_raster


@pytest.mark.parametrize("block_size", [7, 32, 1024])
def test_exact_statistics_as_numpy_has_them(block_size: int) -> None:
    raster = random_raster(60, 50)
    found = exact_statistics(raster, block_size=block_size)
    assert (found.n_valid, found.n_pixels, found.exact) == (int(raster.valid.sum()), 3000, True)
    values = raster.values[:, raster.valid].astype(np.float64)
    for i, band in enumerate(found.bands):
        assert (band.minimum, band.maximum) == (values[i].min(), values[i].max())
        assert band.mean == pytest.approx(values[i].mean(), rel=1e-12)
        assert band.standard_deviation == pytest.approx(values[i].std(ddof=1), rel=1e-10)


def test_large_values_lose_no_digits() -> None:
    """Sums of squares would: a spread of 1 around ten million."""
    rng = np.random.default_rng(1)
    values = (1e7 + rng.integers(-1, 2, (1, 64, 64))).astype(np.float32)
    raster = ArrayRaster(values, np.ones((64, 64), bool), ("red",))
    found = exact_statistics(raster, block_size=10).bands[0]
    assert found.standard_deviation == pytest.approx(values.astype(float).std(ddof=1), rel=1e-9)


def test_nothing_valid_has_no_statistics() -> None:
    raster = ArrayRaster(np.zeros((1, 9, 9), np.float32), np.zeros((9, 9), bool), ("red",))
    for found in (exact_statistics(raster, block_size=4), quick_statistics(raster)):
        assert (found.n_valid, found.bands[0].mean, found.bands[0].maximum) == (0, None, None)


def test_quick_statistics_say_that_they_are() -> None:
    raster = random_raster(1200, 1200, invalid_share=0)
    found = quick_statistics(raster)
    assert not found.exact and 2**19 < found.n_pixels <= 2**20
    assert found.bands[0].mean == pytest.approx(raster.values[0].mean(), rel=2e-3)
    small = quick_statistics(random_raster(40, 40))
    assert small.exact and small.n_pixels == 1600


def test_one_pixel_has_no_spread() -> None:
    """Not a spread of nought, which would be a certainty."""
    (band, *_) = quick_statistics(random_raster(1, 1, invalid_share=0)).bands
    assert band.standard_deviation is None and band.minimum == band.mean


def test_histogram_as_numpy_has_it() -> None:
    values = np.random.default_rng(0).normal(0, 1, 5000).astype(np.float32)
    found = histogram_of(values, 32, -1, 2)
    assert list(found.counts) == np.histogram(values, 32, (-1, 2))[0].tolist()
    assert sum(found.counts) + found.n_below + found.n_above == 5000
    own = histogram_of(values, 32, None, None)
    assert (own.low, own.high) == pytest.approx(tuple(np.percentile(values, [0.05, 99.95])))


def test_histogram_of_one_value_and_of_none() -> None:
    one = histogram_of(np.full(9, 3.0, np.float32), 4, None, None)
    assert (one.low, one.high, sum(one.counts)) == (2.5, 3.5, 9)
    assert histogram_of(np.empty(0, np.float32), 4, None, None).n_valid == 0


BASE = metric_grid(100, 200)


@pytest.mark.parametrize(
    ("other", "aspects", "words"),
    [
        (BASE, [], ""),
        (replace(BASE, crs="EPSG:32624"), ["coordinate system"], "UTM zone 24N"),
        (replace(BASE, transform=BASE.transform @ Affine.scale(2), height=50, width=100),
         ["pixel size"], "10 metre, B of 20 metre"),
        (replace(BASE, transform=BASE.transform @ Affine.translation(0.4, 0)),
         ["alignment", "extent"], "0.40 pixels across and 0.00 pixels down"),
        (replace(BASE, transform=BASE.transform @ Affine.translation(10, 0)), ["extent"],
         "1,900 × 1,000 metre in both"),
        (replace(BASE, transform=BASE.transform @ Affine.translation(900, 0)), ["extent"],
         "no ground in common"),
    ],
)  # fmt: skip
def test_each_difference_of_two_grids_is_named(other: Grid, aspects: list[str], words: str) -> None:
    found = compare_grids(BASE, other, "A", "B")
    assert [d.aspect for d in found] == aspects
    assert words in " ".join(d.sentence for d in found)


def test_coordinate_systems_by_code_and_by_words() -> None:
    assert search_crs("32625")[0].name == "WGS 84 / UTM zone 25N"
    assert search_crs("epsg:4326")[0].code == "EPSG:4326"
    assert any(e.code == "EPSG:3035" for e in search_crs("etrs laea europe"))
    assert search_crs("") == [] and search_crs("no such place anywhere") == []


@pytest.mark.parametrize("code", ["EPSG:1", "nonsense", "EPSG:5773", ""])
def test_what_is_no_system_for_maps(code: str) -> None:
    with pytest.raises(BadSettingsError):
        require_crs(code)
    assert require_crs(" epsg:32625 ") == "EPSG:32625"
