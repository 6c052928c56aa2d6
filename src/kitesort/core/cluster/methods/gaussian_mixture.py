"""A mixture of normal densities."""

import warnings
from typing import Any, Literal

import numpy as np
from pydantic import Field
from threadpoolctl import threadpool_limits

from kitesort.core.cluster.methods._lloyd import Rest, settle_best
from kitesort.core.cluster.protocol import ClusteringSpec, CountedSettings, Partition
from kitesort.core.engine import Progress, Watch
from kitesort.core.errors import SingularCovarianceError
from kitesort.core.group_statistics import Float64Array
from kitesort.core.settings import Settings, titled

ROUNDS_AT_ONCE = 3  # between two looks at whether it is still wanted
LEAST_VARIANCE = 1e-6  # of the whole sample's mean variance, added so that none becomes nothing
SMALLEST = 1e-4  # of that in any direction: less has collapsed


class MixtureSettings(CountedSettings):
    covariance: Literal["full", "tied", "diagonal"] = Field(
        "full",
        title="Shape",
        description="What extent and direction the clusters may have.",
        json_schema_extra=titled(
            {
                "full": "each its own",
                "tied": "one for all",
                "diagonal": "each its own, layers apart",
            }
        ),
    )
    iterations: int = Field(100, ge=1, le=1000, title="Rounds at most", description="Of refining.")
    tolerance: float = Field(
        0.001,
        gt=0,
        le=1,
        title="Good enough",
        description="It ends when a round raises the mean log likelihood by less.",
        json_schema_extra={"step": 0.001},
    )


def fit(
    pixels: Float64Array, settings: Settings, seed: int, _known: Float64Array | None, watch: Watch
) -> Partition:
    """Expectation and maximisation, from the clusters of k-means.

    Source: A. P. Dempster, N. M. Laird & D. B. Rubin 1977, Journal of the Royal Statistical Society
    B 39:1-38; scikit-learn's GaussianMixture.

    Raises
    ------
    InputError : fewer different pixels than clusters.
    SingularCovarianceError : a cluster shrinks to pixels that are all the same. CancelledError
    """
    assert isinstance(settings, MixtureSettings)
    rest = settle_best(pixels, settings.n_clusters, "random", seed, watch=watch.silently())
    with threadpool_limits(1):  # sums in one order, on every machine
        mixture, n_rounds = _refine(pixels, rest, settings, seed, watch)
    covariances = _whole(mixture, settings.covariance, settings.n_clusters)
    _require_wide(pixels, covariances, mixture.weights_)
    end = "at rest" if mixture.converged_ else "still moving"
    said = f"{n_rounds} rounds, {end}; mean log likelihood {mixture.lower_bound_:.3f}"
    n_free = np.size(mixture.covariances_)
    if settings.covariance != "diagonal":
        n_free = (n_free + n_free // pixels.shape[1]) // 2  # the two halves of each are the same
    return Partition(mixture.means_, covariances, mixture.weights_, n_free, (said,))


def _refine(
    pixels: Float64Array, rest: Rest, settings: MixtureSettings, seed: int, watch: Watch
) -> tuple[Any, int]:
    from sklearn.exceptions import ConvergenceWarning
    from sklearn.mixture import GaussianMixture

    kind = "diag" if settings.covariance == "diagonal" else settings.covariance
    sizes = np.bincount(rest.labels, minlength=len(rest.centres))
    mixture = GaussianMixture(
        len(rest.centres),
        covariance_type=kind,
        tol=settings.tolerance,
        reg_covar=LEAST_VARIANCE * float(pixels.var(axis=0).mean()),
        max_iter=ROUNDS_AT_ONCE,
        means_init=rest.centres,
        weights_init=np.maximum(sizes, 1) / np.maximum(sizes, 1).sum(),
        random_state=seed,
        warm_start=True,
    )
    done = 0
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", ConvergenceWarning)
        while done < settings.iterations:
            watch.require_wanted()
            try:
                mixture.set_params(max_iter=min(ROUNDS_AT_ONCE, settings.iterations - done))
                mixture.fit(pixels)
            except ValueError as error:
                raise _collapsed() from error
            done += mixture.n_iter_
            watch.progress(Progress(done / settings.iterations, None))
            if mixture.converged_:
                break
    return mixture, done


def _whole(mixture: Any, kind: str, k: int) -> Float64Array:
    """Covariances (clusters, bands, bands), whatever was asked to be the same."""
    found = mixture.covariances_
    if kind == "tied":
        return np.repeat(found[None], k, axis=0)
    if kind == "diagonal":
        return np.stack([np.diag(row) for row in found])
    return np.asarray(found)


def _require_wide(pixels: Float64Array, covariances: Float64Array, weights: Float64Array) -> None:
    least = SMALLEST * float(pixels.var(axis=0).min())
    few = weights * len(pixels) < pixels.shape[1] + 1
    narrow = np.linalg.eigvalsh(covariances).min(axis=1) < least
    if (few | narrow).any():
        raise _collapsed()


def _collapsed() -> SingularCovarianceError:
    return SingularCovarianceError(
        "A cluster has shrunk to pixels that are all but the same, so that it has no extent. Ask "
        "for fewer clusters, leave out layers that repeat others, or let all have one shape."
    )


SPEC = ClusteringSpec(
    id="gaussian-mixture",
    version=1,
    title="Gaussian mixture",
    good_for="Clusters of different extent and direction, with how likely each is.",
    source="Dempster, Laird & Rubin 1977",
    settings=MixtureSettings,
    fit=fit,
    draws=True,
    judged_by="criterion",
)
