"""Training pixels: what a classifier sees, and all that statistics and advice need."""

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import numpy.typing as npt

from kitesort.core.group_statistics import ClassStatistics, compute_statistics
from kitesort.core.legend import CodeArray

IndexArray = npt.NDArray[np.int32]


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

    @cached_property
    def fingerprint(self) -> str:
        """Of the contents, names aside."""
        told = hashlib.blake2s("|".join(self.roles).encode(), digest_size=8)
        for part in (self.values, self.codes, self.sites, self.rows, self.cols):
            told.update(np.ascontiguousarray(part).tobytes())
        return told.hexdigest()

    def of_classes(self, codes: Sequence[int]) -> "TrainingSamples":
        """Those of some classes."""
        return self.where(np.isin(self.codes, codes))

    def of_site(self, number: int) -> "TrainingSamples":
        return self.where(self.sites == number)

    def where(self, keep: npt.NDArray[np.bool_]) -> "TrainingSamples":
        """Those that are marked (n,)."""
        return replace(
            self, values=self.values[keep], codes=self.codes[keep], sites=self.sites[keep],
            rows=self.rows[keep], cols=self.cols[keep],
        )  # fmt: skip

    @cached_property
    def statistics(self) -> Mapping[int, ClassStatistics]:
        """By class code."""
        return {c: compute_statistics(self.values[self.codes == c]) for c in self.class_codes}
