from typing import Any

import numpy as np
import pytest
from rasterio.features import geometry_mask
from shapely.geometry import mapping, shape

from kitesort.core.delivery import open_delivery, read_delivery
from kitesort.core.errors import (
    NoValidPixelsError,
    OutsideSceneError,
    SelfCrossingError,
    SiteError,
)
from kitesort.core.outline import outline_text, parse_site, parse_sites
from kitesort.core.raster.protocol import Raster
from kitesort.core.site_pixels import many_site_pixels, site_footprints, site_mask, site_pixels
from support.arrays import metric_grid
from support.small_scene import BOW_TIE, LEFT, TOP, SmallScene, rectangle

ROLES = ("red", "nir")


@pytest.fixture(scope="module")
def raster(small_scene: SmallScene) -> Raster:
    return open_delivery(read_delivery(small_scene.metadata))


def test_rectangle_on_pixel_edges_holds_exactly_its_pixels() -> None:
    window, inside = site_mask(parse_site(rectangle(3, 5, 4, 6)), metric_grid(50, 50))
    assert (window.row, window.col, window.height, window.width) == (3, 5, 4, 6)
    assert inside.all()


def test_a_pixel_counts_when_its_centre_is_inside() -> None:
    """A triangle over half of a 4 × 4 square: centres below the diagonal only."""
    triangle = {
        "type": "Polygon",
        "coordinates": [
            [[LEFT, TOP - 2], [LEFT, TOP - 39], [LEFT + 37, TOP - 39], [LEFT, TOP - 2]]
        ],
    }
    _, inside = site_mask(parse_site(triangle), metric_grid(50, 50))
    assert inside.astype(int).tolist() == [
        [0, 0, 0, 0], [1, 0, 0, 0], [1, 1, 0, 0], [1, 1, 1, 0]
    ]  # fmt: skip


def test_a_hole_is_left_out() -> None:
    outer, inner = rectangle(0, 0, 6, 6)["coordinates"][0], rectangle(2, 2, 2, 2)["coordinates"][0]
    polygon = {"type": "Polygon", "coordinates": [outer, inner]}
    _, inside = site_mask(parse_site(polygon), metric_grid(50, 50))
    assert inside.sum() == 36 - 4


def test_two_parts_count_as_one_site() -> None:
    parts = shape(rectangle(0, 0, 2, 2)).union(shape(rectangle(10, 10, 2, 2)))
    _, inside = site_mask(parse_site(mapping(parts)), metric_grid(50, 50))
    assert inside.sum() == 8


def test_only_valid_pixels_are_taken(raster: Raster) -> None:
    """Four of the ten columns lie on fill."""
    pixels = site_pixels(raster, parse_site(rectangle(60, 0, 5, 10)), ROLES)
    assert pixels.n_covered == 50
    assert pixels.n_valid == 30
    assert pixels.values.shape == (30, 2)
    assert np.isfinite(pixels.values).all()


def test_values_are_those_of_the_scene(raster: Raster) -> None:
    site = rectangle(60, 80, 3, 4)
    pixels = site_pixels(raster, parse_site(site), ROLES)
    window, _ = site_mask(parse_site(site), raster.grid)
    block = raster.read(window, ROLES)
    assert np.array_equal(pixels.values, block.values.reshape(2, -1).T, equal_nan=True)


def test_site_on_nodata_says_so(raster: Raster) -> None:
    with pytest.raises(NoValidPixelsError, match="no usable pixel"):
        site_pixels(raster, parse_site(rectangle(20, 0, 4, 3)), ROLES)


def test_site_under_cloud_says_so(raster: Raster) -> None:
    with pytest.raises(NoValidPixelsError, match="cloud"):
        site_pixels(raster, parse_site(rectangle(2, 104, 4, 6)), ROLES)


def test_site_outside_says_so(raster: Raster) -> None:
    with pytest.raises(OutsideSceneError, match="outside the scene"):
        site_pixels(raster, parse_site(rectangle(20, 900, 4, 3)), ROLES)


def test_site_smaller_than_a_pixel_says_so(raster: Raster) -> None:
    with pytest.raises(NoValidPixelsError, match="centre of no pixel"):
        site_pixels(raster, parse_site(rectangle(20.6, 30.6, 0.3, 0.3)), ROLES)


def test_crossing_outline_says_where() -> None:
    with pytest.raises(SelfCrossingError, match=r"crosses itself.*Move the corner"):
        parse_site(BOW_TIE)


