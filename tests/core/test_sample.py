"""What becomes a number reads native pixels, never overviews; all, or windows spread evenly."""

from pathlib import Path

import numpy as np
import numpy.typing as npt
import pytest
import rasterio
from affine import Affine
from shapely.geometry import LineString, box

from kitesort.core.bands import Band
from kitesort.core.correct.methods._paired_sample import paired_values
from kitesort.core.correct.methods.dark_object import find_dark_values
from kitesort.core.correct.methods.match_histogram import quantile_table
from kitesort.core.derive.methods._moments import band_moments
from kitesort.core.engine import Watch
from kitesort.core.raster.file import FileRaster
from kitesort.core.raster.region import read_region
from kitesort.core.raster.sample import MOST_PIXELS, plan_sample, sample_pixels
from kitesort.core.statistics import quick_statistics
from support.arrays import metric_grid, random_raster

SIDE = 3000
MEAN, SPREAD = 0.3, 0.1


def write_noise(path: Path, seed: int) -> FileRaster:
    """White noise in a tiled file with overviews of averages, as many providers deliver."""
    rng = np.random.default_rng(seed)
    data = rng.normal(MEAN, SPREAD, (SIDE, SIDE)).astype(np.float32)
    profile = {
        "driver": "GTiff", "count": 1, "height": SIDE, "width": SIDE, "dtype": "float32",
        "crs": "EPSG:32625", "transform": Affine(10, 0, 400_000, 0, -10, 5_000_000),
        "tiled": True, "blockxsize": 256, "blockysize": 256,
    }  # fmt: skip
    with rasterio.open(path, "w", **profile) as dataset:
        dataset.write(data, 1)
        dataset.build_overviews([2, 4, 8], rasterio.enums.Resampling.average)
    return FileRaster(str(path), (Band("red"),))


@pytest.fixture(scope="module")
def noise(tmp_path_factory: pytest.TempPathFactory) -> FileRaster:
    return write_noise(tmp_path_factory.mktemp("noise") / "noise.tif", 1)


def test_spread_of_white_noise_is_told_as_it_is(noise: FileRaster) -> None:
    """Averages of 8 × 8 pixels would have an eighth of it."""
    (band,) = quick_statistics(noise).bands
    assert band.standard_deviation == pytest.approx(SPREAD, rel=0.01)
    assert band.mean == pytest.approx(MEAN, abs=0.002)
    moments = band_moments(noise, ("red",), "view", Watch())
    assert moments.standard_deviation[0] == pytest.approx(SPREAD, rel=0.01)


def test_foot_of_the_histogram_is_not_lifted(noise: FileRaster) -> None:
    foot = find_dark_values(noise, 0.1)["red"]
    assert foot == pytest.approx(MEAN - 3.090 * SPREAD, abs=0.01)  # normal quantile of 0.001


def test_quantiles_and_pairs_are_those_of_pixels(noise: FileRaster, tmp_path: Path) -> None:
    other = write_noise(tmp_path / "other.tif", 2)
    here, there = paired_values(noise, other, ("red",))
    assert here.std() == pytest.approx(SPREAD, rel=0.01)
    assert abs(np.corrcoef(here[0], there[0])[0, 1]) < 0.01, "each pixel beside its own"
    table = quantile_table(here[0], there[0])
    assert table[0][0] < MEAN - 4 * SPREAD and table[1][-1] > MEAN + 4 * SPREAD


def test_every_sampled_value_is_a_pixel_of_its_place(noise: FileRaster) -> None:
    with rasterio.open(noise.path) as dataset:
        whole = dataset.read(1)
    found = sample_pixels(noise)
    plan = plan_sample(noise.grid)
    wanted = np.concatenate([whole[window.slices].ravel() for window in plan.windows])
    assert np.array_equal(found.values[0], wanted, equal_nan=True)
    assert not found.exact and found.n_covered == wanted.size <= MOST_PIXELS


@pytest.mark.parametrize(("height", "width"), [(1024, 1024), (720, 960), (1, 1_000_000)])
def test_a_small_grid_is_read_whole(height: int, width: int) -> None:
    plan = plan_sample(metric_grid(height, width))
    assert plan.exact and [w.n_pixels for w in plan.windows] == [height * width]


@pytest.mark.parametrize(("height", "width"), [(7000, 7000), (10980, 1500), (1100, 90_000)])
def test_windows_are_spread_do_not_overlap_and_stay_inside(height: int, width: int) -> None:
    plan = plan_sample(metric_grid(height, width))
    seen = np.zeros((height, width), np.uint8)
    for window in plan.windows:
        assert window.row % 128 == 0 and window.col % 128 == 0
        seen[window.slices] += 1
    assert seen.max() == 1
    assert seen.sum() == sum(window.n_pixels for window in plan.windows), "all of it inside"
    quarters: list[npt.NDArray[np.uint8]] = [
        part for half in np.array_split(seen, 4) for part in np.array_split(half, 4, axis=1)
    ]
    assert all(part.any() for part in quarters)


def test_a_thin_area_of_a_large_scene_is_read_whole() -> None:
    """Windows spread over its bounds would hardly meet it."""
    raster = random_raster(2500, 2500, 1)
    strip = LineString([(400_100, 4_999_900), (424_900, 4_975_100)]).buffer(25)
    found = read_region(raster, strip, ("blue",))
    assert found.exact
    assert found.n_covered == pytest.approx(strip.area / 100, rel=0.02)


@pytest.mark.thorough
def test_an_area_is_sampled_inside_of_it_alone() -> None:
    raster = random_raster(2500, 2500, 1, invalid_share=0)
    half = box(400_000, 4_975_000, 412_500, 5_000_000)
    found = read_region(raster, half, ("blue",))
    assert not found.exact
    left = set(raster.values[0, :, :1250].ravel().tolist())
    assert left.issuperset(found.values[0, ::97].tolist())
