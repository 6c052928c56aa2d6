"""Areas, tiles and resampling against pyproj and rasterio."""

from pathlib import Path

import numpy as np
import pytest
import rasterio
from affine import Affine
from pyproj import Geod, Transformer
from rasterio.enums import Resampling
from rasterio.vrt import WarpedVRT

from kitesort.core.bands import RANGES_UM, Band, Role, available_composites
from kitesort.core.delivery import open_delivery, read_delivery
from kitesort.core.display.profile import place_along
from kitesort.core.geodesy import pixel_areas_ha, units_across_m
from kitesort.core.geometry import area_ha
from kitesort.core.grid import Grid, Window, parse_crs, unit_m
from kitesort.core.raster.file import FileRaster
from kitesort.core.raster.stack import StackRaster
from kitesort.demo.generate import DemoStudy
from support.small_scene import LEFT, TOP, write_band


@pytest.mark.parametrize("latitude", [-75.0, -10.0, 0.0, 45.0, 60.0])
def test_areas_in_degrees_are_those_of_the_ellipsoid(latitude: float) -> None:
    """Source: pyproj, Geod.polygon_area_perimeter on WGS 84 with edges cut into short pieces."""
    grid = Grid("EPSG:4326", Affine(0.1, 0, 5, 0, -0.1, latitude + 0.1), 1, 1)
    along = np.linspace(5, 5.1, 200)
    lons = np.concatenate([along, along[::-1]])
    lats = np.concatenate([np.full(200, latitude), np.full(200, latitude + 0.1)])
    expected = abs(Geod(ellps="WGS84").polygon_area_perimeter(lons, lats)[0]) / 1e4
    assert pixel_areas_ha(grid, grid.whole)[0, 0] == pytest.approx(expected, rel=1e-6)


def test_all_rows_of_the_globe_add_up_to_it() -> None:
    """Surface of the WGS 84 ellipsoid: 510 065 621.7 km² (from memory; see the closed form)."""
    a, f = 6_378_137.0, 1 / 298.257223563
    e = np.sqrt(f * (2 - f))
    surface = 2 * np.pi * a * a * (1 + (1 - e * e) / e * np.arctanh(e))
    assert surface / 1e6 == pytest.approx(510_065_621.7, rel=1e-9)
    grid = Grid("EPSG:4326", Affine(1, 0, -180, 0, -1, 90), 180, 360)
    total = pixel_areas_ha(grid, grid.whole).sum() * 1e4
    assert total == pytest.approx(surface, rel=1e-9)


@pytest.mark.parametrize("crs", ["EPSG:3857", "EPSG:32633", "EPSG:3035", "EPSG:2263", "EPSG:3413"])
def test_areas_in_a_plane_are_those_of_the_ellipsoid(crs: str) -> None:
    """Source: pyproj, Geod.polygon_area_perimeter of the pixels' own outlines in degrees, edges
    cut into short pieces; corners and middle of a scene of 100 km."""
    lon, lat = {"EPSG:2263": (-74.0, 40.7), "EPSG:3413": (-45.0, 71.0)}.get(crs, (14.0, 60.0))
    x, y = Transformer.from_crs("EPSG:4326", crs, always_xy=True).transform(lon, lat)
    pixel = 100.0 / unit_m(crs)
    grid = Grid(crs, Affine(pixel, 0, x, 0, -pixel, y), 1000, 1000)
    areas = pixel_areas_ha(grid, grid.whole)
    for row, col in ((0, 0), (0, 999), (999, 0), (999, 999), (507, 481)):
        side = np.linspace(0, 1, 20)[:-1]
        across = np.concatenate([side, np.ones(19), 1 - side, np.zeros(19)]) + col
        down = np.concatenate([np.zeros(19), side, np.ones(19), 1 - side]) + row
        to_degrees = Transformer.from_crs(crs, parse_crs(crs).geodetic_crs, always_xy=True)
        lons, lats = to_degrees.transform(x + pixel * across, y - pixel * down)
        expected = abs(parse_crs(crs).get_geod().polygon_area_perimeter(lons, lats)[0]) / 1e4
        assert areas[row, col] == pytest.approx(expected, rel=1e-6)
    part = Window(123, 456, 70, 90)
    assert np.allclose(pixel_areas_ha(grid, part), areas[part.slices], rtol=1e-12)


