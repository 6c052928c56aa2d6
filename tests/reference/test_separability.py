"""Separability of Gaussian classes against closed forms and numerical integration."""

import numpy as np
import pytest
from scipy.integrate import quad
from scipy.spatial.distance import mahalanobis
from scipy.stats import norm

from kitesort.core.group_statistics import ClassStatistics, compute_statistics
from kitesort.core.training.separability import (
    bhattacharyya,
    chance_distance,
    chance_divergence,
    corrected,
    corrected_divergence,
    divergence,
    jeffries_matusita,
    saturating,
    transformed_divergence,
)


def gaussian(mean: list[float], covariance: list[list[float]]) -> ClassStatistics:
    m, c = np.array(mean), np.array(covariance)
    return ClassStatistics(100, m, c, m, m)


@pytest.mark.parametrize("distance", [0.1, 1.0, 3.0])
def test_equal_covariances_give_an_eighth_of_mahalanobis(distance: float) -> None:
    """Source: Swain & Davis 1978; with S1 = S2, B = d'S⁻¹d / 8. Distance by SciPy."""
    covariance = [[2.0, 0.3, 0.1], [0.3, 1.0, 0.2], [0.1, 0.2, 0.5]]
    a, b = gaussian([0, 0, 0], covariance), gaussian([distance, -distance, 0.2], covariance)
    between = mahalanobis(a.mean, b.mean, np.linalg.inv(a.covariance))
    assert bhattacharyya(a, b) == pytest.approx(between**2 / 8)


@pytest.mark.parametrize(("m", "s"), [(0.0, 3.0), (1.0, 1.0), (2.0, 0.5), (5.0, 2.0)])
def test_one_dimension_by_integration(m: float, s: float) -> None:
    """B = -ln ∫ sqrt(p q): the definition itself. Source: Richards, ch. "Separability"."""
    overlap, _ = quad(lambda x: np.sqrt(norm.pdf(x, 0, 1) * norm.pdf(x, m, s)), -40, 40)
    a, b = gaussian([0], [[1]]), gaussian([m], [[s * s]])
    assert bhattacharyya(a, b) == pytest.approx(-np.log(overlap), rel=1e-6)
    assert jeffries_matusita(a, b) == pytest.approx(2 * (1 - overlap), rel=1e-6)


def test_two_dimensions_as_the_formula_is_printed() -> None:
    """Source: Swain & Davis 1978; Richards:
    B = 1/8 d' ((S1+S2)/2)⁻¹ d + 1/2 ln( det((S1+S2)/2) / sqrt(det S1 det S2) ), JM = 2 (1 - e^-B).
    """
    s1, s2 = np.array([[1.0, 0.5], [0.5, 2.0]]), np.array([[3.0, -0.4], [-0.4, 1.0]])
    d, mean = np.array([1.0, 2.0]), (s1 + s2) / 2
    expected = d @ np.linalg.inv(mean) @ d / 8 + 0.5 * np.log(
        np.linalg.det(mean) / np.sqrt(np.linalg.det(s1) * np.linalg.det(s2))
    )
    a, b = gaussian([0, 0], s1.tolist()), gaussian([1, 2], s2.tolist())
    assert bhattacharyya(a, b) == pytest.approx(expected)
    assert jeffries_matusita(a, b) == pytest.approx(2 * (1 - np.exp(-expected)))


def test_statistics_as_numpy_has_them() -> None:
    """Source: NumPy, cov with its default divisor n - 1."""
    values = np.random.default_rng(6).normal(0.3, 0.1, (400, 6)).astype(np.float32)
    s = compute_statistics(values)
    assert s.covariance == pytest.approx(np.cov(values.astype(np.float64), rowvar=False))
    assert s.mean == pytest.approx(values.astype(np.float64).mean(axis=0))


