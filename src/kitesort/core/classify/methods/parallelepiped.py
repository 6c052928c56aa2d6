"""A box around each class."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
import numpy.typing as npt
from pydantic import Field

from kitesort.core.classify.arrays import no_classifier, take_codes, take_numbers
from kitesort.core.classify.methods._centre_kernel import mask_outside, score_nearest
from kitesort.core.classify.methods._learning import codes_of, require_classes
from kitesort.core.classify.onnx_graph import Graph
from kitesort.core.classify.protocol import ClassifierSpec, Learnt, TrainedClassifier
from kitesort.core.engine import Watch
from kitesort.core.group_statistics import Float64Array
from kitesort.core.settings import Settings, titled
from kitesort.core.training.samples import TrainingSamples

OUTSIDE = -1e300  # a score that no pixel inside a box has
LEAST_INSIDE = -1e299


class ParallelepipedSettings(Settings):
    limits: Literal["extremes", "deviations"] = Field(
        "extremes",
        title="Sides of a box",
        description="The least and greatest training value of each layer, or so many standard "
        "deviations about the mean, which one odd pixel does not stretch.",
        json_schema_extra=titled(
            {"extremes": "least and greatest value", "deviations": "standard deviations"}
        ),
    )
    deviations: float = Field(
        3.0,
        title="Standard deviations",
        description="Half of a side, where standard deviations are chosen.",
        gt=0,
        le=100,
        json_schema_extra={"step": 0.5},
    )


@dataclass(frozen=True)
class TrainedParallelepiped(Learnt):
    """Boxes from ``low`` to ``high``, and ``means``, (classes, bands) each; the limits belong to
    the box."""

    means: Float64Array
    low: Float64Array
    high: Float64Array

    def scores(self, values: npt.NDArray[np.float32]) -> Float64Array:
        """Minus the squared distance to the mean inside a class's box, -1e300 outside."""
        pixels = np.ascontiguousarray(values, np.float32)
        n_bands = self.means.shape[1]
        out = np.empty((len(self.codes), pixels.shape[1]), np.float64)
        score_nearest(pixels, np.zeros(n_bands), np.ones(n_bands), self.means, False, out)
        mask_outside(pixels, self.low, self.high, OUTSIDE, out)
        return out

    def graph(self, graph: Graph) -> str:
        x = graph.each(graph.x, 1)
        above = graph.op("GreaterOrEqual", x, graph.const(self.low[None]))
        below = graph.op("LessOrEqual", x, graph.const(self.high[None]))
        within = graph.as_double(graph.op("And", above, below))
        n_within = graph.sum(within, 2)
        inside = graph.op("GreaterOrEqual", n_within, graph.const(np.float64(self.means.shape[1])))
        nearness = graph.op("Neg", graph.squares(graph.x, self.means))
        return graph.op("Where", inside, nearness, graph.const(np.float64(OUTSIDE)))


def fit(
    samples: TrainingSamples, settings: Settings, _seed: int, _watch: Watch
) -> TrainedClassifier:
    """In several boxes the class whose mean is nearest; in none unclassified.

    Raises
    ------
    TooFewClassesError : fewer than two classes.

    Source: Richards, Remote Sensing Digital Image Analysis, "Parallelepiped classification".
    """
    assert isinstance(settings, ParallelepipedSettings)
    require_classes(samples)
    statistics = samples.statistics.values()
    means = np.stack([s.mean for s in statistics])
    if settings.limits == "extremes":
        low = np.stack([s.minimum for s in statistics])
        high = np.stack([s.maximum for s in statistics])
    else:
        half = settings.deviations * np.stack([s.standard_deviation for s in statistics])
        low, high = means - half, means + half
    return TrainedParallelepiped(
        samples.roles, codes_of(samples), np.full(len(means), LEAST_INSIDE), means, low, high
    )


def restore(
    roles: tuple[str, ...], arrays: Mapping[str, npt.NDArray[Any]]
) -> TrainedParallelepiped:
    """Raises BadClassifierError where shapes or numbers do not fit."""
    codes = take_codes(arrays)
    shape = len(codes), len(roles)
    means, low, high = (take_numbers(arrays, name, shape) for name in ("means", "low", "high"))
    if (low > high).any():
        raise no_classifier()
    lowest = take_numbers(arrays, "lowest", (len(codes),))
    return TrainedParallelepiped(roles, codes, lowest, means, low, high)


SPEC = ClassifierSpec(
    id="parallelepiped",
    version=1,
    title="Parallelepiped",
    good_for="Ground like nothing that was drawn stays unclassified; easy to follow by eye.",
    source="Richards, Remote Sensing Digital Image Analysis",
    settings=ParallelepipedSettings,
    scores="squared distance",
    fit=fit,
    restore=restore,
)
