"""Gaussian naive Bayes: maximum likelihood with bands taken to be independent."""

import numpy as np

from kitesort.core.classify.methods._learning import require_classes
from kitesort.core.classify.methods._quadratic import (
    LikelihoodSettings,
    likelihood_model,
    require_variety,
    restore,
)
from kitesort.core.classify.protocol import ClassifierSpec, TrainedClassifier
from kitesort.core.engine import Watch
from kitesort.core.settings import Settings
from kitesort.core.training.samples import TrainingSamples


def fit(
    samples: TrainingSamples, settings: Settings, _seed: int, _watch: Watch
) -> TrainedClassifier:
    """Mean and variance (divisor n - 1) of each band in each class.

    Raises
    ------
    TooFewClassesError, TooFewPixelsError, SingularCovarianceError

    Source: Hastie, Tibshirani & Friedman, The Elements of Statistical Learning, section 6.6.3.
    """
    assert isinstance(settings, LikelihoodSettings)
    require_classes(samples)
    statistics = samples.statistics
    for code, s in statistics.items():
        require_variety(s, samples.names[code], samples.roles, "naive Bayes", 2)
    covariances = [np.diag(np.diag(s.covariance)) for s in statistics.values()]
    return likelihood_model(samples, statistics, covariances, settings)


SPEC = ClassifierSpec(
    id="naive-bayes",
    version=1,
    title="Naive Bayes",
    good_for="Many layers and few pixels: only means and spreads are learnt, band by band.",
    source="Hastie, Tibshirani & Friedman, The Elements of Statistical Learning",
    settings=LikelihoodSettings,
    scores="log likelihood",
    fit=fit,
    restore=restore,
    least_pixels=lambda _: 2,
)
