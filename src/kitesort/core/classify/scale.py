"""Layers of any units on one scale."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numba
import numpy as np
import numpy.typing as npt

from kitesort.core.classify.arrays import no_classifier, take_numbers
from kitesort.core.group_statistics import Float64Array
from kitesort.core.training.samples import TrainingSamples


@dataclass(frozen=True)
class Scale:
    """What each layer is reduced by and multiplied with, (bands,) each."""

    centre: Float64Array
    factor: Float64Array

    @classmethod
    def of(cls, samples: TrainingSamples, standardise: bool = True) -> "Scale":
        """By mean and standard deviation (divisor n); a layer that does not vary is left at 1."""
        n_bands = len(samples.roles)
        if not standardise:
            return cls(np.zeros(n_bands), np.ones(n_bands))
        ordered = np.sort(samples.values.astype(np.float64), axis=0)  # in whatever order they come
        spread = ordered.std(axis=0)
        flat = spread <= 1e-12 * np.abs(ordered).max(axis=0)
        return cls(ordered.mean(axis=0), 1 / np.where(flat, 1.0, spread))

    @classmethod
    def restored(
        cls, arrays: Mapping[str, npt.NDArray[Any]], n_bands: int, prefix: str = ""
    ) -> "Scale":
        """From arrays called ``centre`` and ``factor``, after a prefix.

        Raises
        ------
        BadClassifierError
        """
        found = cls(
            take_numbers(arrays, f"{prefix}centre", (n_bands,)),
            take_numbers(arrays, f"{prefix}factor", (n_bands,)),
        )
        if not (found.factor > 0).all():
            raise no_classifier()
        return found

    def __call__(self, values: npt.NDArray[np.floating]) -> Float64Array:
        """Values (n, bands) on the scale."""
        return (np.asarray(values, np.float64) - self.centre) * self.factor


@numba.njit(cache=True, nogil=True, error_model="numpy")
def set_scaled(values, start, m, centre, factor, x):  # type: ignore[no-untyped-def]
    """m pixels of (bands, n) from ``start`` on the scale, into the first places of x (bands, at
    least m): for kernels that go through pixels in chunks."""
    for b in range(values.shape[0]):
        for p in range(m):
            x[b, p] = (values[b, start + p] - centre[b]) * factor[b]
