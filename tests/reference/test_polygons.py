"""Polygons of class maps: against rasterio's shapes, SciPy's labels, shapely and pyproj; topology
by planar subdivision: areas add up, nothing overlaps, every border is shared."""

from pathlib import Path
from typing import Any

import numpy as np
import pyogrio
import pytest
import rasterio.features
import shapely
from pyproj import Geod, Transformer
from scipy import ndimage

from kitesort.core.engine import UNWATCHED, Watch
from kitesort.core.errors import CancelledError, GridMismatchError, InputError
from kitesort.core.objects import polygons as room
from kitesort.core.objects.polygon_file import Form, write_polygons
from kitesort.core.objects.polygons import MeanOf, Polygons, to_polygons
from support.arrays import ArrayRaster
from support.code_maps import LEGEND, Codes, make_codes, make_scene, raster_of

PIXEL = 100.0  # square metres


def smooth_codes(seed: int, side: int = 150, spread: float = 2.5) -> Codes:
    """Fields with curved borders, unclassified and no data among them."""
    rng = np.random.default_rng(seed)
    heights = [ndimage.gaussian_filter(rng.normal(size=(side, side)), spread) for _ in range(6)]
    return np.array([1, 2, 4, 7, 255, 0], np.uint16)[np.argmax(heights, axis=0)]


def polygons_of(codes: Codes, tolerance_m: float) -> Polygons:
    return to_polygons(raster_of(codes), tolerance_m, UNWATCHED)


def edges_of(found: Polygons) -> tuple[np.ndarray, np.ndarray]:
    """Every edge of every ring once per side, ends in one order; how often it is there."""
    rings = shapely.get_rings(found.shapes)
    pairs = []
    for ring in rings:
        corners = shapely.get_coordinates(ring)
        ends = np.concatenate([corners[:-1], corners[1:]], axis=1)
        turned = (ends[:, 0] > ends[:, 2]) | (
            (ends[:, 0] == ends[:, 2]) & (ends[:, 1] > ends[:, 3])
        )
        ends[turned] = ends[turned][:, [2, 3, 0, 1]]
        pairs.append(ends)
    edges, counts = np.unique(np.concatenate(pairs), axis=0, return_counts=True)
    return edges, counts


def require_partition(found: Polygons) -> None:
    """Valid shapes whose areas add up to their union's; an edge has one side or two, and those with
    one are the border of the whole."""
    assert shapely.is_valid(found.shapes).all()
    union = shapely.union_all(found.shapes)
    assert shapely.area(found.shapes).sum() == pytest.approx(union.area, rel=1e-12)
    edges, counts = edges_of(found)
    assert counts.max() <= 2
    alone = edges[counts == 1]
    length = np.hypot(alone[:, 0] - alone[:, 2], alone[:, 1] - alone[:, 3]).sum()
    assert length == pytest.approx(union.length, rel=1e-9)


def in_order(shapes: list[tuple[Any, Any]]) -> list[tuple[Any, Any]]:
    return sorted(shapes, key=lambda one: (int(one[0]), *one[1].bounds, one[1].area))


@pytest.mark.parametrize("make", [make_codes, smooth_codes])
def test_every_corner_kept_is_what_rasterio_finds(make) -> None:  # type: ignore[no-untyped-def]
    codes = make(1)
    found, grid = polygons_of(codes, 0), raster_of(codes).grid
    theirs = rasterio.features.shapes(codes, codes > 0, transform=grid.transform)
    want = in_order([(code, shapely.geometry.shape(one)) for one, code in theirs])
    got = in_order(list(zip(found.codes, found.shapes, strict=True)))
    assert len(got) == len(want)
    for one, other in zip(got, want, strict=True):
        assert one[0] == other[0] and shapely.equals(one[1], other[1])
    assert np.array_equal(shapely.area(found.shapes), PIXEL * found.n_pixels)
    require_partition(found)


@pytest.mark.parametrize("tolerance_m", [10, 25, 80, 1000])
@pytest.mark.parametrize("make", [make_codes, smooth_codes])
def test_simplified_shapes_leave_no_gap_and_do_not_overlap(make, tolerance_m: float) -> None:  # type: ignore[no-untyped-def]
    for seed in (2, 3):
        codes = make(seed)
        full, found = polygons_of(codes, 0), polygons_of(codes, tolerance_m)
        require_partition(found)
        assert np.array_equal(found.n_pixels, full.n_pixels)
        corners = [shapely.get_num_coordinates(one.shapes).sum() for one in (full, found)]
        assert corners[1] < 0.95 * corners[0]
        for code in np.unique(found.codes):
            area = shapely.area(found.shapes[found.codes == code]).sum()
            assert area == pytest.approx(PIXEL * (codes == code).sum(), rel=0.005)


def test_who_lies_beside_whom_stays() -> None:
    """Borders may become straight; patches that shared one still do."""
    codes = smooth_codes(4)
    full, found = polygons_of(codes, 0), polygons_of(codes, 30)
    assert neighbours(full) == neighbours(found)


def neighbours(found: Polygons) -> set[tuple[int, int]]:
    tree = shapely.STRtree(found.shapes)
    a, b = tree.query(found.shapes, predicate="touches")
    shared = shapely.length(shapely.intersection(found.shapes[a], found.shapes[b])) > 0
    return set(zip(a[shared].tolist(), b[shared].tolist(), strict=True))


