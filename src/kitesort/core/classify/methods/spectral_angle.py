"""The angle between a pixel's spectrum and those of the classes."""

from collections.abc import Mapping
from dataclasses import dataclass
from math import cos, radians
from typing import Any

import numpy as np
import numpy.typing as npt
from pydantic import Field

from kitesort.core.classify.arrays import no_classifier, take_codes, take_numbers
from kitesort.core.classify.methods._centre_kernel import score_cosine
from kitesort.core.classify.methods._learning import codes_of, require_classes
from kitesort.core.classify.onnx_graph import Graph
from kitesort.core.classify.protocol import ClassifierSpec, Learnt, TrainedClassifier
from kitesort.core.engine import Watch
from kitesort.core.errors import SingularCovarianceError, TrainingError
from kitesort.core.group_statistics import Float64Array
from kitesort.core.settings import Settings
from kitesort.core.training.samples import TrainingSamples

NO_DIRECTION = -2.0  # below every cosine: a pixel that is zero in all bands
ANY_ANGLE = -1.0 - 1e-9


class SpectralAngleSettings(Settings):
    largest_angle: float = Field(
        0.0,
        title="Largest angle",
        description="In degrees; pixels that point further away from every class stay "
        "unclassified. 0 is no limit.",
        ge=0,
        le=180,
        json_schema_extra={"step": 0.5, "unit": "°"},
    )


@dataclass(frozen=True)
class TrainedSpectralAngle(Learnt):
    """``directions`` (classes, bands): mean spectra of unit length."""

    directions: Float64Array

    def scores(self, values: npt.NDArray[np.float32]) -> Float64Array:
        """Cosines of the angles, -2 where a pixel is zero in every band."""
        pixels = np.ascontiguousarray(values, np.float32)
        out = np.empty((len(self.codes), pixels.shape[1]), np.float64)
        score_cosine(pixels, self.directions, NO_DIRECTION, out)
        return out

    def graph(self, graph: Graph) -> str:
        length = graph.op("Sqrt", graph.sum(graph.op("Mul", graph.x, graph.x), 1, keep=True))
        there = graph.op("Greater", length, graph.const(np.float64(0)))
        safe = graph.op("Where", there, length, graph.const(np.float64(1)))
        along = graph.op("MatMul", graph.x, graph.const(np.ascontiguousarray(self.directions.T)))
        cosines = graph.op("Div", along, safe)
        return graph.op("Where", there, cosines, graph.const(np.float64(NO_DIRECTION)))


def fit(
    samples: TrainingSamples, settings: Settings, _seed: int, _watch: Watch
) -> TrainedClassifier:
    """The least angle to the classes' mean spectra wins; brightness plays no part.

    Raises
    ------
    TooFewClassesError, TrainingError : one band only.
    SingularCovarianceError : a class whose mean is zero in every band.

    Source: F. A. Kruse et al. 1993, Remote Sensing of Environment 44:145-163.
    """
    assert isinstance(settings, SpectralAngleSettings)
    require_classes(samples)
    if len(samples.roles) < 2:
        raise TrainingError("An angle needs at least two bands. Choose another one as well.")
    statistics = samples.statistics
    means = np.stack([s.mean for s in statistics.values()])
    lengths = np.linalg.norm(means, axis=1)
    for code, length in zip(statistics, lengths, strict=True):
        if length == 0:
            raise SingularCovarianceError(
                f"The mean of {samples.names[code]} is zero in every band, so that it points "
                "nowhere. Draw sites with values, or choose another method."
            )
    least = cos(radians(settings.largest_angle)) if settings.largest_angle > 0 else ANY_ANGLE
    return TrainedSpectralAngle(
        samples.roles,
        codes_of(samples),
        np.full(len(means), least),
        means / lengths[:, None],
    )


def restore(roles: tuple[str, ...], arrays: Mapping[str, npt.NDArray[Any]]) -> TrainedSpectralAngle:
    """Raises BadClassifierError where shapes or numbers do not fit."""
    codes = take_codes(arrays)
    directions = take_numbers(arrays, "directions", (len(codes), len(roles)))
    if not np.allclose(np.linalg.norm(directions, axis=1), 1):
        raise no_classifier()
    return TrainedSpectralAngle(
        roles, codes, take_numbers(arrays, "lowest", (len(codes),)), directions
    )


SPEC = ClassifierSpec(
    id="spectral-angle",
    version=1,
    title="Spectral angle",
    good_for="The same cover in light and shade: the shape of the spectrum counts, not brightness.",
    source="Kruse et al. 1993, Remote Sensing of Environment 44:145-163",
    settings=SpectralAngleSettings,
    scores="cosine",
    fit=fit,
    restore=restore,
)
