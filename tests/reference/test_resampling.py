"""Resampling and projection against rasterio's own warping (GDAL) and pyproj."""

from dataclasses import replace

import numpy as np
import pytest
import rasterio.warp
from affine import Affine
from pyproj import Transformer
from rasterio.enums import Resampling as Gdal

from kitesort.core.geometry import area_ha, reproject_geometry, reproject_point
from kitesort.core.raster.resample import Resampling
from kitesort.core.raster.warp import WarpedRaster, map_places, suggest_grid
from support.arrays import random_raster
from support.small_scene import rectangle

INSIDE = (slice(6, -6), slice(6, -6))


def warped_by_gdal(source, target, resampling):  # type: ignore[no-untyped-def]
    out = np.full((source.values.shape[0], target.height, target.width), np.nan, np.float32)
    rasterio.warp.reproject(
        source.values, out, src_transform=source.grid.transform, src_crs=source.grid.crs,
        dst_transform=target.transform, dst_crs=target.crs, resampling=resampling,
        dst_nodata=np.nan,
    )  # fmt: skip
    return out


@pytest.mark.parametrize(
    ("resampling", "gdal"),
    [("nearest", Gdal.nearest), ("bilinear", Gdal.bilinear), ("cubic", Gdal.cubic)],
)
def test_finer_pixels_as_rasterio_makes_them(resampling: Resampling, gdal: Gdal) -> None:
    source = random_raster(40, 50, invalid_share=0)
    target = replace(
        source.grid, transform=source.grid.transform @ Affine(0.4, 0, 2.2, 0, 0.4, 3.1),
        height=80, width=100,
    )  # fmt: skip
    ours = WarpedRaster(source, target, resampling).read(target.whole)
    theirs = warped_by_gdal(source, target, gdal)
    assert ours.valid.all()
    assert ours.values == pytest.approx(theirs, abs=2e-6)


def test_coarser_pixels_as_rasterio_averages_them() -> None:
    source = random_raster(60, 60, invalid_share=0)
    target = replace(
        source.grid, transform=source.grid.transform @ Affine.scale(2.5), height=24, width=24
    )
    ours = WarpedRaster(source, target, "average").read(target.whole)
    assert ours.values == pytest.approx(warped_by_gdal(source, target, Gdal.average), abs=1e-6)


def test_nearest_into_another_system_as_rasterio_does_it() -> None:
    """GDAL interpolates places to an eighth of a pixel, so that a few neighbours may differ."""
    source = random_raster(150, 150, invalid_share=0)
    target = suggest_grid(source.grid, "EPSG:32624")
    ours = WarpedRaster(source, target).read(target.whole)
    theirs = warped_by_gdal(source, target, Gdal.nearest)
    both = ours.valid & ~np.isnan(theirs[0])
    assert both.mean() > 0.75
    assert (ours.values == theirs)[:, both].mean() > 0.97


def test_places_are_where_pyproj_says() -> None:
    """The lattice that projection is interpolated on is exact to a thousandth of a pixel."""
    source = random_raster(300, 300, 1)
    target = suggest_grid(source.grid, "EPSG:4326")
    row_at, col_at = map_places(target, source.grid, target.whole, (target.height, target.width))
    rows, cols = np.mgrid[0 : target.height, 0 : target.width] + 0.5
    lon, lat = target.transform @ (cols.ravel(), rows.ravel())
    x, y = Transformer.from_crs("EPSG:4326", source.grid.crs, always_xy=True).transform(lon, lat)
    col, row = ~source.grid.transform @ (x, y)
    assert np.abs(row_at.ravel() - row).max() < 1e-3
    assert np.abs(col_at.ravel() - col).max() < 1e-3


def test_outlines_and_points_go_there_and_back() -> None:
    for shape in (rectangle(10, 10, 40, 60), rectangle(10, 10, 4_000, 6_000)):
        there = reproject_geometry(shape, "EPSG:32625", "EPSG:4326")
        area = pytest.approx(area_ha(shape, "EPSG:32625"), rel=2e-3)
        assert area_ha(there, "EPSG:4326") == area
    assert len(there["coordinates"][0]) > 40, "long edges are bent"
    x, y = reproject_point(*reproject_point(400_100, 4_999_000, "EPSG:32625", "EPSG:3035"),
                           "EPSG:3035", "EPSG:32625")  # fmt: skip
    assert (x, y) == pytest.approx((400_100, 4_999_000), abs=1e-3)
