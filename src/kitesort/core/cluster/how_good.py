"""How well a number of clusters fits."""

import numpy as np
import numpy.typing as npt

TINY = 1e-300


def variance_ratio(n: int, k: int, between: float, within: float) -> float:
    """Variance between clusters over that within, each per degree of freedom; not-a-number where
    nothing is left within.

    Source: T. Caliński & J. Harabasz 1974, Communications in Statistics 3:1-27.
    """
    if k < 2 or n <= k or within <= 0:
        return float("nan")
    return (between / (k - 1)) / (within / (n - k))


def spherical_criterion(sizes: npt.NDArray[np.int64], within: float, n_bands: int) -> float:
    """The Bayesian information criterion of clusters as round normal densities of one variance;
    smaller is better. ``sizes`` (clusters,), ``within``: sum of squared distances to the means.

    Source: Pelleg & Moore 2000 (X-means), with twice the sign: -2 log likelihood + parameters ×
    log n; G. Schwarz 1978, Annals of Statistics 6:461-464.
    """
    n, k = int(sizes.sum()), len(sizes)
    free = max(n - k, 1) * n_bands
    variance = max(within / free, TINY)
    filled = sizes[sizes > 0]
    likelihood = (
        float((filled * np.log(filled)).sum())
        - n * np.log(n)
        - n * n_bands / 2 * np.log(2 * np.pi * variance)
        - free / 2
    )
    n_parameters = (k - 1) + k * n_bands + 1
    return float(-2 * likelihood + n_parameters * np.log(n))
