"""What a classifier is: settings, a fit that returns an immutable trained model, and a SPEC."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

import numpy as np
import numpy.typing as npt

from kitesort.core.settings import Settings
from kitesort.core.training.statistics import ClassStatistics, compute_statistics

CodeArray = npt.NDArray[np.uint8]


@dataclass(frozen=True)
class TrainingSamples:
    """Training pixels: values (n, bands), class code (n,), band roles, and names by code."""

    values: npt.NDArray[np.float32]
    codes: CodeArray
    roles: tuple[str, ...]
    names: dict[int, str]

    @property
    def class_codes(self) -> tuple[int, ...]:
        return tuple(int(c) for c in np.unique(self.codes))

    def statistics(self) -> dict[int, ClassStatistics]:
        return {c: compute_statistics(self.values[self.codes == c]) for c in self.class_codes}


class TrainedClassifier(Protocol):
    """Immutable; ``roles`` tie what was trained to what is classified."""

    @property
    def roles(self) -> tuple[str, ...]: ...

    def classify(self, values: npt.NDArray[np.float32]) -> CodeArray:
        """Class code of each pixel of (bands, n), 255 where it stays unclassified."""
        ...


@dataclass(frozen=True)
class ClassifierSpec:
    """A classifier as it appears in the API, the generated form, the recipe and the guide."""

    id: str
    version: int
    title: str
    good_for: str
    source: str
    settings: type[Settings]
    fit: Callable[[TrainingSamples, Settings], TrainedClassifier]
