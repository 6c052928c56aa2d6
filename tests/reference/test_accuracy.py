"""Error matrix, kappa and intervals against published examples and scikit-learn."""

import numpy as np
import numpy.typing as npt
import pytest
from scipy.stats import binomtest
from sklearn.metrics import cohen_kappa_score, confusion_matrix, precision_score, recall_score

from kitesort.core.assess.error_matrix import ErrorMatrix, build_error_matrix, proportion

# Source: Congalton 1991, Remote Sensing of Environment 37:35-46, table 1 (from memory; the
# arithmetic confirms the printed 74 % and kappa 0.65).
CONGALTON = np.array([[65, 4, 22, 24], [6, 81, 5, 8], [0, 11, 85, 19], [4, 7, 3, 90]])


def expand(counts: npt.NDArray[np.int64]) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int64]]:
    """Points (mapped, reference) that give these counts."""
    rows, columns = np.indices(counts.shape)
    return rows.ravel().repeat(counts.ravel()), columns.ravel().repeat(counts.ravel())


@pytest.fixture
def congalton() -> ErrorMatrix:
    return build_error_matrix(*expand(CONGALTON), (0, 1, 2, 3))


def test_congalton_overall_and_kappa(congalton: ErrorMatrix) -> None:
    assert np.array_equal(congalton.counts, CONGALTON)
    assert congalton.n_points == 434
    assert congalton.overall.value == pytest.approx(321 / 434)
    assert round(congalton.overall.value or 0, 2) == 0.74
    assert round(congalton.kappa or 0, 2) == 0.65


def test_congalton_producers_and_users(congalton: ErrorMatrix) -> None:
    """Printed in the same table: producer's 87, 79, 74, 64 %; user's 57, 81, 74, 87 %."""
    producers = [round(100 * (p.value or 0)) for p in congalton.producers]
    users = [round(100 * (p.value or 0)) for p in congalton.users]
    assert producers == [87, 79, 74, 64]
    assert users == [57, 81, 74, 87]


@pytest.mark.parametrize("seed", range(5))
def test_as_scikit_learn_has_it(seed: int) -> None:
    """Source: scikit-learn, metrics (its rows are the truth: ours transposed)."""
    rng = np.random.default_rng(seed)
    reference = rng.integers(1, 7, 400)
    mapped = np.where(rng.random(400) < 0.7, reference, rng.integers(1, 7, 400))
    codes = tuple(range(1, 7))
    matrix = build_error_matrix(mapped, reference, codes)
    assert np.array_equal(matrix.counts, confusion_matrix(reference, mapped, labels=codes).T)
    assert matrix.kappa == pytest.approx(cohen_kappa_score(reference, mapped))
    users = precision_score(reference, mapped, labels=codes, average=None)
    producers = recall_score(reference, mapped, labels=codes, average=None)
    assert [p.value for p in matrix.users] == pytest.approx(users)
    assert [p.value for p in matrix.producers] == pytest.approx(producers)


@pytest.mark.parametrize(("hits", "n"), [(0, 12), (1, 3), (46, 60), (321, 434), (30, 30)])
def test_intervals_as_scipy_has_them(hits: int, n: int) -> None:
    """Source: SciPy, binomtest(...).proportion_ci(method="wilson")."""
    expected = binomtest(hits, n).proportion_ci(0.95, method="wilson")
    got = proportion(hits, n)
    assert (got.low, got.high) == pytest.approx((expected.low, expected.high), abs=1e-12)
