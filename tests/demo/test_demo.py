"""The generated study is what the product says it is, and the same every time."""

import json
from contextlib import suppress
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import rasterio
from scipy import ndimage
from shapely.geometry import Point, shape

from kitesort.core.delivery import open_delivery, read_delivery
from kitesort.core.errors import NoValidPixelsError
from kitesort.core.grid import Window
from kitesort.core.group_statistics import ClassStatistics, compute_statistics
from kitesort.core.outline import parse_site
from kitesort.core.site_pixels import site_mask, site_pixels
from kitesort.core.training.separability import jeffries_matusita
from kitesort.demo.cover import BARLEY, BUILT, MARSH, MUD, PASTURE, SHINGLE, WATER
from kitesort.demo.generate import COVERS, PLANS, SEED, DemoStudy
from kitesort.demo.ground import make_ground
from kitesort.demo.noise import power_law_noise
from kitesort.demo.samples import coarse_truth
from kitesort.demo.scene import ground_cover, make_landscape

KEYS = [plan.taken.key for plan in PLANS]


def features(demo: DemoStudy, name: str) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = json.loads((demo.folder / name).read_text())["features"]
    return found


def test_four_dates_of_eight_bands_in_files_of_their_own(demo: DemoStudy) -> None:
    assert KEYS == ["earlier", "spring", "summer", "autumn"]
    for key in KEYS:
        scene = read_delivery(demo.metadata[key])
        assert len(scene.bands) == 8
        assert len({band.file for band in scene.bands}) == 8
        assert {band.pixel_size for band in scene.bands} == {10, 20, 60}
        for band in scene.bands:
            with rasterio.open(Path(scene.folder) / band.file) as dataset:
                assert dataset.dtypes == ("uint16",)
                assert dataset.res == (band.pixel_size, band.pixel_size)
                assert bool(dataset.overviews(1)) == (band.pixel_size < 60)


def test_it_lies_in_the_open_ocean(demo: DemoStudy) -> None:
    """46° north, 34° west: mid-Atlantic, a thousand kilometres from any land."""
    with rasterio.open(demo.folder / "reference_photo.tif") as dataset:
        assert dataset.crs.to_epsg() == 32625
        lon, lat = rasterio.warp.transform(dataset.crs, "EPSG:4326", [dataset.bounds.left],
                                           [dataset.bounds.top])  # fmt: skip
    assert (round(lon[0]), round(lat[0])) == (-34, 46)


@pytest.mark.parametrize("key", KEYS)
def test_each_date_has_fill_along_a_slanted_edge_and_some_cloud(demo: DemoStudy, key: str) -> None:
    scene = read_delivery(demo.metadata[key])
    raster = open_delivery(scene, ("fill",))
    imaged = raster.read(raster.grid.whole, ("red",)).valid
    first = imaged.argmax(axis=1)
    assert not imaged[0, 0]
    assert np.ptp(first) > 20, "the edge is slanted"
    usable = open_delivery(scene).read(raster.grid.whole, ("red",)).valid
    clouded = 1 - usable.sum() / imaged.sum()
    assert 0.005 < clouded < 0.12


def test_haze_differs_by_date_and_is_strongest_in_blue(demo: DemoStudy) -> None:
    def darkest(key: str, role: str) -> float:
        raster = open_delivery(read_delivery(demo.metadata[key]))
        block = raster.read(raster.grid.whole, (role,))
        return float(np.percentile(block.values[0][block.valid], 0.5))

    assert darkest("autumn", "blue") > darkest("summer", "blue") + 0.02
    assert darkest("autumn", "blue") - darkest("summer", "blue") > (
        darkest("autumn", "swir16") - darkest("summer", "swir16")
    )


def test_covers_are_all_there_in_patches_not_in_noise(demo: DemoStudy) -> None:
    assert set(np.unique(demo.truth)) == {code for code, _, _ in COVERS}
    same = demo.truth[:, 1:] == demo.truth[:, :-1]
    assert same.mean() > 0.9, "neighbours mostly share their cover"
    for code in (WATER, MUD, MARSH, PASTURE, BARLEY):
        _, n_patches = ndimage.label(demo.truth == code)
        assert (demo.truth == code).sum() / n_patches > 20


def class_statistics(
    demo: DemoStudy, key: str, code: int, roles: tuple[str, ...]
) -> ClassStatistics:
    """From the sites that are not bad on purpose."""
    raster = open_delivery(read_delivery(demo.metadata[key]))
    pixels = []
    for feature in features(demo, "training_sites.json"):
        if feature["properties"] == {"code": code, "note": ""}:
            with suppress(NoValidPixelsError):  # under cloud at this date
                pixels.append(site_pixels(raster, parse_site(feature["geometry"]), roles).values)
    return compute_statistics(np.concatenate(pixels))


