"""Euclidean distance to class means."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
import numpy.typing as npt
from pydantic import Field

from kitesort.core.classify.arrays import take_codes, take_indices, take_numbers
from kitesort.core.classify.methods._centre_kernel import score_nearest
from kitesort.core.classify.methods._learning import (
    STANDARDISE,
    codes_of,
    no_limit,
    require_classes,
)
from kitesort.core.classify.methods._nearest_kernel import NearestMeans
from kitesort.core.classify.onnx_graph import Graph
from kitesort.core.classify.protocol import ClassifierSpec, Learnt, TrainedClassifier
from kitesort.core.classify.scale import Scale
from kitesort.core.engine import Watch
from kitesort.core.errors import TrainingError
from kitesort.core.group_statistics import Float64Array
from kitesort.core.legend import CodeArray
from kitesort.core.settings import Settings
from kitesort.core.training.samples import TrainingSamples

MOST_UNEVEN = 1000  # times that the spread of one layer may be that of another


class MinimumDistanceSettings(Settings):
    largest_distance: float = Field(
        0.0,
        title="Largest distance",
        description="Pixels further from every class's mean stay unclassified; in the layers' own "
        "units, or in standard deviations where they are brought to one scale. 0 is no limit.",
        ge=0,
        le=1e9,
    )
    standardise: bool = Field(
        False, title="Bring layers to one scale first", description=STANDARDISE
    )


@dataclass(frozen=True)
class TrainedMinimumDistance(Learnt):
    """``means`` (classes, bands) on the scale of ``centre`` and ``factor`` (bands,);
    ``manhattan`` (1,): whether distances are sums of the bands' differences."""

    centre: Float64Array
    factor: Float64Array
    means: Float64Array
    manhattan: npt.NDArray[np.int32]

    @property
    def _by_steps(self) -> bool:
        return bool(self.manhattan[0])

    def scores(self, values: npt.NDArray[np.float32]) -> Float64Array:
        pixels = np.ascontiguousarray(values, np.float32)
        out = np.empty((len(self.codes), pixels.shape[1]), np.float64)
        score_nearest(pixels, self.centre, self.factor, self.means, self._by_steps, out)
        return out

    def classify(self, values: npt.NDArray[np.float32]) -> CodeArray:
        return self._nearest.classify(np.ascontiguousarray(values, np.float32))

    @cached_property
    def _nearest(self) -> NearestMeans:
        furthest = np.sqrt(-self.lowest) if self._by_steps else -self.lowest
        return NearestMeans(
            self.centre, self.factor, self.means, self._by_steps, self.codes, furthest
        )

    def graph(self, graph: Graph) -> str:
        x = graph.scaled(self.centre, self.factor)
        if self._by_steps:
            steps = graph.steps(x, self.means)
            return graph.op("Neg", graph.op("Mul", steps, steps))
        return graph.op("Neg", graph.squares(x, self.means))


def fit(
    samples: TrainingSamples, settings: Settings, _seed: int, _watch: Watch
) -> TrainedClassifier:
    """Scores are minus the squared distance.

    Raises
    ------
    TooFewClassesError : fewer than two classes.
    TrainingError : layers of very different units, not brought to one scale.

    Source: Richards, Remote Sensing Digital Image Analysis, "Minimum distance classification".
    """
    assert isinstance(settings, MinimumDistanceSettings)
    require_classes(samples)
    if not settings.standardise:
        _require_like_units(samples)
    scale = Scale.of(samples, settings.standardise)
    means = scale(np.stack([s.mean for s in samples.statistics.values()]))
    limit = settings.largest_distance
    lowest = np.full(len(means), -(limit**2)) if limit > 0 else no_limit(len(means))
    return TrainedMinimumDistance(
        samples.roles, codes_of(samples), lowest, scale.centre, scale.factor, means,
        np.zeros(1, np.int32),
    )  # fmt: skip


def _require_like_units(samples: TrainingSamples) -> None:
    spread = samples.values.std(axis=0, dtype=np.float64)
    varied = np.where(spread > 0, spread, np.nan)
    if np.isnan(varied).all() or np.nanmax(varied) <= MOST_UNEVEN * np.nanmin(varied):
        return
    wide, narrow = (samples.roles[int(at(varied))] for at in (np.nanargmax, np.nanargmin))
    raise TrainingError(
        f"The values of {wide} spread more than {MOST_UNEVEN} times as far as those of {narrow}, "
        "so that only the former would count. Bring layers to one scale first, in the method's "
        "settings, or leave one of them out."
    )


def restore(
    roles: tuple[str, ...], arrays: Mapping[str, npt.NDArray[Any]]
) -> TrainedMinimumDistance:
    """Raises BadClassifierError where shapes or numbers do not fit."""
    codes = take_codes(arrays)
    scale = Scale.restored(arrays, len(roles))
    return TrainedMinimumDistance(
        roles,
        codes,
        take_numbers(arrays, "lowest", (len(codes),), endless=True),
        scale.centre,
        scale.factor,
        take_numbers(arrays, "means", (len(codes), len(roles))),
        take_indices(arrays, "manhattan", 1, 0, 1),
    )


SPEC = ClassifierSpec(
    id="minimum-distance",
    version=1,
    title="Minimum distance",
    good_for="Very few training pixels: only the mean of each class is learnt.",
    source="Richards, Remote Sensing Digital Image Analysis",
    settings=MinimumDistanceSettings,
    scores="squared distance",
    fit=fit,
    restore=restore,
)
