"""Readings of the demo scene against rasterio and NumPy on the delivered files themselves."""

from pathlib import Path

import numpy as np
import pytest
import rasterio
from pyproj import Geod
from rasterio.features import geometry_mask
from shapely import contains_xy
from shapely.geometry import Polygon, box, mapping

from kitesort.core.cloud import in_cloud, parse_cloud
from kitesort.core.delivery import DeliveredScene, open_delivery, read_delivery
from kitesort.core.display.feature_space import (
    class_ellipse,
    compute_density,
    usual_axis,
)
from kitesort.core.display.profile import place_along, read_places
from kitesort.core.display.stretch import Stretch, make_curves
from kitesort.core.raster.joined import join_plane
from kitesort.core.raster.protocol import Raster
from kitesort.core.raster.region import read_region
from kitesort.core.statistics import histogram_of
from kitesort.demo.delivery import ORIGIN
from kitesort.demo.generate import DemoStudy

EAST, NORTH = ORIGIN


@pytest.fixture(scope="module")
def delivered(demo: DemoStudy) -> DeliveredScene:
    return read_delivery(demo.metadata["summer"])


@pytest.fixture(scope="module")
def raster(delivered: DeliveredScene) -> Raster:
    return open_delivery(delivered)


def band_file(scene: DeliveredScene, role: str) -> tuple[Path, float, float]:
    """The file of a band, and the factors that make reflectance of its numbers."""
    band = next(b for b in scene.bands if b.role == role)
    assert scene.sun_elevation_deg is not None
    sine = float(np.sin(np.deg2rad(scene.sun_elevation_deg)))
    return Path(scene.folder) / band.file, band.gain / sine, band.offset / sine


def reflectance(scene: DeliveredScene, role: str) -> np.ndarray:
    path, gain, offset = band_file(scene, role)
    with rasterio.open(path) as dataset:
        return dataset.read(1) * gain + offset


@pytest.mark.parametrize(
    ("start", "end"),
    [
        ((4005, -3005), (6995, -3005)),
        ((4005, -1005), (4005, -6005)),
        ((3003, -1007), (7771, -5209)),
    ],
)
def test_line_reads_what_rasterio_samples(
    delivered: DeliveredScene, raster: Raster, start: tuple[int, int], end: tuple[int, int]
) -> None:
    """Source: rasterio, DatasetReader.sample (the pixel that holds each place)."""
    ends = [(EAST + start[0], NORTH + start[1]), (EAST + end[0], NORTH + end[1])]
    places = place_along(ends, raster.grid.crs, 10)
    values = read_places(raster, places.x, places.y, ("red", "nir"))
    for got, role in zip(values, ("red", "nir"), strict=True):
        path, gain, offset = band_file(delivered, role)
        with rasterio.open(path) as dataset:
            sampled = np.array([v[0] for v in dataset.sample(zip(places.x, places.y, strict=True))])
        there = ~np.isnan(got)
        assert there.mean() > 0.9
        assert got[there] == pytest.approx(sampled[there] * gain + offset, abs=1e-5)


def test_lengths_are_those_of_the_ellipsoid_in_degrees() -> None:
    """Source: pyproj, Geod.line_length on WGS 84."""
    places = place_along([(10, 50), (10.5, 50.25)], "EPSG:4326", 0.001)
    expected = Geod(ellps="WGS84").line_length(places.x, places.y)
    assert places.distance_m[-1] == pytest.approx(expected, rel=1e-9)


@pytest.mark.parametrize(
    "outline",
    [
        box(EAST + 4000, NORTH - 3500, EAST + 5200, NORTH - 2400),
        Polygon([(EAST + 5003, NORTH - 2007), (EAST + 6511, NORTH - 2303),
                 (EAST + 5702, NORTH - 3611), (EAST + 4406, NORTH - 3208)]),
    ],
)  # fmt: skip
def test_region_is_every_pixel_whose_centre_shapely_finds_inside(
    delivered: DeliveredScene, raster: Raster, outline: Polygon
) -> None:
    """Source: shapely.contains_xy on the centres of the delivered file's own pixels."""
    found = read_region(raster, outline, ("nir",))
    path, _, _ = band_file(delivered, "nir")
    with rasterio.open(path) as dataset:
        west, north, size = dataset.transform.c, dataset.transform.f, dataset.transform.a
        rows, columns = np.mgrid[: dataset.height, : dataset.width]
    inside = contains_xy(outline, west + (columns + 0.5) * size, north - (rows + 0.5) * size)
    assert found.exact and found.n_covered == int(inside.sum())
    use = inside & raster.read(raster.grid.whole, ("nir",)).valid
    assert found.n_valid == int(use.sum())
    assert found.values[0] == pytest.approx(reflectance(delivered, "nir")[use], abs=1e-5)


