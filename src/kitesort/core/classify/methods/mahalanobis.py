"""Mahalanobis distance to class means."""

from typing import Literal

import numpy as np
from pydantic import Field

from kitesort.core.classify.methods._learning import no_limit, require_classes
from kitesort.core.classify.methods._quadratic import (
    Frame,
    TrainedQuadratic,
    pooled_covariance,
    require_spread,
    restore,
)
from kitesort.core.classify.protocol import ClassifierSpec, TrainedClassifier
from kitesort.core.engine import Watch
from kitesort.core.legend import code_array
from kitesort.core.settings import Settings, titled
from kitesort.core.training.samples import TrainingSamples


class MahalanobisSettings(Settings):
    covariance: Literal["pooled", "class"] = Field(
        "pooled",
        title="Spread",
        description="By which spread distances are measured: one within all classes, or each "
        "class's own. With their own, wide classes win pixels that are far from all.",
        json_schema_extra=titled({"pooled": "one for all classes", "class": "of each class"}),
    )
    largest_distance: float = Field(
        0.0,
        title="Largest distance",
        description="In standard deviations; pixels further from every class stay unclassified. 0 "
        "is no limit.",
        ge=0,
        le=1e6,
        json_schema_extra={"step": 0.5},
    )


def fit(
    samples: TrainingSamples, settings: Settings, _seed: int, _watch: Watch
) -> TrainedClassifier:
    """Scores are minus the squared distance (x - m)' S^-1 (x - m).

    Raises
    ------
    TooFewClassesError, TooFewPixelsError, SingularCovarianceError

    Source: P. C. Mahalanobis 1936; Richards, Remote Sensing Digital Image Analysis.
    """
    assert isinstance(settings, MahalanobisSettings)
    require_classes(samples)
    statistics = samples.statistics
    frame = Frame.of(samples, statistics)
    if settings.covariance == "pooled":
        shared = pooled_covariance(statistics)
        covariances = [shared] * len(statistics)
    else:
        for code, s in statistics.items():
            require_spread(s, samples.names[code], samples.roles, "Mahalanobis distance")
        covariances = [s.covariance for s in statistics.values()]
    rows = [
        2 * frame.row(frame.invert(covariance)[0], s.mean, 0.0)
        for s, covariance in zip(statistics.values(), covariances, strict=True)
    ]
    lowest = no_limit(len(rows))
    if settings.largest_distance > 0:
        lowest = np.full(len(rows), -(settings.largest_distance**2))
    codes = code_array(statistics)
    return TrainedQuadratic(samples.roles, codes, lowest, frame.centre, frame.scale, np.stack(rows))


SPEC = ClassifierSpec(
    id="mahalanobis",
    version=1,
    title="Mahalanobis distance",
    good_for="Nearness measured by how bands scatter and vary together; classes weigh the same.",
    source="Mahalanobis 1936; Richards, Remote Sensing Digital Image Analysis",
    settings=MahalanobisSettings,
    scores="squared distance",
    fit=fit,
    restore=restore,
    least_pixels=lambda n_bands: n_bands + 1,
)
