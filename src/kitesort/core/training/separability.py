"""How far apart two Gaussian classes are, from samples of them.

Distances of samples are too large: two samples of one class already look apart, the more so the
fewer pixels and the more bands. ``chance_distance`` is what is expected of them by chance alone,
and ``corrected`` takes it off.
"""

import numpy as np
from scipy.special import digamma

from kitesort.core.errors import SingularCovarianceError
from kitesort.core.group_statistics import ClassStatistics

MORE_THAN_BANDS = 2  # pixels of a class: below that its covariance says nothing


def bhattacharyya(a: ClassStatistics, b: ClassStatistics) -> float:
    """Bhattacharyya distance of two Gaussian classes, 0 (same) upwards.

    Raises
    ------
    SingularCovarianceError : a class has too few or collinear pixels.

    Source: Swain & Davis 1978; Richards, Remote Sensing Digital Image Analysis.
    """
    mean_covariance = (a.covariance + b.covariance) / 2
    logs = _log_determinants(mean_covariance, a.covariance, b.covariance)
    difference = a.mean - b.mean
    distance = difference @ np.linalg.solve(mean_covariance, difference) / 8
    return float(max(0.0, distance + (logs[0] - (logs[1] + logs[2]) / 2) / 2))


def jeffries_matusita(a: ClassStatistics, b: ClassStatistics) -> float:
    """Separability of two Gaussian classes, 0 (same) to 2 (fully apart).

    Raises
    ------
    SingularCovarianceError : a class has too few or collinear pixels.

    Source: Swain & Davis 1978; JM = 2 (1 - exp(-B)) with B the Bhattacharyya distance.
    """
    return saturating(bhattacharyya(a, b))


def transformed_divergence(a: ClassStatistics, b: ClassStatistics) -> float:
    """Separability of two Gaussian classes by their divergence, 0 (same) to 2 (fully apart).

    Raises
    ------
    SingularCovarianceError : a class has too few or collinear pixels.

    Source: Swain & Davis 1978: D = ½ tr((S1 - S2)(S2⁻¹ - S1⁻¹)) + ½ tr((S1⁻¹ + S2⁻¹) d d'),
    TD = 2 (1 - exp(-D / 8)).
    """
    return saturating(divergence(a, b) / 8)


def divergence(a: ClassStatistics, b: ClassStatistics) -> float:
    """Divergence of two Gaussian classes, 0 (same) upwards; see ``transformed_divergence``.

    Raises
    ------
    SingularCovarianceError : a class has too few or collinear pixels.
    """
    _log_determinants(a.covariance, b.covariance)
    one, two = np.linalg.inv(a.covariance), np.linalg.inv(b.covariance)
    difference = a.mean - b.mean
    spread = np.trace((a.covariance - b.covariance) @ (two - one)) / 2
    place = difference @ (one + two) @ difference / 2
    return float(max(0.0, spread + place))


def chance_distance(n_a: int, n_b: int, n_bands: int) -> float:
    """The Bhattacharyya distance to be expected of two samples of one Gaussian class.

    With S = W / (n - 1), W a Wishart matrix: E ln|S| = Σ ψ((n - j) / 2) + p ln(2 / (n - 1)) over
    j = 1 … p; the mean of both covariances is taken for a Wishart matrix with the degrees of
    freedom ν that give it its variance; means add p (1/n_a + 1/n_b) ν / (8 (ν - p - 1)).

    Source: R. J. Muirhead 1982, Aspects of Multivariate Statistical Theory (expected logarithm of a
    Wishart determinant) and F. E. Satterthwaite 1946, Biometrics Bulletin 2:110-114 (degrees of
    freedom of a mean), both from memory; confirmed in the tests by drawing samples.
    """
    freedom_a, freedom_b = n_a - 1, n_b - 1
    freedom = 4 / (1 / freedom_a + 1 / freedom_b)
    logs = (
        _expected_log(freedom, n_bands)
        - (_expected_log(freedom_a, n_bands) + _expected_log(freedom_b, n_bands)) / 2
    )
    means = n_bands * (1 / n_a + 1 / n_b) * freedom / (8 * max(freedom - n_bands - 1, 0.5))
    return float(means + logs / 2)


def chance_divergence(n_a: int, n_b: int, n_bands: int) -> float:
    """The divergence to be expected of two samples of one Gaussian class; infinite where a class
    has so few pixels that there is no bound to it.

    With f = n - 1 and E S⁻¹ = Σ⁻¹ f / (f - p - 1): covariances add p (w_a + w_b - 2) / 2 and means
    p (1/n_a + 1/n_b) (w_a + w_b) / 2, where w = f / (f - p - 1).

    Source: expected inverse of a Wishart matrix (Muirhead 1982, from memory); confirmed in the
    tests by drawing samples.
    """
    weights = []
    for n in (n_a, n_b):
        freedom = n - 1 - n_bands - 1
        if freedom <= 0:
            return float("inf")
        weights.append((n - 1) / freedom)
    both = sum(weights)
    return n_bands * (both - 2) / 2 + n_bands * (1 / n_a + 1 / n_b) * both / 2


def corrected_divergence(a: ClassStatistics, b: ClassStatistics) -> float:
    """Divergence without what two samples of one class would show by chance.

    Raises
    ------
    SingularCovarianceError
    """
    chance = chance_divergence(a.n_pixels, b.n_pixels, len(a.mean))
    return max(0.0, divergence(a, b) - chance)


def corrected(a: ClassStatistics, b: ClassStatistics) -> float:
    """Bhattacharyya distance without what two samples of one class would show by chance.

    Raises
    ------
    SingularCovarianceError
    """
    chance = chance_distance(a.n_pixels, b.n_pixels, len(a.mean))
    return max(0.0, bhattacharyya(a, b) - chance)


def saturating(distance: float) -> float:
    """From a distance without bound to one from 0 to 2: the Jeffries-Matusita distance of a
    Bhattacharyya distance, the transformed divergence of an eighth of the divergence."""
    return float(2 * -np.expm1(-distance))


def is_enough(n_pixels: int, n_bands: int) -> bool:
    """Whether a class has the pixels that its distances need to say anything."""
    return n_pixels >= n_bands + MORE_THAN_BANDS


def _expected_log(freedom: float, n_bands: int) -> float:
    halves = (freedom + 1 - np.arange(1, n_bands + 1)) / 2
    return float(digamma(np.maximum(halves, 0.25)).sum() + n_bands * np.log(2 / freedom))


def _log_determinants(*covariances: np.ndarray) -> np.ndarray:
    signs, logs = np.linalg.slogdet(np.stack(covariances))
    if (signs <= 0).any() or not np.isfinite(logs).all():
        raise SingularCovarianceError("A class has too few or too uniform pixels to compare.")
    return np.asarray(logs)