@pytest.mark.parametrize(
    ("key", "roles", "codes", "hard"),
    [
        ("summer", ("blue", "green", "red", "nir"), (SHINGLE, BUILT), True),
        ("summer", ("blue", "green", "red", "nir", "swir16", "swir22"), (SHINGLE, BUILT), False),
        ("spring", ("blue", "green", "red", "nir", "swir16"), (PASTURE, BARLEY), True),
        ("summer", ("blue", "green", "red", "nir", "swir16"), (PASTURE, BARLEY), False),
    ],
)
def test_pairs_are_hard_until_the_right_band_or_date_is_there(
    demo: DemoStudy, key: str, roles: tuple[str, ...], codes: tuple[int, int], hard: bool
) -> None:
    """Below 1.7 is poor, 1.9 and more is good: common practice."""
    a, b = (class_statistics(demo, key, code, roles) for code in codes)
    value = jeffries_matusita(a, b)
    assert value < 1.7 if hard else value > 1.9


def test_sites_hold_what_they_say_but_for_the_bad_ones(demo: DemoStudy) -> None:
    raster = open_delivery(read_delivery(demo.metadata["summer"]))
    shares = []
    for feature in features(demo, "training_sites.json"):
        window, inside = site_mask(parse_site(feature["geometry"]), raster.grid)
        right = demo.truth[window.slices][inside] == feature["properties"]["code"]
        shares.append(right.mean())
    bad = [share for share in shares if share < 0.9]
    assert 1 <= len(bad) <= 4, "some are bad on purpose"
    assert len(shares) - len(bad) > 35


def test_a_site_lies_under_cloud_and_another_has_few_pixels(demo: DemoStudy) -> None:
    raster = open_delivery(read_delivery(demo.metadata["summer"]))
    valid_counts: dict[int, int] = {}
    clouded = 0
    for feature in features(demo, "training_sites.json"):
        window, inside = site_mask(parse_site(feature["geometry"]), raster.grid)
        n_valid = int((raster.read(window, ("red",)).valid & inside).sum())
        clouded += n_valid < inside.sum()
        code = feature["properties"]["code"]
        valid_counts[code] = valid_counts.get(code, 0) + n_valid
    assert clouded >= 1
    assert min(valid_counts.values()) < 70, "one class falls short of ten pixels per band"


def test_points_keep_away_from_sites_and_tell_the_truth(demo: DemoStudy) -> None:
    raster = open_delivery(read_delivery(demo.metadata["summer"]))
    sites = [shape(f["geometry"]).buffer(15) for f in features(demo, "training_sites.json")]
    points = features(demo, "reference_points.json")
    assert len(points) >= 200
    for feature in points:
        point = Point(feature["geometry"]["coordinates"])
        assert not any(site.contains(point) for site in sites)
        at = raster.grid.pixel_at(point.x, point.y)
        assert at is not None
        assert demo.truth[at] == feature["properties"]["code"]


def test_the_earlier_date_shows_farmland_where_the_flat_is_now(demo: DemoStudy) -> None:
    """Vegetated then, bare or wet now, inside the boundary of the reclaimed land."""

    def nir_over_red(key: str) -> np.ndarray:
        raster = open_delivery(read_delivery(demo.metadata[key]), ())
        nir, red = raster.read(Window(200, 260, 300, 130), ("nir", "red")).values
        return np.asarray((nir - red) / (nir + red))

    then, now = nir_over_red("earlier"), nir_over_red("summer")
    assert ((then > 0.35) & (now < 0.2)).mean() > 0.15
    assert ((now > 0.35) & (then < 0.2)).mean() < 0.05


def test_series_has_a_year_of_images_and_a_boundary_in_degrees(demo: DemoStudy) -> None:
    """23 images of 16 days: common practice."""
    series = sorted((demo.folder / "series").glob("*.tif"))
    assert len(series) == 23
    with rasterio.open(series[10]) as dataset:
        values = dataset.read(1) * 0.0001
    assert values.min() >= -0.2
    assert values.max() > 0.6
    (boundary,) = features(demo, "boundary.geojson")
    assert shape(boundary["geometry"]).is_valid
    assert abs(shape(boundary["geometry"]).centroid.y - 46) < 1


def test_same_seed_same_landscape(demo: DemoStudy) -> None:
    """The cover made anew is that of the files, which another process made."""
    summer = next(plan for plan in PLANS if plan.taken.key == "summer")
    again = make_landscape(SEED)
    assert np.array_equal(coarse_truth(ground_cover(again, summer.moment)), demo.truth)
    other = make_ground(np.random.default_rng(SEED + 1))
    assert not np.array_equal(again.ground.height_m, other.height_m)


def test_noise_has_the_roughness_asked_for() -> None:
    """A steeper spectrum is smoother: neighbours differ less at equal variance."""

    def step(slope: float) -> float:
        field = power_law_noise((256, 256), slope, np.random.default_rng(0))
        return float(np.abs(np.diff(field, axis=1)).mean() / field.std())

    assert step(0.5) > step(1.5) > step(2.5)
