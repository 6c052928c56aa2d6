"""Regions, lines and feature space of small rasters whose answers can be worked out by hand."""

import numpy as np
import pytest
from affine import Affine
from shapely.geometry import box

from kitesort.core.cloud import in_cloud, parse_cloud
from kitesort.core.display.feature_space import (
    Axis,
    class_ellipse,
    compute_density,
    exact_density,
    fit_soil_line,
    usual_axis,
)
from kitesort.core.display.profile import MAX_SAMPLES, place_along, read_places
from kitesort.core.engine import Watch
from kitesort.core.errors import (
    BadSettingsError,
    CancelledError,
    NoValidPixelsError,
    OutsideSceneError,
)
from kitesort.core.grid import Grid
from kitesort.core.raster.joined import join_plane
from kitesort.core.raster.region import read_region
from kitesort.core.raster.window import PlacedRaster
from support.arrays import ArrayRaster, random_raster

LEFT, TOP = 400_000, 5_000_000


def ramp(height: int = 6, width: int = 8) -> ArrayRaster:
    """Band "red" holds the row, "nir" the column; the first column is not valid."""
    rows, columns = np.mgrid[:height, :width].astype(np.float32)
    return ArrayRaster(np.stack([rows, columns]), columns > 0, ("red", "nir"))


def test_region_is_what_lies_inside_the_outline() -> None:
    raster = ramp()
    whole = read_region(raster, None, ("nir",))
    assert (whole.n_covered, whole.n_valid, whole.exact) == (48, 42, True)
    part = read_region(raster, box(LEFT, TOP - 20, LEFT + 30, TOP), ("red", "nir"))
    assert (part.n_covered, part.n_valid) == (6, 4)
    assert part.values.tolist() == [[0, 0, 1, 1], [1, 2, 1, 2]]


def test_large_region_is_looked_at_coarsely_and_says_so() -> None:
    found = read_region(random_raster(64, 64), None, ("red",), most=16 * 16)
    assert not found.exact
    assert found.n_covered == 256


def test_region_that_is_not_there() -> None:
    with pytest.raises(OutsideSceneError, match="outside the scene"):
        read_region(ramp(), box(0, 0, 1, 1), ("red",))
    with pytest.raises(NoValidPixelsError, match="larger"):
        read_region(ramp(), box(LEFT + 1, TOP - 3, LEFT + 2, TOP - 2), ("red",))


def test_line_meets_the_pixels_under_it() -> None:
    raster = ramp()
    places = place_along([(LEFT + 15, TOP - 5), (LEFT + 75, TOP - 5)], raster.grid.crs, 10)
    assert places.distance_m == pytest.approx([0, 10, 20, 30, 40, 50, 60], rel=1e-3)
    values = read_places(raster, places.x, places.y, ("nir", "red"))
    assert values.tolist() == [[1, 2, 3, 4, 5, 6, 7], [0] * 7]


def test_line_is_broken_where_nothing_is_valid_or_the_scene_ends() -> None:
    places = place_along([(LEFT - 15, TOP - 25), (LEFT + 95, TOP - 25)], "EPSG:32625", 10)
    values = read_places(ramp(), places.x, places.y, ("nir",))[0]
    assert np.isnan(values[[0, 1, 2, 10, 11]]).all()
    assert values[3:10].tolist() == [1, 2, 3, 4, 5, 6, 7]


def test_long_line_keeps_its_ends_and_a_bounded_number_of_places() -> None:
    places = place_along([(0, 0), (300_000, 400_000)], "EPSG:32625", 10)
    assert len(places.x) == MAX_SAMPLES
    assert (places.x[-1], places.y[-1]) == (300_000, 400_000)
    assert places.distance_m[-1] == pytest.approx(500_000, rel=5e-3)


@pytest.mark.parametrize("vertices", [[(0, 0)], [(0, 0), (0, 0)], [(0, 0), (np.nan, 1)]])
def test_line_that_is_none(vertices: list[tuple[float, float]]) -> None:
    with pytest.raises(BadSettingsError, match="line"):
        place_along(vertices, "EPSG:32625", 10)


def test_density_counts_cells_and_what_lies_outside() -> None:
    x, y = np.array([0.1, 0.9, 0.9, 5.0]), np.array([0.1, 0.1, 0.9, 0.5])
    found = compute_density(x, y, 2, Axis(0, 1), Axis(0, 1))
    assert found.counts.tolist() == [[1, 1], [0, 1]]
    assert (found.n_valid, found.n_outside) == (4, 1)
    with pytest.raises(BadSettingsError, match="low end of an axis"):
        compute_density(x, y, 2, Axis(1, 0), Axis(0, 1))


