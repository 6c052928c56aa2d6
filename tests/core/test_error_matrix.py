import numpy as np
import pytest

from kitesort.core.assess.error_matrix import build_error_matrix, proportion
from kitesort.core.errors import InputError


def test_rows_are_the_map_and_columns_the_ground() -> None:
    mapped, reference = np.array([1, 1, 1, 2, 3]), np.array([1, 2, 2, 2, 1])
    matrix = build_error_matrix(mapped, reference, (1, 2, 3))
    assert matrix.counts.tolist() == [[1, 2, 0], [0, 1, 0], [1, 0, 0]]
    assert matrix.overall.value == pytest.approx(2 / 5)
    assert [p.value for p in matrix.users] == pytest.approx([1 / 3, 1, 0])
    assert [p.value for p in matrix.producers][:2] == pytest.approx([1 / 2, 1 / 3])
    assert matrix.producers[2].value is None, "no reference point of class 3"


def test_order_of_points_does_not_matter() -> None:
    rng = np.random.default_rng(0)
    mapped, reference = rng.integers(1, 5, (2, 300))
    order = rng.permutation(300)
    one = build_error_matrix(mapped, reference, (1, 2, 3, 4))
    two = build_error_matrix(mapped[order], reference[order], (1, 2, 3, 4))
    assert np.array_equal(one.counts, two.counts)


def test_order_of_classes_only_reorders() -> None:
    rng = np.random.default_rng(0)
    mapped, reference = rng.integers(1, 4, (2, 200))
    forth = build_error_matrix(mapped, reference, (1, 2, 3))
    back = build_error_matrix(mapped, reference, (3, 2, 1))
    assert np.array_equal(forth.counts, back.counts[::-1, ::-1])
    assert forth.kappa == pytest.approx(back.kappa)


def test_no_points_give_no_numbers() -> None:
    empty = np.array([], np.int64)
    matrix = build_error_matrix(empty, empty, (1, 2))
    assert matrix.overall.value is None
    assert matrix.kappa is None


def test_one_class_gives_no_kappa() -> None:
    ones = np.ones(5, np.int64)
    assert build_error_matrix(ones, ones, (1, 2)).kappa is None


def test_unknown_code_is_named() -> None:
    with pytest.raises(InputError, match="9"):
        build_error_matrix(np.array([1, 9]), np.array([1, 1]), (1, 2))


def test_interval_holds_the_share_and_stays_within_bounds() -> None:
    for n in (1, 5, 50, 5000):
        for hits in {0, n // 3, n}:
            p = proportion(hits, n)
            assert p.value is not None and p.low is not None and p.high is not None
            assert 0 <= p.low <= p.value <= p.high <= 1


def test_more_points_narrow_the_interval() -> None:
    widths = [
        (p.high or 0) - (p.low or 0) for p in (proportion(n * 3 // 4, n) for n in (20, 200, 2000))
    ]
    assert widths == sorted(widths, reverse=True)
