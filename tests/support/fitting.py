"""Maximum likelihood as most tests want it: without a seed, watched by nobody."""

from kitesort.core.classify.methods import maximum_likelihood
from kitesort.core.classify.methods.maximum_likelihood import MaximumLikelihoodSettings
from kitesort.core.classify.protocol import TrainedClassifier
from kitesort.core.engine import Watch
from kitesort.core.training.samples import TrainingSamples


def fit(samples: TrainingSamples, settings: MaximumLikelihoodSettings) -> TrainedClassifier:
    return maximum_likelihood.fit(samples, settings, 0, Watch())
