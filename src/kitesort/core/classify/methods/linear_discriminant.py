"""Linear discriminant: normal classes that share one covariance."""

from kitesort.core.classify.methods._learning import require_classes
from kitesort.core.classify.methods._quadratic import (
    LikelihoodSettings,
    likelihood_model,
    pooled_covariance,
    restore,
)
from kitesort.core.classify.protocol import ClassifierSpec, TrainedClassifier
from kitesort.core.engine import Watch
from kitesort.core.settings import Settings
from kitesort.core.training.samples import TrainingSamples


def fit(
    samples: TrainingSamples, settings: Settings, _seed: int, _watch: Watch
) -> TrainedClassifier:
    """Class means, and one covariance within all classes (divisor n - classes).

    Raises
    ------
    TooFewClassesError, TooFewPixelsError, SingularCovarianceError

    Source: R. A. Fisher 1936, Annals of Eugenics 7:179-188; Hastie, Tibshirani & Friedman, The
    Elements of Statistical Learning, section 4.3.
    """
    assert isinstance(settings, LikelihoodSettings)
    require_classes(samples)
    statistics = samples.statistics
    pooled = pooled_covariance(statistics)
    return likelihood_model(samples, statistics, [pooled] * len(statistics), settings)


SPEC = ClassifierSpec(
    id="linear-discriminant",
    version=1,
    title="Linear discriminant",
    good_for="Few training pixels: all classes lend their spread to one another.",
    source="Fisher 1936; Hastie, Tibshirani & Friedman, The Elements of Statistical Learning",
    settings=LikelihoodSettings,
    scores="log likelihood",
    fit=fit,
    restore=restore,
)