def test_transformed_divergence_as_the_formula_is_printed() -> None:
    """Source: Swain & Davis 1978; with equal covariances D = d'S⁻¹d. Distance by SciPy."""
    covariance = [[2.0, 0.3], [0.3, 1.0]]
    a, b = gaussian([0, 0], covariance), gaussian([1.5, -0.5], covariance)
    between = mahalanobis(a.mean, b.mean, np.linalg.inv(a.covariance)) ** 2
    assert transformed_divergence(a, b) == pytest.approx(2 * (1 - np.exp(-between / 8)))
    narrow, wide = gaussian([0], [[1]]), gaussian([0], [[4]])
    # D of two Gaussians is the sum of both relative entropies, here by integration.
    p, q = norm(0, 1), norm(0, 2)
    divergence, _ = quad(lambda x: (p.pdf(x) - q.pdf(x)) * (p.logpdf(x) - q.logpdf(x)), -30, 30)
    assert transformed_divergence(narrow, wide) == pytest.approx(
        2 * (1 - np.exp(-divergence / 8)), rel=1e-6
    )


def samples(rng: np.random.Generator, n: int, n_bands: int, shift: float = 0) -> ClassStatistics:
    return compute_statistics(rng.normal(shift, 1, (n, n_bands)))


@pytest.mark.parametrize(("n_a", "n_b", "n_bands"), [(40, 40, 4), (80, 80, 8), (30, 90, 6)])
def test_chance_is_what_two_samples_of_one_class_show(n_a: int, n_b: int, n_bands: int) -> None:
    """Source: the definition, by drawing 400 pairs of samples."""
    rng = np.random.default_rng(3)
    drawn = [
        bhattacharyya(samples(rng, n_a, n_bands), samples(rng, n_b, n_bands)) for _ in range(400)
    ]
    error = np.std(drawn) / np.sqrt(len(drawn))
    expected = chance_distance(n_a, n_b, n_bands)
    assert abs(np.mean(drawn) - expected) < 4 * error + 0.02 * expected


@pytest.mark.parametrize(("n_a", "n_b", "n_bands"), [(40, 40, 4), (80, 80, 8), (30, 90, 6)])
def test_chance_divergence_is_what_two_samples_show(n_a: int, n_b: int, n_bands: int) -> None:
    """Source: the definition, by drawing 1 000 pairs of samples."""
    rng = np.random.default_rng(4)
    drawn = [
        divergence(samples(rng, n_a, n_bands), samples(rng, n_b, n_bands)) for _ in range(1_000)
    ]
    error = np.std(drawn) / np.sqrt(len(drawn))
    expected = chance_divergence(n_a, n_b, n_bands)
    assert abs(np.mean(drawn) - expected) < 4 * error
    assert chance_divergence(n_bands + 2, 90, n_bands) == float("inf")
    few = samples(rng, n_bands + 2, n_bands)
    assert corrected_divergence(few, samples(rng, 90, n_bands, shift=9)) == 0


def test_correlations_as_numpy_has_them() -> None:
    values = np.random.default_rng(2).normal(0, 1, (60, 4)) @ np.arange(16).reshape(4, 4)
    values[:, 3] = 7
    found = compute_statistics(values).correlation
    assert found[:3, :3] == pytest.approx(np.corrcoef(values[:, :3], rowvar=False))
    assert (np.diag(found)[:3] == 1).all()
    assert np.isnan(found[3]).all() and np.isnan(found[:, 3]).all()


@pytest.mark.parametrize("n_bands", [3, 6, 10])
def test_two_samples_of_one_class_are_not_apart_at_ten_pixels_per_band(n_bands: int) -> None:
    rng = np.random.default_rng(5)
    n = 10 * n_bands
    values = [
        saturating(corrected(samples(rng, n, n_bands), samples(rng, n, n_bands)))
        for _ in range(200)
    ]
    plain = jeffries_matusita(samples(rng, n, n_bands), samples(rng, n, n_bands))
    assert np.mean(values) < 0.1 < plain


def test_what_is_apart_stays_apart() -> None:
    """The correction takes chance off, and nothing else: near the classes' own distance."""
    rng = np.random.default_rng(6)
    truth = bhattacharyya(
        gaussian([0] * 4, np.eye(4).tolist()), gaussian([1] * 4, np.eye(4).tolist())
    )
    found = [corrected(samples(rng, 60, 4), samples(rng, 60, 4, 1.0)) for _ in range(300)]
    assert np.mean(found) == pytest.approx(truth, rel=0.1)
