"""Gaussian maximum likelihood."""

from kitesort.core.classify.methods._learning import require_classes
from kitesort.core.classify.methods._quadratic import (
    LikelihoodSettings,
    likelihood_model,
    require_spread,
    restore,
)
from kitesort.core.classify.protocol import ClassifierSpec, TrainedClassifier
from kitesort.core.engine import Watch
from kitesort.core.settings import Settings
from kitesort.core.training.samples import TrainingSamples


class MaximumLikelihoodSettings(LikelihoodSettings):
    pass


def fit(
    samples: TrainingSamples, settings: Settings, _seed: int, _watch: Watch
) -> TrainedClassifier:
    """Train from pixels; class covariances with divisor n - 1.

    Raises
    ------
    TooFewClassesError : fewer than two classes.
    TooFewPixelsError : a class with fewer pixels than bands + 1.
    SingularCovarianceError : a class whose bands are constant or collinear.

    Source: Richards, Remote Sensing Digital Image Analysis, "Maximum likelihood classification"
    (discriminant ln p - ½ ln det S - ½ d' S^-1 d).
    """
    assert isinstance(settings, MaximumLikelihoodSettings)
    require_classes(samples)
    statistics = samples.statistics
    for code, s in statistics.items():
        require_spread(s, samples.names[code], samples.roles, "maximum likelihood")
    covariances = [s.covariance for s in statistics.values()]
    return likelihood_model(samples, statistics, covariances, settings)


SPEC = ClassifierSpec(
    id="maximum-likelihood",
    version=1,
    title="Maximum likelihood",
    good_for="Covers whose values scatter like a bell curve; uses how bands vary together.",
    source="Richards, Remote Sensing Digital Image Analysis; Swain & Davis 1978",
    settings=MaximumLikelihoodSettings,
    scores="log likelihood",
    fit=fit,
    restore=restore,
    least_pixels=lambda n_bands: n_bands + 1,
)