def test_density_of_the_whole_scene_is_that_of_numpy(
    delivered: DeliveredScene, raster: Raster
) -> None:
    """Source: numpy.histogram2d on the delivered numbers where all bands are usable."""
    whole = read_region(raster, None, ("red", "nir"))
    assert whole.exact
    x, y = whole.values
    found = compute_density(x, y, 64)
    valid = raster.read(raster.grid.whole, ("red", "nir")).valid
    red, nir = (reflectance(delivered, role)[valid].astype(np.float32) for role in ("red", "nir"))
    expected, _, _ = np.histogram2d(
        nir, red, 64, [(found.y.low, found.y.high), (found.x.low, found.x.high)]
    )
    # A pixel on the border of two cells may fall into either by the last bit.
    assert np.abs(found.counts - expected).sum() < 0.002 * found.n_valid
    assert found.n_valid == int(valid.sum())


def test_cloud_around_a_class_holds_most_of_it(raster: Raster, demo: DemoStudy) -> None:
    """Common practice (no source): green crops and grass lie low in red and high in near infrared,
    water low in both."""
    block = raster.read(raster.grid.whole, ("red", "nir"))
    red, nir = block.values
    inside = in_cloud(parse_cloud("0 0.25, 0.1 0.25, 0.1 0.7, 0 0.7"), red, nir) & block.valid
    share = {
        code: float(inside[(demo.truth == code) & block.valid].mean()) for code in (1, 2, 5, 7)
    }
    assert share[5] > 0.9, "pasture"
    assert share[1] < 0.01 and share[2] < 0.02, "water and mud"
    assert share[7] < share[5], "conifers are darker than pasture"


def test_ellipse_is_the_covariance_of_numpy(raster: Raster, demo: DemoStudy) -> None:
    """Source: numpy.cov and numpy.linalg.eigvalsh on the pixels of a cover."""
    block = raster.read(raster.grid.whole, ("red", "nir"))
    pixels = block.values[:, (demo.truth == 5) & block.valid].astype(np.float64)
    found = class_ellipse(pixels.mean(axis=1), np.cov(pixels), 1)
    short, long = np.sqrt(np.linalg.eigvalsh(np.cov(pixels)))
    assert (found.long, found.short) == pytest.approx((long, short))
    turn = np.radians(found.angle_deg)
    along = pixels[0] * np.cos(turn) + pixels[1] * np.sin(turn)
    assert along.std(ddof=1) == pytest.approx(found.long), "the longer axis is that of most spread"


@pytest.mark.parametrize("role", ["blue", "nir", "swir22"])
def test_stretch_of_a_band_is_that_of_numpy(raster: Raster, role: str) -> None:
    """Source: numpy.percentile, mean and std on the usable pixels."""
    values = read_region(raster, None, (role,)).values[0]
    precise = values.astype(np.float64)
    (curve,) = make_curves([values], Stretch(low=1, high=97))
    assert (curve.limits.low, curve.limits.high) == pytest.approx(
        tuple(np.percentile(precise, [1, 97])), abs=1e-6
    )
    (spread,) = make_curves([values], Stretch(kind="deviations", deviations=2.5))
    reach = 2.5 * precise.std()
    assert spread.limits.low == pytest.approx(precise.mean() - reach, abs=1e-6)
    assert spread.limits.high == pytest.approx(precise.mean() + reach, abs=1e-6)


def test_histogram_holds_every_pixel(raster: Raster) -> None:
    values = read_region(raster, None, ("green",)).values[0]
    found = histogram_of(values, 100, None, None)
    assert sum(found.counts) + found.n_below + found.n_above == found.n_valid == values.size
    assert (found.n_below + found.n_above) / values.size == pytest.approx(0.001, abs=2e-4)


def test_plane_reads_the_same_as_the_scene(raster: Raster) -> None:
    plane = join_plane(raster, "red", raster, "nir")
    window = raster.grid.window_of_bounds((EAST + 4000, NORTH - 3000, EAST + 4600, NORTH - 2600))
    assert window is not None
    got, expected = plane.read(window), raster.read(window, ("red", "nir"))
    assert np.array_equal(got.values, expected.values, equal_nan=True)
    assert np.array_equal(got.valid, expected.valid)
    axis = usual_axis(got.values[0][got.valid])
    assert axis.low < got.values[0][got.valid].min() + 0.01


def test_outline_over_the_slanted_edge_counts_no_fill(raster: Raster) -> None:
    """The scene's left edge is fill: it is covered by the outline, and is no value."""
    outline = box(EAST, NORTH - 3000, EAST + 2500, NORTH - 1000)
    found = read_region(raster, outline, ("nir",))
    grid = raster.grid
    inside = geometry_mask(
        [mapping(outline)], (grid.height, grid.width), grid.transform, invert=True
    )
    assert found.n_covered == int(inside.sum())
    valid = raster.read(grid.whole, ("nir",)).valid
    assert found.n_valid == int((inside & valid).sum()) < found.n_covered