NO_OUTLINES: list[dict[str, Any]] = [
    {},
    {"type": "Point", "coordinates": [1, 2]},
    {"type": "Polygon"},
    {"type": "Polygon", "coordinates": []},
    {"type": "Polygon", "coordinates": [[[0, 0], [1, 1]]]},
    {"type": "Polygon", "coordinates": [[[0, 0], [1, 1], [2, 2], [0, 0]]]},
    {"type": "Polygon", "coordinates": [[["a", 0], [1, 1], [2, 0], ["a", 0]]]},
    {"type": "Polygon", "coordinates": [[[0, 0], [float("nan"), 1], [2, 0], [0, 0]]]},
    {"type": "Polygon", "coordinates": "nonsense"},
]


@pytest.mark.parametrize("geometry", NO_OUTLINES)
def test_what_is_no_outline_is_refused_in_words(geometry: dict[str, Any]) -> None:
    with pytest.raises(SiteError):
        parse_site(geometry)


def test_many_outlines_are_parsed_as_each_by_itself() -> None:
    in_space = {"type": "Polygon", "coordinates": [[[0, 0, 1], [9, 0, 1], [0, 9, 1], [0, 0, 1]]]}
    unclosed = {"type": "Polygon", "coordinates": [[[0, 0], [9, 0], [0, 9]]]}
    good = [rectangle(1, 2, 3, 4), dict(mapping(shape(rectangle(0, 0, 2, 2)))), in_space, unclosed]
    geometries = [*NO_OUTLINES, *good, BOW_TIE]
    together = parse_sites(geometries, [outline_text(g) for g in geometries])
    for geometry, found in zip(geometries, together, strict=True):
        if isinstance(found, SiteError):
            with pytest.raises(type(found)) as alone:
                parse_site(geometry)
            assert alone.value.sentence == found.sentence
        else:
            assert found.equals_exact(parse_site(geometry), 0)
    assert sum(isinstance(found, SiteError) for found in together) == len(NO_OUTLINES) + 1


def test_outlines_that_lie_over_one_another_keep_their_own_pixels() -> None:
    """More of them than are burnt in layers, each with pixels of its own; GDAL alone agrees."""
    grid, rng = metric_grid(60, 60), np.random.default_rng(1)
    corners = rng.uniform(0, 600, (80, 3, 2)) * (1, -1) + (LEFT, TOP)
    triangles = [shape({"type": "Polygon", "coordinates": [ring]}) for ring in corners.tolist()]
    for triangle, found in zip(triangles, site_footprints(triangles, grid), strict=True):
        assert not isinstance(found, SiteError)
        alone = geometry_mask([mapping(triangle)], (60, 60), grid.transform, invert=True)
        assert np.array_equal(np.argwhere(alone), np.column_stack([found.rows, found.cols]))


def test_too_many_corners_are_refused() -> None:
    turns = np.linspace(0, 2 * np.pi, 30_000)
    ring = np.column_stack([np.cos(turns), np.sin(turns)]).tolist()
    with pytest.raises(SiteError, match="corners"):
        parse_site({"type": "Polygon", "coordinates": [[*ring, ring[0]]]})


def test_a_site_of_absurd_size_is_refused() -> None:
    with pytest.raises(SiteError, match="too large"):
        site_mask(parse_site(rectangle(0, 0, 3000, 3000)), metric_grid(3000, 3000))


def test_many_sites_read_together_are_those_read_alone(raster: Raster) -> None:
    """Rectangles on and off the pixel edges, triangles, single pixels, some of them outside, under
    fill or between centres: the same pixels, or the same words."""
    rng = np.random.default_rng(8)
    outlines = []
    for i in range(300):
        row, col = rng.uniform(-4, 96), rng.uniform(-4, 128)
        height, width = rng.uniform(0.2, 9, 2)
        if i % 3 == 0:
            row, col, height, width = round(row), round(col), 1, 1
        drawn = rectangle(row, col, height, width)
        if i % 5 == 1:
            ring = drawn["coordinates"][0]
            drawn = {**drawn, "coordinates": [[*ring[:3], ring[0]]]}
        outlines.append(parse_site(drawn))
    outlines.append(parse_site(rectangle(0, 0, 96, 128)))
    together = many_site_pixels(raster, outlines, ROLES)
    n_errors = 0
    for outline, found in zip(outlines, together, strict=True):
        if isinstance(found, SiteError):
            n_errors += 1
            with pytest.raises(type(found)) as alone:
                site_pixels(raster, outline, ROLES)
            assert alone.value.sentence == found.sentence
            continue
        expected = site_pixels(raster, outline, ROLES)
        assert found.n_covered == expected.n_covered
        for name in ("values", "rows", "cols"):
            assert np.array_equal(getattr(found, name), getattr(expected, name))
        window, inside = site_mask(outline, raster.grid)
        transform = raster.grid.sub_grid(window).transform
        by_gdal = geometry_mask([mapping(outline)], inside.shape, transform, invert=True)
        assert np.array_equal(inside, by_gdal)
    assert 5 < n_errors < 150