def test_web_mercator_at_sixty_degrees_is_a_quarter() -> None:
    """A hundred hectares of its plane are 25 on the ground (and a little more: the ellipsoid)."""
    x, y = Transformer.from_crs("EPSG:4326", "EPSG:3857", always_xy=True).transform(14.0, 60.0)
    grid = Grid("EPSG:3857", Affine(10, 0, x, 0, -10, y), 100, 100)
    assert pixel_areas_ha(grid, grid.whole).sum() == pytest.approx(25.1, abs=0.1)
    ring = [(x, y), (x + 1000, y), (x + 1000, y - 1000), (x, y - 1000), (x, y)]
    outline = {"type": "Polygon", "coordinates": [ring]}
    assert area_ha(outline, "EPSG:3857") == pytest.approx(25.1, abs=0.1)
    line = place_along([(x, y), (x + 1000, y)], "EPSG:3857", 10)
    assert line.distance_m[-1] == pytest.approx(501, abs=1)
    assert units_across_m(grid) == pytest.approx((0.501,) * 3, abs=1e-3)


@pytest.mark.parametrize("shift", [1.0, 4.0, 11.0])
def test_nearest_neighbour_as_rasterio_has_it(tmp_path: Path, shift: float) -> None:
    """15 m onto 10 m, no centre on an edge. Source: rasterio, WarpedVRT (nearest)."""
    data = np.random.default_rng(0).integers(1, 60_000, (40, 40)).astype(np.uint16)
    off = Affine(15, 0, LEFT + shift, 0, -15, TOP - shift)
    write_band(tmp_path / "x.tif", data, 15, transform=off, nodata=0)
    grid = Grid("EPSG:32625", Affine(10, 0, LEFT, 0, -10, TOP), 50, 50)
    coarse = FileRaster(str(tmp_path / "x.tif"), (Band("swir16"),))
    got = StackRaster(grid, (coarse,)).read(grid.whole)
    with (
        rasterio.open(tmp_path / "x.tif") as dataset,
        WarpedVRT(dataset, crs=grid.crs, transform=grid.transform, width=50, height=50,
                  resampling=Resampling.nearest) as warped,
    ):  # fmt: skip
        expected = warped.read(1)
    assert np.array_equal(got.valid, expected != 0)
    assert np.array_equal(got.values[0][got.valid], expected[got.valid])


def test_demo_reflectance_is_the_metadata_s_own_factors(demo: DemoStudy) -> None:
    """(gain × DN + offset) / sin(sun elevation); source: Landsat data users' handbooks."""
    scene = read_delivery(demo.metadata["summer"])
    window = Window(300, 400, 50, 60)
    got = open_delivery(scene, ()).read(window, ("nir",)).values[0]
    band = next(b for b in scene.bands if b.role == "nir")
    with rasterio.open(Path(scene.folder) / band.file) as dataset:
        numbers = dataset.read(1, window=rasterio.windows.Window(400, 300, 60, 50))
    sine = np.sin(np.deg2rad(scene.sun_elevation_deg))
    expected = (numbers * band.gain + band.offset) / sine
    assert got == pytest.approx(expected, rel=1e-5)


def test_demo_bands_lie_in_the_ranges_of_their_roles(demo: DemoStudy) -> None:
    """Source: STAC electro-optical extension, common band names (from memory)."""
    for band in read_delivery(demo.metadata["summer"]).bands:
        low, high = RANGES_UM[Role(band.role)]
        assert low <= band.wavelength_um <= high, band.role


def test_composites_are_offered_by_role_only() -> None:
    visible = {"red", "green", "blue"}
    assert [c.id for c in available_composites(visible)] == ["true-colour"]
    assert available_composites({"red", "nir"}) == []
    assert {c.id for c in available_composites(visible | {"nir"})} == {
        "true-colour", "near-infrared"
    }  # fmt: skip