def test_a_straight_border_across_pixels_becomes_one_edge() -> None:
    """A border at 45 degrees: stairs of one pixel go at a tolerance of one pixel, on balance
    through their middle."""
    codes = np.where(np.add.outer(np.arange(60), np.arange(60)) < 60, 1, 2).astype(np.uint16)
    found = polygons_of(codes, 10)
    assert shapely.get_num_coordinates(found.shapes).sum() < 16
    areas = shapely.area(found.shapes)
    assert areas == pytest.approx(PIXEL * found.n_pixels, rel=0.002)


def test_a_patch_that_touches_itself_at_a_corner_is_valid() -> None:
    codes = np.full((7, 7), 2, np.uint16)
    codes[1:5, 1:5] = 1
    codes[2:4, 2:4] = 2
    codes[1, 1] = 2  # opens the ring of ones at a corner
    codes[5, 5] = 1
    found = polygons_of(codes, 0)
    require_partition(found)
    labels = sum(int(ndimage.label(codes == code)[1]) for code in (1, 2))
    assert len(found.shapes) == labels


def test_measures_lie_on_the_ellipsoid() -> None:
    codes = smooth_codes(5, 60)
    found = polygons_of(codes, 15)
    degrees = Transformer.from_crs("EPSG:32625", "EPSG:4326", always_xy=True)
    geod = Geod(ellps="WGS84")
    for i in range(0, len(found.shapes), 7):
        there = shapely.transform(
            found.shapes[i], lambda xy: np.stack(degrees.transform(*xy.T), axis=1)
        )
        area, length = geod.geometry_area_perimeter(there)
        assert found.area_ha[i] == pytest.approx(area / 1e4, rel=1e-7)
        assert found.perimeter_m[i] == pytest.approx(length, rel=1e-9)


def test_means_of_a_layer_as_scipy() -> None:
    codes = make_codes(6)
    scene = make_scene(codes.shape)
    found = to_polygons(raster_of(codes), 0, UNWATCHED, MeanOf(scene, "nir"))
    labels, n = np.zeros(codes.shape, int), 0
    for code in np.unique(codes[codes > 0]):
        here, m = ndimage.label(codes == code)
        labels[here > 0] = here[here > 0] + n
        n += m
    nir = np.where(scene.valid, scene.values[1], np.nan).astype(np.float64)
    valid = scene.valid & (labels > 0)
    with np.errstate(invalid="ignore"):
        means = ndimage.mean(nir[valid], labels[valid], np.arange(1, n + 1))
    assert found.mean is not None
    got, want = np.sort(found.mean), np.sort(means)
    assert np.allclose(got, want, equal_nan=True) and len(got) == n


@pytest.mark.parametrize("form", ["gpkg", "geojson"])
def test_files_tell_the_same(tmp_path: Path, form: Form) -> None:
    codes = smooth_codes(7, 60)
    found = to_polygons(raster_of(codes), 20, UNWATCHED, MeanOf(make_scene(codes.shape), "red"))
    path = tmp_path / f"classes.{form}"
    write_polygons(found, LEGEND, path, form, "red")
    assert [p.name for p in tmp_path.iterdir()] == [path.name]
    meta, _, wkb, columns = pyogrio.raw.read(path)
    told = dict(zip(meta["fields"], columns, strict=True))
    assert list(told["class"][:3]) == [
        next(e.name for e in LEGEND if e.code == code) for code in found.codes[:3]
    ]
    assert np.array_equal(told["pixels"], found.n_pixels)
    assert np.allclose(told["area_ha"], found.area_ha) and np.allclose(
        told["mean_red"], found.mean, equal_nan=True
    )
    shapes = shapely.from_wkb(wkb)
    if form == "gpkg":
        assert meta["crs"] == "EPSG:32625" and shapely.equals_exact(shapes, found.shapes).all()
        return
    assert np.abs(shapely.get_coordinates(shapes)).max() <= 180
    assert shapely.is_ccw(shapely.get_exterior_ring(shapes)).all(), "as RFC 7946 wants it"
    union = shapely.union_all(shapes)
    assert shapely.area(shapes).sum() == pytest.approx(union.area, rel=1e-9)


def test_what_cannot_be_done_is_said(monkeypatch: pytest.MonkeyPatch) -> None:
    codes = make_codes(8)
    with pytest.raises(CancelledError):
        to_polygons(raster_of(codes), 0, Watch(is_cancelled=lambda: True))
    smaller = make_scene((10, 10))
    with pytest.raises(GridMismatchError):
        to_polygons(raster_of(codes), 0, UNWATCHED, MeanOf(smaller, "red"))
    monkeypatch.setattr(room, "MOST_PATCHES", 10)
    with pytest.raises(InputError, match="Sieve or smooth it first"):
        polygons_of(codes, 0)
    monkeypatch.setattr(room, "MOST_PIXELS", 100)
    with pytest.raises(InputError, match="Crop it into parts"):
        polygons_of(codes, 0)


def test_a_map_without_data_has_no_polygons() -> None:
    found = polygons_of(np.zeros((9, 9), np.uint16), 10)
    assert len(found.shapes) == 0 and isinstance(make_scene((2, 2)), ArrayRaster)
