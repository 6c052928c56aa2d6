"""Two maps beside each other: the table by hand, McNemar's test by SciPy."""

from collections import Counter
from itertools import permutations

import numpy as np
import pytest
from scipy.stats import binomtest, chi2
from sklearn.metrics import adjusted_rand_score

from kitesort.core.assess.compare_maps import (
    FromTo,
    adjusted_rand,
    compare_maps,
    compare_on_points,
    match_by_overlap,
)
from kitesort.core.errors import GridMismatchError
from support.arrays import ArrayRaster

HALVES = (slice(0, 2000), slice(2000, 4000))


def met(counts: np.ndarray, rows: list[int], columns: list[int]) -> FromTo:
    """A table as pairs of codes."""
    first, second = np.repeat(rows, len(columns)), np.tile(columns, len(rows))
    each = [np.repeat(part, counts.ravel()).astype(np.uint16) for part in (first, second)]
    return FromTo.of(*each, np.ones(len(each[0])))


def codes(values: list[list[int]]) -> ArrayRaster:
    array = np.array(values, np.float32)[None]
    return ArrayRaster(array, array[0] > 0, ("class",))


def test_a_table_by_hand() -> None:
    first, second = codes([[1, 1, 2], [2, 3, 0]]), codes([[1, 2, 2], [3, 3, 1]])
    found = compare_maps(first, second)
    expected = {(1, 1): 1, (1, 2): 1, (2, 2): 1, (2, 3): 1, (3, 3): 1}
    met = zip(found.first.tolist(), found.second.tolist(), found.pixels.tolist(), strict=True)
    assert {(a, b): n for a, b, n in met} == expected
    assert found.pixels_by_code() == {1: 2, 2: 2, 3: 1}
    assert found.pixels_by_code(of_second=True) == {1: 1, 2: 2, 3: 2}
    pixels, hectares = found.table([3, 1, 7], [2, 3])
    assert pixels.tolist() == [[0, 1], [1, 0], [0, 0]]
    assert found.same({1: 1, 2: 2, 3: 3}) == pytest.approx(3 / 5)
    assert found.same({1: 2}) == pytest.approx(1 / 5)
    each = hectares[0, 1]
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
    found = match_by_overlap(met(counts, [1, 2, 3, 4], [7, 8, 9, 500]))
    best = max(sum(counts[i, j] for i, j in enumerate(p)) for p in permutations(range(4)))
    place = {7: 0, 8: 1, 9: 2, 500: 3}
    assert sum(int(counts[a - 1, place[b]]) for a, b in found.items()) == best
    few = met(np.array([[3, 2], [2, 0], [1, 0]]), [1, 2, 300], [7, 8])
    assert match_by_overlap(few) == {1: 8, 2: 7}, "one more than there are has no partner"


def test_the_adjusted_rand_index_is_scikit_learns() -> None:
    rng = np.random.default_rng(0)
    first = rng.integers(0, 5, 4000)
    second = np.where(rng.random(4000) < 0.6, first, rng.integers(0, 6, 4000))
    codes = [(300 * part + 1).astype(np.uint16) for part in (first, second)]
    halves = [FromTo.of(*(part[at] for part in codes), np.ones(2000)) for at in HALVES]
    found = adjusted_rand(halves[0] + halves[1])
    assert found == pytest.approx(adjusted_rand_score(first, second), rel=1e-12)
    assert adjusted_rand(met(np.diag([3, 4]), [1, 2], [1, 2])) == 1
    assert adjusted_rand(FromTo.nothing()) is None


def test_codes_of_two_bytes_meet_as_those_of_one_do() -> None:
    """By counting pairs in plain Python; halves of the ground add up to the whole."""
    rng = np.random.default_rng(2)
    first = rng.choice([1, 254, 255, 256, 311, 65_535], 4000).astype(np.uint16)
    second = rng.choice([0, 7, 512, 65_535], 4000).astype(np.uint16)
    areas = rng.random(4000)
    whole = FromTo.of(first, second, areas)
    counted = Counter(zip(first.tolist(), second.tolist(), strict=True))
    assert dict(zip(zip(whole.first.tolist(), whole.second.tolist(), strict=True),
                    whole.pixels.tolist(), strict=True)) == counted  # fmt: skip
    parts = [FromTo.of(first[at], second[at], areas[at]) for at in HALVES]
    both = parts[0] + parts[1]
    for name in ("first", "second", "pixels"):
        assert np.array_equal(getattr(both, name), getattr(whole, name))
    assert both.hectares == pytest.approx(whole.hectares)
