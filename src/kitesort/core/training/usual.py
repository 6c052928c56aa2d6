"""What a class usually looks like, whatever bad sites it has, and how far pixels are from it."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import numpy.typing as npt
from scipy.special import gammaincinv

from kitesort.core.group_statistics import compute_statistics
from kitesort.core.legend import CodeArray, code_array
from kitesort.core.training.samples import TrainingSamples
from kitesort.core.training.separability import is_enough

MOST_PIXELS = 500  # of a class, taken evenly from its sites: more change little and take long
AT_ONCE = 2**13  # pixels, so that memory is bounded
USUAL_SHARE = 0.99  # of a class's own pixels are expected within the limit
Float64 = npt.NDArray[np.float64]


@dataclass(frozen=True)
class UsualClass:
    """Centre (bands,) and covariance (bands, bands) of most of a class's pixels."""

    centre: Float64
    covariance: Float64

    @cached_property
    def _whitening(self) -> Float64:
        return np.asarray(np.linalg.inv(np.linalg.cholesky(self.covariance)))

    def squared_distances(self, values: npt.NDArray[np.floating]) -> Float64:
        """Squared Mahalanobis distances (n,) of pixels (n, bands)."""
        white = (values - self.centre) @ self._whitening.T
        return np.asarray(np.einsum("ij,ij->i", white, white))

    def discriminant(self, centre: Float64, scale: Float64) -> tuple[Float64, float]:
        """The log likelihood of a Gaussian, without the constant that all classes share, as a sum:
        coefficients of the products of bands i >= j, then of the bands, and what is added. Bands
        less ``centre`` times ``scale``, so that the sums keep their digits."""
        root = self._whitening / scale
        precision = root.T @ root
        here = (self.centre - centre) * scale
        i, j = np.tril_indices(len(here))
        products = -precision[i, j] * np.where(i == j, 0.5, 1.0)
        linear = precision @ here
        log_root = float(np.log(np.diag(self._whitening)).sum())
        return np.concatenate([products, linear]), log_root - float(here @ linear) / 2


def usual_limit(n_bands: int) -> float:
    """Squared distance within which all but one in a hundred of a Gaussian class's pixels lie: a
    quantile of the chi-squared distribution."""
    return float(2 * gammaincinv(n_bands / 2, USUAL_SHARE))


def usual_class(
    values: npt.NDArray[np.floating], sites: npt.NDArray[np.integer], seed: int = 0
) -> UsualClass | None:
    """What most pixels (n, bands) of one class look like: the minimum covariance determinant of at
    most 500 of them, taken evenly from its sites (n,). None with too few pixels, or where bands
    repeat one another.

    Source: P. J. Rousseeuw and K. Van Driessen 1999, Technometrics 41:212-223, as scikit-learn does
    it.
    """
    from sklearn import config_context  # slow to import, and only needed here
    from sklearn.covariance import MinCovDet

    class Quick(MinCovDet):
        """Looking at every argument of its own calls would take it as long as the sums."""

        _nonrobust_covariance = staticmethod(_covariance)

    some = values[_evenly(sites)].astype(np.float64)
    if not is_enough(len(some), some.shape[1]):
        return None
    if np.linalg.matrix_rank(compute_statistics(some).covariance) < some.shape[1]:
        return None
    try:
        with config_context(assume_finite=True, skip_parameter_validation=True):
            found = Quick(random_state=seed).fit(some)
        np.linalg.cholesky(found.covariance_)
    except (ValueError, np.linalg.LinAlgError):  # most pixels lie in a plane
        return None
    return UsualClass(found.location_, found.covariance_)


def _covariance(values: Float64, assume_centered: bool = False) -> Float64:
    """As likely as can be: divisor n, which scikit-learn wants here."""
    apart = values if assume_centered else values - values.mean(axis=0)
    return apart.T @ apart / len(values)


def usual_classes(samples: TrainingSamples) -> dict[int, UsualClass]:
    """Of every class that has the pixels for it, by code."""
    of_each = {c: samples.codes == c for c in samples.class_codes}
    found = {c: usual_class(samples.values[at], samples.sites[at]) for c, at in of_each.items()}
    return {code: one for code, one in found.items() if one is not None}


def likeliest(usual: dict[int, UsualClass], values: npt.NDArray[np.floating]) -> CodeArray:
    """The class that each pixel (n, bands) looks like most; codes (n,)."""
    codes = code_array(usual)
    centre = np.mean([one.centre for one in usual.values()], axis=0)
    spread = np.mean([np.diag(one.covariance) for one in usual.values()], axis=0)
    scale = 1 / np.sqrt(spread)
    sums = [one.discriminant(centre, scale) for one in usual.values()]
    coefficients, added = np.stack([row for row, _ in sums]), np.array([last for _, last in sums])
    pairs = list(zip(*np.tril_indices(len(centre)), strict=True))
    found = np.empty(len(values), np.uint16)
    for start in range(0, len(values), AT_ONCE):
        x = ((values[start : start + AT_ONCE] - centre) * scale).T
        terms = np.empty((coefficients.shape[1], x.shape[1]))
        for term, (i, j) in zip(terms, pairs, strict=False):
            np.multiply(x[i], x[j], out=term)
        terms[len(pairs) :] = x
        scores = coefficients @ terms + added[:, None]
        found[start : start + AT_ONCE] = codes[scores.argmax(axis=0)]
    return found


def _evenly(sites: npt.NDArray[np.integer]) -> npt.NDArray[np.intp]:
    """Places of at most 500 pixels, as many of each site as far as it has them, spread over it."""
    if len(sites) <= MOST_PIXELS:
        return np.arange(len(sites))
    order = np.argsort(sites, kind="stable")
    _, starts, sizes = np.unique(sites[order], return_index=True, return_counts=True)
    each = _share(sizes, MOST_PIXELS)
    places = [
        order[start + ((np.arange(n) + 0.5) * size / n).astype(np.int64)]
        for start, size, n in zip(starts, sizes, each, strict=True)
    ]
    return np.sort(np.concatenate(places))[:MOST_PIXELS]


def _share(sizes: npt.NDArray[np.intp], most: int) -> npt.NDArray[np.int64]:
    """The largest number that all may give, small sites giving all they have; at least one each."""
    low, high = 1, int(sizes.max())
    while low < high:
        middle = (low + high + 1) // 2
        if np.minimum(sizes, middle).sum() <= most:
            low = middle
        else:
            high = middle - 1
    return np.minimum(sizes, low)
