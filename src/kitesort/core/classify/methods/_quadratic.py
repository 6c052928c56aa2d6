"""Quadratic discriminants: what maximum likelihood, its simpler relatives and Mahalanobis' distance
are to a pixel."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
import numpy.typing as npt
from pydantic import Field
from scipy.special import chdtri

from kitesort.core.classify.arrays import take_codes, take_numbers
from kitesort.core.classify.methods._quadratic_kernel import (
    chunk_size,
    classify_quadratic,
    score_quadratic,
)
from kitesort.core.classify.onnx_graph import Graph
from kitesort.core.classify.protocol import Learnt
from kitesort.core.errors import (
    BadClassifierError,
    BadSettingsError,
    SingularCovarianceError,
    TooFewPixelsError,
)
from kitesort.core.group_statistics import ClassStatistics, Float64Array
from kitesort.core.legend import MOST_CLASSES, ClassCode, CodeArray, code_array
from kitesort.core.settings import Settings, titled
from kitesort.core.training.samples import TrainingSamples

# Covariances whose correlation form is worse conditioned than this carry no usable inverse.
LARGEST_CONDITION = 1e9


class TypedPrior(Settings):
    """How likely a class is before the pixel is looked at; only proportions count."""

    code: ClassCode
    prior: float = Field(gt=0, le=1e6)


class LikelihoodSettings(Settings):
    """Of methods that weigh densities."""

    priors: Literal["equal", "pixels", "typed"] = Field(
        "equal",
        title="Prior probabilities",
        description="By training pixels is right only if the sites were drawn in proportion to "
        "the ground. Typed: where the shares of the ground are known from elsewhere.",
        json_schema_extra=titled(
            {
                "equal": "equal, no class is favoured",
                "pixels": "by training pixels",
                "typed": "typed below",
            }
        ),
    )
    typed: tuple[TypedPrior, ...] = Field(
        (),
        title="Typed priors",
        description="In percent or any other unit; a class that is not named gets as much as the "
        "mean of the others.",
        max_length=MOST_CLASSES,
        json_schema_extra={"widget": "priors"},
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
class TrainedQuadratic(Learnt):
    """Quadratic discriminants over centred and scaled bands.

    ``coefficients`` (classes, features) of the products of bands i ≥ j, the bands, and 1;
    ``lowest`` (classes,) is the least discriminant that is not turned away.
    """

    centre: Float64Array
    scale: Float64Array
    coefficients: Float64Array

    def scores(self, values: npt.NDArray[np.float32]) -> Float64Array:
        """The discriminants, but for a constant that all classes share."""
        pixels = np.ascontiguousarray(values, np.float32)
        out = np.empty((len(self.codes), pixels.shape[1]), np.float64)
        chunk = chunk_size(*self.coefficients.shape)
        score_quadratic(pixels, self.centre, self.scale, self.coefficients, chunk, out)
        return out

    def classify(self, values: npt.NDArray[np.float32]) -> CodeArray:
        pixels = np.ascontiguousarray(values, np.float32)
        out = np.empty(pixels.shape[1], np.uint16)
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

    def graph(self, graph: Graph) -> str:
        i, j = np.tril_indices(len(self.roles))
        x = graph.scaled(self.centre, self.scale)
        one, other = (
            graph.op("Gather", x, graph.const(at.astype(np.int64)), axis=1) for at in (i, j)
        )
        features = graph.op("Concat", graph.op("Mul", one, other), x, axis=1)
        weights = graph.const(np.ascontiguousarray(self.coefficients[:, :-1].T))
        sums = graph.op("MatMul", features, weights)
        return graph.op("Add", sums, graph.const(self.coefficients[:, -1].copy()))


def restore(roles: tuple[str, ...], arrays: Mapping[str, npt.NDArray[Any]]) -> TrainedQuadratic:
    """Raises BadClassifierError where shapes or numbers do not fit."""
    n_bands = len(roles)
    n_features = n_bands * (n_bands + 1) // 2 + n_bands + 1
    n_classes = len(take_codes(arrays))
    model = TrainedQuadratic(
        roles,
        take_codes(arrays),
        take_numbers(arrays, "lowest", (n_classes,), endless=True),
        take_numbers(arrays, "centre", (n_bands,)),
        take_numbers(arrays, "scale", (n_bands,)),
        take_numbers(arrays, "coefficients", (n_classes, n_features)),
    )
    if not (model.scale > 0).all():
        raise BadClassifierError("The classifier's file holds a scale that is none.")
    return model


@dataclass(frozen=True)
class Frame:
    """Where discriminants are worked out: bands less ``centre`` times ``scale``, so that the sums
    keep their digits."""

    centre: Float64Array
    scale: Float64Array

    @classmethod
    def of(cls, samples: TrainingSamples, statistics: Mapping[int, ClassStatistics]) -> "Frame":
        spread = samples.values.std(axis=0, dtype=np.float64)
        centre = np.mean([s.mean for s in statistics.values()], axis=0)
        return cls(centre, 1 / np.where(spread > 0, spread, 1.0))

    def row(self, precision: Float64Array, mean: Float64Array, constant: float) -> Float64Array:
        """constant - ½ (x - m)' P (x - m) as coefficients of x_i x_j (i ≥ j), x_i and 1;
        ``precision`` P within the frame, ``mean`` in the bands' own units."""
        here = (mean - self.centre) * self.scale
        i, j = np.tril_indices(len(here))
        products = -precision[i, j] * np.where(i == j, 0.5, 1.0)
        linear = precision @ here
        return np.concatenate([products, linear, [constant - here @ linear / 2]])

    def invert(self, covariance: Float64Array) -> tuple[Float64Array, float]:
        """Inverse and log determinant of a covariance, within the frame."""
        here = covariance * np.outer(self.scale, self.scale)
        inverse = np.asarray(np.linalg.inv(here), np.float64)
        return inverse, float(np.linalg.slogdet(here)[1])


