"""Training pixels drawn from known distributions, in sites."""

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from kitesort.core.training.samples import TrainingSamples


def in_sites(
    parts: Sequence[tuple[int, npt.NDArray[np.floating]]], width: int = 8
) -> TrainingSamples:
    """One site for each (class code, pixels (n, bands)), side by side, ``width`` pixels wide."""
    values = np.concatenate([pixels for _, pixels in parts]).astype(np.float32)
    lengths = [len(pixels) for _, pixels in parts]
    codes = np.repeat(np.array([code for code, _ in parts], np.uint16), lengths)
    places = [np.arange(n, dtype=np.int32) for n in lengths]
    return TrainingSamples(
        values,
        codes,
        tuple(f"band{i}" for i in range(values.shape[1])),
        {int(code): f"Class {code}" for code in np.unique(codes)},
        np.repeat(np.arange(len(parts), dtype=np.int32), lengths),
        np.concatenate([place // width for place in places]),
        np.concatenate([place % width + 100 * i for i, place in enumerate(places)], dtype=np.int32),
    )


def gaussian(
    rng: np.random.Generator, n: int, centre: float, n_bands: int = 3, spread: float = 1.0
) -> npt.NDArray[np.float64]:
    return rng.normal(centre, spread, (n, n_bands))
