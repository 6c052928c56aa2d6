"""How far apart two Gaussian classes are."""

import numpy as np

from kitesort.core.errors import SingularCovarianceError
from kitesort.core.group_statistics import ClassStatistics


def bhattacharyya(a: ClassStatistics, b: ClassStatistics) -> float:
    """Bhattacharyya distance of two Gaussian classes, 0 (same) upwards.

    Raises
    ------
    SingularCovarianceError : a class has too few or collinear pixels.

    Source: Swain & Davis 1978; Richards, Remote Sensing Digital Image Analysis.
    """
    mean_covariance = (a.covariance + b.covariance) / 2
    signs, logs = np.linalg.slogdet(np.stack([mean_covariance, a.covariance, b.covariance]))
    if (signs <= 0).any() or not np.isfinite(logs).all():
        raise SingularCovarianceError("A class has too few or too uniform pixels to compare.")
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
    return float(2 * -np.expm1(-bhattacharyya(a, b)))
