"""Two maps beside each other: the table by hand, McNemar's test by SciPy."""

from itertools import permutations

import numpy as np
import pytest
from scipy.stats import binomtest, chi2
from sklearn.metrics import adjusted_rand_score

from kitesort.core.assess.compare_maps import (
    adjusted_rand,
    compare_maps,
    compare_on_points,
    match_by_overlap,
)
from kitesort.core.errors import GridMismatchError
from support.arrays import ArrayRaster


def codes(values: list[list[int]]) -> ArrayRaster:
    array = np.array(values, np.float32)[None]
    return ArrayRaster(array, array[0] > 0, ("class",))


def test_a_table_by_hand() -> None:
    first, second = codes([[1, 1, 2], [2, 3, 0]]), codes([[1, 2, 2], [3, 3, 1]])
    found = compare_maps(first, second)
    expected = {(1, 1): 1, (1, 2): 1, (2, 2): 1, (2, 3): 1, (3, 3): 1}
    assert {(int(a), int(b)): int(found.pixels[a, b])
            for a, b in np.argwhere(found.pixels)} == expected  # fmt: skip
    assert found.same({1: 1, 2: 2, 3: 3}) == pytest.approx(3 / 5)
    assert found.same({1: 2}) == pytest.approx(1 / 5)
    each = found.hectares[1, 1]
    assert found.hectares.sum() == pytest.approx(5 * each, rel=1e-5)


def test_other_grids_are_refused() -> None:
    with pytest.raises(GridMismatchError, match="same grid"):
        compare_maps(codes([[1, 2]]), codes([[1], [2]]))


@pytest.mark.parametrize(("b", "c"), [(3, 9), (0, 5), (7, 7), (30, 12), (14, 11), (25, 0)])
def test_on_the_same_points(b: int, c: int) -> None:
    """Source: McNemar 1947; SciPy's binomtest and chi2."""
    first = np.array([True] * b + [False] * c + [True] * 40 + [False] * 4)
    second = np.array([False] * b + [True] * c + [True] * 40 + [False] * 4)
    found = compare_on_points(first, second)
    assert (found.only_first, found.only_second, found.both, found.neither) == (b, c, 40, 4)
    few = b + c < 25
    expected = binomtest(b, b + c).pvalue if few else chi2.sf((b - c) ** 2 / (b + c), 1)
    assert found.p == pytest.approx(expected)


def test_maps_that_never_differ_say_nothing() -> None:
    right = np.array([True, False])
    assert compare_on_points(right, right).p is None


def test_groups_are_matched_so_that_most_pixels_are_alike() -> None:
    """By brute force over all ways to match four groups with four."""
    counts = np.random.default_rng(4).integers(0, 90, (4, 4))
    pixels = np.zeros((256, 256), np.int64)
    pixels[np.ix_([1, 2, 3, 4], [7, 8, 9, 5])] = counts
    found = match_by_overlap(pixels, [1, 2, 3, 4], [7, 8, 9, 5])
    best = max(sum(counts[i, j] for i, j in enumerate(p)) for p in permutations(range(4)))
    assert sum(int(pixels[a, b]) for a, b in found.items()) == best
    pixels[:] = 0
    pixels[1, 7] = 3
    assert match_by_overlap(pixels, [1, 2], [7, 8]) == {1: 7}, "what shares nothing has no partner"


def test_the_adjusted_rand_index_is_scikit_learns() -> None:
    rng = np.random.default_rng(0)
    first = rng.integers(0, 5, 4000)
    second = np.where(rng.random(4000) < 0.6, first, rng.integers(0, 6, 4000))
    table = np.zeros((6, 6), np.int64)
    np.add.at(table, (first, second), 1)
    assert adjusted_rand(table) == pytest.approx(adjusted_rand_score(first, second), rel=1e-12)
    assert adjusted_rand(np.diag([3, 4])) == 1
    assert adjusted_rand(np.zeros((2, 2), np.int64)) is None