def likelihood_model(
    samples: TrainingSamples,
    statistics: Mapping[int, ClassStatistics],
    covariances: Sequence[Float64Array],
    settings: LikelihoodSettings,
) -> TrainedQuadratic:
    """Normal densities with the classes' means and given covariances, weighed by priors; pixels
    beyond the quantile of chi-square stay unclassified where that is wanted."""
    frame = Frame.of(samples, statistics)
    priors = priors_of(settings, statistics)
    rows, constants = [], []
    for s, covariance, prior in zip(statistics.values(), covariances, priors, strict=True):
        precision, log_det = frame.invert(covariance)
        constants.append(np.log(prior) - log_det / 2)
        rows.append(frame.row(precision, s.mean, constants[-1]))
    reject = settings.reject_share
    furthest = float(chdtri(len(samples.roles), reject)) if reject > 0 else np.inf
    return TrainedQuadratic(
        samples.roles,
        code_array(statistics),
        np.array(constants) - furthest / 2,
        frame.centre,
        frame.scale,
        np.stack(rows),
    )


def priors_of(
    settings: LikelihoodSettings, statistics: Mapping[int, ClassStatistics]
) -> Float64Array:
    """Prior probabilities (classes,), which sum to one.

    Raises
    ------
    BadSettingsError : typed priors name no class that is trained, or one twice.
    """
    if settings.priors == "equal":
        return np.full(len(statistics), 1 / len(statistics))
    if settings.priors == "pixels":
        weights = np.array([float(s.n_pixels) for s in statistics.values()])
        return weights / weights.sum()
    typed = {entry.code: entry.prior for entry in settings.typed}
    known = [typed[code] for code in statistics if code in typed]
    if not known or len(typed) < len(settings.typed):
        raise BadSettingsError(
            "Type a prior for at least one class that has training sites, each class once."
        )
    weights = np.array([typed.get(code, float(np.mean(known))) for code in statistics])
    return np.asarray(weights / weights.sum())


def require_spread(s: ClassStatistics, name: str, roles: tuple[str, ...], method: str) -> None:
    """A class needs pixels for a covariance, and bands that vary and differ.

    Raises
    ------
    TooFewPixelsError, SingularCovarianceError
    """
    require_variety(s, name, roles, method, len(roles) + 1)
    spread = s.standard_deviation
    if np.linalg.cond(s.covariance / np.outer(spread, spread)) > LARGEST_CONDITION:
        raise SingularCovarianceError(
            f"The bands of {name} repeat one another exactly in its training pixels, so that its "
            "covariance cannot be inverted. Draw more sites of it, or leave a band out."
        )


def require_variety(
    s: ClassStatistics, name: str, roles: tuple[str, ...], method: str, least: int
) -> None:
    """A class needs so many pixels, and no band in which they are all the same.

    Raises
    ------
    TooFewPixelsError, SingularCovarianceError
    """
    if s.n_pixels < least:
        raise TooFewPixelsError(
            f"{name} has {s.n_pixels} training pixels; {method} with {len(roles)} bands "
            f"needs at least {least}. Draw more of it, or use fewer bands."
        )
    flat = s.standard_deviation <= 1e-9 * np.abs(s.mean)
    constant = [role for role, is_flat in zip(roles, flat, strict=True) if is_flat]
    if constant:
        raise SingularCovarianceError(
            f"All training pixels of {name} have the same value in {', '.join(constant)}. "
            "Draw sites with more variety, or leave that band out."
        )


def pooled_covariance(statistics: Mapping[int, ClassStatistics]) -> Float64Array:
    """Within classes, (bands, bands); divisor n - classes.

    Raises
    ------
    TooFewPixelsError, SingularCovarianceError
    """
    n_bands = len(next(iter(statistics.values())).mean)
    free = sum(s.n_pixels - 1 for s in statistics.values())
    if free < n_bands + 1:
        raise TooFewPixelsError(
            f"All classes together have too few training pixels for {n_bands} bands. Draw more of "
            "them, or use fewer bands."
        )
    pooled = np.sum([s.covariance * (s.n_pixels - 1) for s in statistics.values()], axis=0) / free
    spread = np.sqrt(np.diag(pooled))
    largest = np.max([np.abs(s.mean) for s in statistics.values()], axis=0)
    if (spread <= 1e-9 * largest).any() or (
        np.linalg.cond(pooled / np.outer(spread, spread)) > LARGEST_CONDITION
    ):
        raise SingularCovarianceError(
            "Within the classes a band does not vary, or bands repeat one another exactly, so that "
            "their covariance cannot be inverted. Leave that band out."
        )
    return np.asarray(pooled)
