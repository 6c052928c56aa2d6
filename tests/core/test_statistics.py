import numpy as np
import pytest

from kitesort.core.errors import SingularCovarianceError
from kitesort.core.group_statistics import compute_statistics, merge_statistics
from kitesort.core.training.separability import bhattacharyya, jeffries_matusita


def test_statistics_by_hand() -> None:
    s = compute_statistics(np.array([[1.0, 2.0], [3.0, 2.0], [5.0, 8.0]]))
    assert s.n_pixels == 3
    assert s.mean.tolist() == [3, 4]
    assert s.covariance.tolist() == [[4, 6], [6, 12]]
    assert s.standard_deviation == pytest.approx([2, np.sqrt(12)])
    assert (s.minimum.tolist(), s.maximum.tolist()) == ([1, 2], [5, 8])


def test_single_pixel_has_no_spread() -> None:
    s = compute_statistics(np.array([[0.2, 0.4]], np.float32))
    assert s.n_pixels == 1
    assert not s.covariance.any()


def test_statistics_of_float32_do_not_lose_digits() -> None:
    """A small spread on a large mean is lost when sums of squares are taken in single precision."""
    rng = np.random.default_rng(5)
    values = (10_000 + rng.normal(0, 0.5, (50_000, 1))).astype(np.float32)
    assert compute_statistics(values).covariance[0, 0] == pytest.approx(
        np.var(values.astype(np.float64), ddof=1), rel=1e-9
    )


@pytest.mark.parametrize("cuts", [[1], [10, 11], [50, 400, 401]])
def test_merging_gives_the_statistics_of_all_pixels(cuts: list[int]) -> None:
    values = np.random.default_rng(2).normal(3, 2, (500, 4))
    merged = merge_statistics(compute_statistics(part) for part in np.split(values, cuts))
    whole = compute_statistics(values)
    assert merged.n_pixels == whole.n_pixels
    for name in ("mean", "covariance", "minimum", "maximum"):
        assert getattr(merged, name) == pytest.approx(getattr(whole, name))


def test_a_class_is_not_apart_from_itself() -> None:
    s = compute_statistics(np.random.default_rng(1).normal(0, 1, (100, 3)))
    assert jeffries_matusita(s, s) == pytest.approx(0, abs=1e-12)


def test_separability_is_symmetric_and_bounded() -> None:
    rng = np.random.default_rng(1)
    a = compute_statistics(rng.normal(0, 1, (100, 3)))
    b = compute_statistics(rng.normal(50, 2, (100, 3)))
    assert jeffries_matusita(a, b) == jeffries_matusita(b, a)
    assert jeffries_matusita(a, b) == pytest.approx(2)


def test_separability_does_not_depend_on_units() -> None:
    rng = np.random.default_rng(4)
    x, y = rng.normal(0, 1, (80, 2)), rng.normal(1, 1.5, (80, 2))
    one = bhattacharyya(compute_statistics(x), compute_statistics(y))
    scaled = bhattacharyya(compute_statistics(x * 1e4 + 7), compute_statistics(y * 1e4 + 7))
    assert scaled == pytest.approx(one, rel=1e-9)


def test_classes_without_spread_cannot_be_compared() -> None:
    flat = compute_statistics(np.ones((10, 2)))
    with pytest.raises(SingularCovarianceError):
        bhattacharyya(flat, flat)
