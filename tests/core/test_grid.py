import numpy as np
import pytest
from affine import Affine

from kitesort.core.errors import GridMismatchError, InputError
from kitesort.core.geodesy import pixel_areas_ha
from kitesort.core.grid import Grid, Window, unit_m
from support.arrays import metric_grid


def test_pixel_and_world_are_inverse() -> None:
    grid = metric_grid(50, 80)
    assert grid.pixel_to_world(0, 0) == (400_000, 5_000_000)
    assert grid.pixel_to_world(50, 80) == (400_800, 4_999_500)
    assert grid.world_to_pixel(*grid.pixel_to_world(12.25, 33.5)) == pytest.approx((12.25, 33.5))


@pytest.mark.parametrize(
    ("x", "y", "expected"),
    [
        (400_000, 5_000_000, (0, 0)),
        (400_009.9, 4_999_990.1, (0, 0)),
        (400_010, 4_999_990, (1, 1)),
        (400_799.9, 4_999_500.1, (49, 79)),
        (400_800, 4_999_700, None),
        (399_999.9, 4_999_700, None),
        (400_100, 5_000_000.1, None),
        (np.inf, 4_999_700, None),
        (np.nan, np.nan, None),
    ],
)
def test_pixel_that_holds_a_point(x: float, y: float, expected: tuple[int, int] | None) -> None:
    assert metric_grid(50, 80).pixel_at(x, y) == expected


def test_window_of_bounds_covers_touched_pixels_only() -> None:
    grid = metric_grid(50, 80)
    assert grid.window_of_bounds((400_015, 4_999_965, 400_025, 4_999_985)) == Window(1, 1, 3, 2)
    assert grid.window_of_bounds((400_010, 4_999_980, 400_020, 4_999_990)) == Window(1, 1, 1, 1)
    assert grid.window_of_bounds((399_000, 4_990_000, 500_000, 5_100_000)) == grid.whole
    assert grid.window_of_bounds((300_000, 4_999_900, 300_100, 4_999_950)) is None


@pytest.mark.parametrize("size", [1, 7, 16, 64, 1000])
def test_blocks_tile_the_grid_once(size: int) -> None:
    grid = metric_grid(33, 47)
    hits = np.zeros((33, 47), int)
    for window in grid.blocks(size):
        assert window.height <= size
        assert window.width <= size
        hits[window.slices] += 1
    assert (hits == 1).all()


def test_sub_grid_keeps_world_coordinates() -> None:
    grid = metric_grid(50, 80)
    part = grid.sub_grid(Window(10, 20, 5, 6))
    assert (part.height, part.width) == (5, 6)
    assert part.pixel_to_world(0, 0) == grid.pixel_to_world(10, 20)


def test_area_of_a_ten_metre_pixel() -> None:
    """In a UTM zone the plane is up to 0.04 % smaller than the ground, here 0.01 %."""
    areas = pixel_areas_ha(metric_grid(4, 4), Window(0, 0, 4, 4))
    assert areas == pytest.approx(np.full((4, 4), 0.01), rel=1e-3)


def test_area_in_a_system_of_feet() -> None:
    """EPSG:2263 counts in US survey feet: 1 ft = 1200/3937 m, so a pixel of 100 ft is smaller."""
    grid = Grid("EPSG:2263", Affine(100, 0, 0, 0, -100, 0), 2, 2)
    expected = (100 * 1200 / 3937) ** 2 / 10_000
    assert pixel_areas_ha(grid, grid.whole) == pytest.approx(np.full((2, 2), expected), rel=2e-3)


@pytest.mark.parametrize(
    ("other", "word"),
    [
        (Grid("EPSG:32626", metric_grid(5, 5).transform, 5, 5), "coordinate systems"),
        (metric_grid(5, 5, pixel=30), "pixel sizes"),
        (Grid("EPSG:32625", Affine(10, 0, 400_005, 0, -10, 5_000_000), 5, 5), "different places"),
        (metric_grid(5, 6), "differ in size"),
    ],
)
def test_first_difference_is_named(other: Grid, word: str) -> None:
    with pytest.raises(GridMismatchError, match=word):
        metric_grid(5, 5).require_same_as(other)


def test_same_grid_by_another_name_passes() -> None:
    """A WKT of the same system and a hair of rounding are no difference."""
    grid = metric_grid(5, 5)
    from pyproj import CRS

    twin = Grid(CRS.from_epsg(32625).to_wkt(), Affine(10, 0, 400_000.0001, 0, -10, 5e6), 5, 5)
    grid.require_same_as(twin)


@pytest.mark.parametrize(
    "transform", [Affine(10, 1, 0, 0, -10, 0), Affine.rotation(20) @ Affine.scale(10, -10)]
)
def test_rotated_grid_is_refused(transform: Affine) -> None:
    with pytest.raises(InputError, match="rotated"):
        Grid("EPSG:32625", transform, 5, 5)


def test_empty_grid_is_refused() -> None:
    with pytest.raises(InputError, match="no pixels"):
        metric_grid(0, 5)


@pytest.mark.parametrize(
    ("crs", "metres"), [("EPSG:32625", 1), ("EPSG:2263", 0.3048006096), ("EPSG:4326", 1)]
)
def test_unit_of_a_coordinate_system(crs: str, metres: float) -> None:
    """US survey feet are 1200 / 3937 m; degrees are no length."""
    assert unit_m(crs) == pytest.approx(metres)


def test_pixels_that_are_not_square_are_shown_in_square_ones() -> None:
    """Twice as high as wide: two rows of the square grid for each; the ground stays the same."""
    grid = Grid("EPSG:32625", Affine(10, 0, 400_000, 0, -20, 5_000_000), 30, 40)
    square = grid.squared()
    assert (square.height, square.width, square.pixel_size) == (60, 40, (10, 10))
    assert square.bounds == grid.bounds
    assert square.squared() is square and metric_grid(3, 4).squared() == metric_grid(3, 4)
