"""What a classifier is: settings, a fit that returns an immutable trained model, and a SPEC."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, fields
from typing import Any, Literal, Protocol

import numpy as np
import numpy.typing as npt

from kitesort.core.classify.decide import decide
from kitesort.core.classify.onnx_graph import Graph
from kitesort.core.engine import Watch
from kitesort.core.errors import BadClassifierError
from kitesort.core.group_statistics import Float64Array
from kitesort.core.legend import CodeArray
from kitesort.core.settings import Settings
from kitesort.core.training.samples import TrainingSamples

ScoreKind = Literal[
    "log likelihood", "probability", "votes", "squared distance", "cosine", "decision"
]
"""What scores are: logarithms of density times prior; probabilities; shares of votes; minus the
squared distance; the cosine of the angle; margins of decision values."""


class TrainedClassifier(Protocol):
    """Immutable; ``roles`` tie what was trained to what is classified. ``codes`` (classes,);
    ``lowest`` (classes,): the least score with which a pixel still gets the class."""

    @property
    def roles(self) -> tuple[str, ...]: ...

    @property
    def codes(self) -> CodeArray: ...

    @property
    def lowest(self) -> Float64Array: ...

    def scores(self, values: npt.NDArray[np.float32]) -> Float64Array:
        """Scores (classes, n) of pixels (bands, n), of the kind that the method declares; larger
        is nearer."""
        ...

    def classify(self, values: npt.NDArray[np.float32]) -> CodeArray:
        """What ``decide`` makes of the scores, perhaps faster: the class code of each pixel of
        (bands, n), 255 where it stays unclassified."""
        ...

    def arrays(self) -> dict[str, npt.NDArray[Any]]:
        """All that was learnt; from it and the roles the method makes the same again."""
        ...

    def graph(self, graph: Graph) -> str:
        """The scores (n, classes) as steps of an ONNX graph; the name of the last one.

        Raises
        ------
        BadClassifierError : this method cannot be told so.
        """
        ...


Fit = Callable[[TrainingSamples, Settings, int, Watch], TrainedClassifier]
Restore = Callable[[tuple[str, ...], Mapping[str, npt.NDArray[Any]]], TrainedClassifier]


@dataclass(frozen=True)
class ClassifierSpec:
    """A classifier as it appears in the API, the generated form, the recipe and the guide.

    ``fit`` gets samples, settings, a seed and a watch; ``restore`` makes a trained classifier of
    its roles and arrays, and raises BadClassifierError where they are none. ``draws``: whether
    the seed changes anything. ``slow``: whether it may take seconds to train. ``least_pixels``:
    how many a class needs with so many bands.
    """

    id: str
    version: int
    title: str
    good_for: str
    source: str
    settings: type[Settings]
    scores: ScoreKind
    fit: Fit
    restore: Restore
    draws: bool = False
    slow: bool = False
    least_pixels: Callable[[int], int] = field(default=lambda _: 1)


PIECE = 2**13  # pixels whose scores are held at once: of ten classes they stay in the cache


def in_pieces(
    values: npt.NDArray[np.float32], tell: Callable[[npt.NDArray[np.float32]], CodeArray]
) -> CodeArray:
    """Codes (n,) of pixels (bands, n), so many at a time, whatever the number of classes."""
    n = values.shape[1]
    out = np.empty(n, np.uint16)
    for start in range(0, n, PIECE):
        out[start : start + PIECE] = tell(values[:, start : start + PIECE])
    return out


@dataclass(frozen=True)
class Learnt:
    """What all trained classifiers share: ``codes`` and ``lowest`` (classes,), and all other fields
    arrays of what was learnt."""

    roles: tuple[str, ...]
    codes: CodeArray
    lowest: Float64Array

    def scores(self, values: npt.NDArray[np.float32]) -> Float64Array:
        raise NotImplementedError

    def classify(self, values: npt.NDArray[np.float32]) -> CodeArray:
        return in_pieces(values, lambda part: decide(self.scores(part), self.codes, self.lowest))

    def graph(self, graph: Graph) -> str:
        del graph
        raise BadClassifierError("This method cannot be told as an ONNX graph.")

    def arrays(self) -> dict[str, npt.NDArray[Any]]:
        return {f.name: getattr(self, f.name) for f in fields(self) if f.name != "roles" and f.init}
