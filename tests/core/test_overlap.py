from shapely.geometry import box

from kitesort.core.outline import shares_outside
from kitesort.core.training.overlap import Contested, contested_pixels
from support.arrays import metric_grid

GRID = metric_grid(20, 20)  # pixels of 10 m from (400 000, 5 000 000) right and down
LEFT, TOP = 400_000, 5_000_000


def square(left_px: float, top_px: float, side_px: float) -> box:
    left, top = LEFT + 10 * left_px, TOP - 10 * top_px
    return box(left, top - 10 * side_px, left + 10 * side_px, top)


def test_pixels_that_two_classes_claim_are_counted() -> None:
    sites = [(1, square(0, 0, 5)), (2, square(3, 2, 5)), (2, square(4, 4, 4)), (1, square(1, 1, 2))]
    # By hand: columns 3 and 4, rows 2 to 4 are shared by the first two; (4, 4) by the next.
    assert contested_pixels(sites, GRID) == (Contested(1, 2, 6 + 1),)


def test_neighbours_and_sites_of_one_class_claim_nothing_twice() -> None:
    sites = [(1, square(0, 0, 5)), (2, square(5, 0, 5)), (1, square(2, 2, 2))]
    assert contested_pixels(sites, GRID) == ()
    assert contested_pixels([(1, square(0, 0, 5)), (2, square(4.8, 0, 5))], GRID) == (), (
        "a fifth of a pixel holds no centre"
    )
    assert contested_pixels([], GRID) == ()


def test_how_much_lies_outside() -> None:
    assert shares_outside([square(-3, 2, 4), square(1, 1, 4)], GRID).tolist() == [0.75, 0]
