"""Acts on outlines: what is left, and that no pixel is lost on the way."""

import numpy as np
import pytest
from affine import Affine
from shapely.geometry import LineString, box

from kitesort.core.errors import BadSettingsError, SiteError
from kitesort.core.grid import Grid
from kitesort.core.site_pixels import site_mask
from kitesort.core.training.reshape import cut, joined, outline_of_pixels, parted, shrunk
from kitesort.core.training.set_aside import choose_aside

GRID = Grid("EPSG:32625", Affine(10, 0, 400_000, 0, -10, 5_000_000), 60, 50)
SQUARE = box(0, 0, 10, 10)


def test_an_outline_of_pixels_covers_them_and_no_others() -> None:
    rng = np.random.default_rng(3)
    mask = rng.random((GRID.height, GRID.width)) < 0.4
    rows, cols = (at.astype(np.int32) for at in np.nonzero(mask))
    outline = outline_of_pixels(rows, cols, GRID)
    window, inside = site_mask(outline, GRID)
    again = np.zeros_like(mask)
    again[window.slices] = inside
    assert (again == mask).all()
    assert outline.area == pytest.approx(mask.sum() * 100)


def test_both_parts_hold_every_pixel_once() -> None:
    rows, cols = (at.ravel().astype(np.int32) for at in np.mgrid[5:15, 5:15])
    second = rows + cols > 20
    first, other = parted(rows, cols, second, GRID)
    assert first.area + other.area == pytest.approx(10_000)
    assert first.intersection(other).area == 0
    assert other.area == pytest.approx(second.sum() * 100)
    with pytest.raises(SiteError, match="nothing to split"):
        parted(rows, cols, np.zeros(100, bool), GRID)


def test_shrunk_by_a_pixel_and_not_to_nothing() -> None:
    assert shrunk(SQUARE, 1).equals(box(1, 1, 9, 9))
    with pytest.raises(SiteError, match="too small to be shrunk"):
        shrunk(SQUARE, 5)


def test_cut_right_across_or_not_at_all() -> None:
    large, small = cut(SQUARE, LineString([(3, -1), (3, 11)]))
    assert (large.area, small.area) == (70, 30)
    for line in ([(20, 0), (20, 10)], [(3, -1), (3, 5)]):
        with pytest.raises(SiteError, match="right across"):
            cut(SQUARE, LineString(line))
    pieces = joined([SQUARE, box(20, 0, 30, 10)])
    lower, upper = cut(pieces, LineString([(-1, 6), (31, 6)]))
    assert (lower.bounds, upper.bounds) == ((0, 0, 30, 6), (0, 6, 30, 10))
    assert lower.area + upper.area == 200


def test_a_share_of_each_class_is_set_aside_and_two_sites_train() -> None:
    sites = {1: list(range(10)), 2: [20, 21, 22], 3: [30, 31], 4: [40]}
    chosen = choose_aside(sites, 0.2, seed=1)
    assert [sum(i in ids for i in chosen) for ids in sites.values()] == [2, 1, 0, 0]
    assert choose_aside(sites, 0.2, seed=1) == chosen
    assert any(choose_aside(sites, 0.2, seed=s) != chosen for s in range(2, 6))
    # The classes do not hang on one another.
    assert [i for i in choose_aside({1: sites[1]}, 0.2, 1)] == [i for i in chosen if i < 10]
    assert len(choose_aside(sites, 0.99, 0)) == 8 + 1
    with pytest.raises(BadSettingsError):
        choose_aside(sites, 1.0, 0)
