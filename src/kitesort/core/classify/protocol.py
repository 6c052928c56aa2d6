"""What a classifier is: settings, a fit that returns an immutable trained model, and a SPEC."""

import hashlib
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal, Protocol

import numpy as np
import numpy.typing as npt

from kitesort.core.engine import Watch
from kitesort.core.group_statistics import (
    ClassStatistics,
    Float64Array,
    compute_statistics,
)
from kitesort.core.settings import Settings

CodeArray = npt.NDArray[np.uint8]
IndexArray = npt.NDArray[np.int32]
ScoreKind = Literal["log likelihood", "probability", "distance", "angle", "votes"]


@dataclass(frozen=True)
class TrainingSamples:
    """Training pixels: values (n, bands), class code (n,), band roles, names by code; beside them
    the number of the site (n,) and the place in the scene (n,): row and column.

    In canonical order, by class, outline, row and column: the same sites give the same samples.
    """

    values: npt.NDArray[np.float32]
    codes: CodeArray
    roles: tuple[str, ...]
    names: dict[int, str]
    sites: IndexArray
    rows: IndexArray
    cols: IndexArray

    @classmethod
    def of_pixels(
        cls,
        values: npt.NDArray[np.float32],
        codes: CodeArray,
        roles: tuple[str, ...],
        names: dict[int, str],
    ) -> "TrainingSamples":
        """Pixels of no site: each stands for itself, in a row."""
        number = np.arange(len(codes), dtype=np.int32)
        return cls(values, codes, roles, names, number, np.zeros_like(number), number)

    @property
    def class_codes(self) -> tuple[int, ...]:
        return tuple(int(c) for c in np.unique(self.codes))

    @property
    def fingerprint(self) -> str:
        """Of the contents, names aside."""
        told = hashlib.blake2s("|".join(self.roles).encode(), digest_size=8)
        for part in (self.values, self.codes, self.sites, self.rows, self.cols):
            told.update(np.ascontiguousarray(part).tobytes())
        return told.hexdigest()

    def of_classes(self, codes: Sequence[int]) -> "TrainingSamples":
        """Those of some classes."""
        keep = np.isin(self.codes, codes)
        return replace(
            self, values=self.values[keep], codes=self.codes[keep], sites=self.sites[keep],
            rows=self.rows[keep], cols=self.cols[keep],
        )  # fmt: skip

    def statistics(self) -> dict[int, ClassStatistics]:
        return {c: compute_statistics(self.values[self.codes == c]) for c in self.class_codes}


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


Fit = Callable[[TrainingSamples, Settings, int, Watch], TrainedClassifier]
Restore = Callable[[tuple[str, ...], Mapping[str, npt.NDArray[Any]]], TrainedClassifier]


@dataclass(frozen=True)
class ClassifierSpec:
    """A classifier as it appears in the API, the generated form, the recipe and the guide.

    ``fit`` gets samples, settings, a seed and a watch; ``restore`` makes a trained classifier of
    its roles and arrays, and raises BadClassifierError where they are none.
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
