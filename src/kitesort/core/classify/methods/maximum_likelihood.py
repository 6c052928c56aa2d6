"""Gaussian maximum likelihood."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
import numpy.typing as npt
from pydantic import Field
from scipy.special import chdtri

from kitesort.core.classify.methods._quadratic_kernel import (
    chunk_size,
    classify_quadratic,
    score_quadratic,
)
from kitesort.core.classify.protocol import (
    ClassifierSpec,
    CodeArray,
    TrainedClassifier,
    TrainingSamples,
)
from kitesort.core.classify.stored import take_codes, take_numbers
from kitesort.core.engine import Watch
from kitesort.core.errors import (
    BadClassifierError,
    SingularCovarianceError,
    TooFewClassesError,
    TooFewPixelsError,
)
from kitesort.core.group_statistics import ClassStatistics, Float64Array
from kitesort.core.settings import Settings, titled

# Covariances whose correlation form is worse conditioned than this carry no usable inverse.
LARGEST_CONDITION = 1e9


class MaximumLikelihoodSettings(Settings):
    priors: Literal["equal", "pixels"] = Field(
        "equal",
        title="Prior probabilities",
        description="By training pixels is right only if the sites were drawn in proportion to "
        "the ground.",
        json_schema_extra=titled(
            {
                "equal": "equal, no class is favoured",
                "pixels": "by training pixels",
            }
        ),
    )
    reject_share: float = Field(
        0.0,
        title="Leave unlikely pixels unclassified",
        description="Share of a class's own pixels that may be turned away, 0 to 0.5. At 0.01 a "
        "pixel stays unclassified if it is less likely than 99 % of the pixels of its best class. "
        "0 classifies every pixel.",
        ge=0.0,
        le=0.5,
        json_schema_extra={"step": 0.01},
    )


@dataclass(frozen=True)
class TrainedMaximumLikelihood:
    """Quadratic discriminants over centred and scaled bands.

    ``coefficients`` (classes, features); ``lowest`` (classes,) is the least discriminant that is
    not turned away.
    """

    roles: tuple[str, ...]
    codes: CodeArray
    centre: Float64Array
    scale: Float64Array
    coefficients: Float64Array
    lowest: Float64Array

    def scores(self, values: npt.NDArray[np.float32]) -> Float64Array:
        """Logarithms of prior times density, but for a constant that all classes share."""
        pixels = np.ascontiguousarray(values, np.float32)
        out = np.empty((len(self.codes), pixels.shape[1]), np.float64)
        score_quadratic(
            pixels,
            self.centre,
            self.scale,
            self.coefficients,
            chunk_size(*self.coefficients.shape),
            out,
        )
        return out

    def arrays(self) -> dict[str, npt.NDArray[Any]]:
        names = ("codes", "centre", "scale", "coefficients", "lowest")
        return {name: getattr(self, name) for name in names}

    def classify(self, values: npt.NDArray[np.float32]) -> CodeArray:
        pixels = np.ascontiguousarray(values, np.float32)
        out = np.empty(pixels.shape[1], np.uint8)
        classify_quadratic(
            pixels,
            self.centre,
            self.scale,
            self.coefficients,
            self.lowest,
            self.codes,
            chunk_size(*self.coefficients.shape),
            out,
        )
        return out


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
    statistics = samples.statistics()
    if len(statistics) < 2:
        raise TooFewClassesError(
            "A classification needs at least two classes with training sites. Draw a second class."
        )
    n_total = sum(s.n_pixels for s in statistics.values())
    centre = np.mean([s.mean for s in statistics.values()], axis=0)
    spread = samples.values.std(axis=0, dtype=np.float64)
    scale = 1 / np.where(spread > 0, spread, 1.0)
    rows, constants = [], []
    for code, s in statistics.items():
        precision, log_det = _invert_covariance(s, samples.names[code], samples.roles, scale)
        prior = 1 / len(statistics) if settings.priors == "equal" else s.n_pixels / n_total
        constants.append(np.log(prior) - log_det / 2)
        rows.append(_discriminant_row(precision, (s.mean - centre) * scale, constants[-1]))
    reject = settings.reject_share
    furthest = float(chdtri(len(samples.roles), reject)) if reject > 0 else np.inf
    return TrainedMaximumLikelihood(
        samples.roles,
        np.array(list(statistics), np.uint8),
        centre,
        scale,
        np.stack(rows),
        np.array(constants) - furthest / 2,
    )


def restore(
    roles: tuple[str, ...], arrays: Mapping[str, npt.NDArray[Any]]
) -> TrainedMaximumLikelihood:
    """Raises BadClassifierError where shapes or numbers do not fit."""
    n_bands = len(roles)
    n_features = n_bands * (n_bands + 1) // 2 + n_bands + 1
    n_classes = len(take_codes(arrays))
    model = TrainedMaximumLikelihood(
        roles,
        take_codes(arrays),
        take_numbers(arrays, "centre", (n_bands,)),
        take_numbers(arrays, "scale", (n_bands,)),
        take_numbers(arrays, "coefficients", (n_classes, n_features)),
        take_numbers(arrays, "lowest", (n_classes,), endless=True),
    )
    if not (model.scale > 0).all():
        raise BadClassifierError("The classifier's file holds a scale that is none.")
    return model


def _discriminant_row(precision: Float64Array, mean: Float64Array, constant: float) -> Float64Array:
    """constant - ½ (x - m)' P (x - m) as coefficients of x_i x_j (i ≥ j), x_i and 1."""
    i, j = np.tril_indices(len(mean))
    products = -precision[i, j] * np.where(i == j, 0.5, 1.0)
    linear = precision @ mean
    return np.concatenate([products, linear, [constant - mean @ linear / 2]])


def _invert_covariance(
    s: ClassStatistics, name: str, roles: tuple[str, ...], scale: Float64Array
) -> tuple[Float64Array, float]:
    """Inverse and log determinant of a class's covariance in scaled bands."""
    n_bands = len(roles)
    if s.n_pixels < n_bands + 1:
        raise TooFewPixelsError(
            f"{name} has {s.n_pixels} training pixels; maximum likelihood with {n_bands} bands "
            f"needs at least {n_bands + 1}. Draw more of it, or use fewer bands."
        )
    spread = s.standard_deviation
    flat = spread <= 1e-9 * np.abs(s.mean)
    constant = [role for role, is_flat in zip(roles, flat, strict=True) if is_flat]
    if constant:
        raise SingularCovarianceError(
            f"All training pixels of {name} have the same value in {', '.join(constant)}. "
            "Draw sites with more variety, or leave that band out."
        )
    if np.linalg.cond(s.covariance / np.outer(spread, spread)) > LARGEST_CONDITION:
        raise SingularCovarianceError(
            f"The bands of {name} repeat one another exactly in its training pixels, so that its "
            "covariance cannot be inverted. Draw more sites of it, or leave a band out."
        )
    covariance = s.covariance * np.outer(scale, scale)
    return np.asarray(np.linalg.inv(covariance), np.float64), float(
        np.linalg.slogdet(covariance)[1]
    )


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
)