@pytest.mark.parametrize("block_size", [7, 32, 64])
def test_exact_density_is_the_same_whatever_the_block(block_size: int) -> None:
    raster = random_raster(50, 61)
    plane = join_plane(raster, "red", raster, "blue")
    axis = Axis(-0.1, 0.5)
    found = exact_density(plane, axis, axis, 16, block_size=block_size)
    block = raster.read(raster.grid.whole, ("red", "blue"))
    x, y = block.values[:, block.valid]
    assert (found.counts == compute_density(x, y, 16, axis, axis).counts).all()
    assert found.n_valid == x.size


def test_counting_can_be_cancelled() -> None:
    raster = random_raster(8, 8)
    plane = join_plane(raster, "red", raster, "blue")
    with pytest.raises(CancelledError):
        exact_density(plane, Axis(0, 1), Axis(0, 1), 4, watch=Watch(is_cancelled=lambda: True))


def test_plane_of_two_scenes_is_valid_where_both_are() -> None:
    one, two = random_raster(20, 20, seed=1), random_raster(20, 20, seed=2)
    plane = join_plane(one, "red", two, "blue")
    block = plane.read(plane.grid.whole)
    assert (block.valid == (one.valid & two.valid)).all()
    assert (block.values[1] == two.values[0])[two.valid].all()
    assert plane.is_aligned
    alone = plane.read(plane.grid.whole, ("y",)).values[0]
    assert (alone == two.values[0])[two.valid].all()


def test_second_layer_is_brought_onto_the_first_ones_grid() -> None:
    one = random_raster(20, 20, invalid_share=0)
    moved = Grid(one.grid.crs, one.grid.transform @ Affine.translation(3, 0), 20, 20)
    plane = join_plane(one, "red", PlacedRaster(one, moved), "red")
    assert not plane.is_aligned
    block = plane.read(plane.grid.whole)
    assert (block.values[1, :, 3:] == one.values[2, :, :-3]).all()
    assert not block.valid[:, :3].any() and block.valid[:, 3:].all()


def test_axis_is_a_little_wider_than_the_values() -> None:
    axis = usual_axis(np.linspace(0, 1, 1001))
    assert -0.05 < axis.low < 0 and 1 < axis.high < 1.05
    assert usual_axis(np.full(3, 2.0)) == Axis(1.5, 2.5)
    assert usual_axis(np.array([])) == Axis(0, 1)


def test_ellipse_by_hand() -> None:
    """Variances 4 and 1 along axes turned by 30 degrees."""
    turn = np.radians(30)
    axes = np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]])
    found = class_ellipse(np.array([1.0, 2.0]), axes @ np.diag([4.0, 1.0]) @ axes.T, 2)
    assert (found.x, found.y) == (1, 2)
    assert (found.long, found.short) == pytest.approx((4, 2))
    assert found.angle_deg == pytest.approx(30)


def test_soil_line_is_the_foot_of_the_cloud() -> None:
    rng = np.random.default_rng(5)
    red = rng.uniform(0.05, 0.35, 40_000)
    foot = 1.2 * red + 0.04
    nir = foot + rng.exponential(0.1, red.size)
    line = fit_soil_line(red, nir)
    assert line.slope == pytest.approx(1.2, abs=0.05)
    assert line.intercept == pytest.approx(0.04, abs=0.01)
    assert (line.n_pixels, line.n_steps) == (40_000, 40)
    assert 0.98 < line.r_squared < 1, "the foot is found with some noise"
    with pytest.raises(NoValidPixelsError, match="too few land pixels"):
        fit_soil_line(red, red - 0.01)


def test_pixels_in_a_drawn_cloud() -> None:
    cloud = parse_cloud("0 0, 2 0, 2 2, 0 2")
    x, y = np.array([[1.0, 3.0], [0.5, -1.0]]), np.array([[1.0, 1.0], [1.9, 0.0]])
    assert in_cloud(cloud, x, y).tolist() == [[True, False], [True, False]]
    bow_tie = parse_cloud("0 0, 2 2, 2 0, 0 2")
    assert in_cloud(bow_tie, np.array([0.2, 1.0]), np.array([1.0, 1.9])).tolist() == [True, False]


NO_CLOUDS = ["", "1 1", "0 0, 1 1", "0 0, 1 x, 1 1", "0 0, 1 0, nan 1", "0 0, 1 0, 2 0",
             "0 0 0, 1 1 1, 2 0 0", "1 1," * 600]  # fmt: skip


@pytest.mark.parametrize("text", NO_CLOUDS)
def test_cloud_that_is_none(text: str) -> None:
    with pytest.raises(BadSettingsError, match="cloud"):
        parse_cloud(text)
