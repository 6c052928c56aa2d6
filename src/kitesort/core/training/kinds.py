"""Whether the sites of a class are of two kinds, and which are of the second."""

import numpy as np
import numpy.typing as npt

from kitesort.core.errors import TrainingError
from kitesort.core.raster.protocol import BoolArray

LEAST_SITES = 4


def second_kind(means: npt.NDArray[np.float64], n_pixels: npt.NDArray[np.int64]) -> BoolArray:
    """Which sites (n,) of a class are of its second kind, by their means (n, bands): along the line
    on which they differ most (first principal component of the standardised bands), at the cut that
    leaves the least spread on both sides; the kind with fewer pixels is the second.

    Raises
    ------
    TrainingError : fewer than four sites, or all of them alike.
    """
    if len(means) < LEAST_SITES:
        raise TrainingError(
            f"At least {LEAST_SITES} sites with pixels are needed to split a class."
        )
    centred = means - means.mean(axis=0)
    spread = centred.std(axis=0)
    if not (spread > 0).any():
        raise TrainingError("All sites of the class are alike: there is nothing to split.")
    scaled = centred / np.where(spread > 0, spread, 1)
    along = scaled @ np.linalg.eigh(scaled.T @ scaled)[1][:, -1]
    order = np.argsort(along, kind="stable")
    values = along[order]
    within = [
        ((values[:i] - values[:i].mean()) ** 2).sum()
        + ((values[i:] - values[i:].mean()) ** 2).sum()
        for i in range(1, len(values))
    ]
    upper = np.zeros(len(means), np.bool_)
    upper[order[int(np.argmin(within)) + 1 :]] = True
    return upper if n_pixels[upper].sum() * 2 <= n_pixels.sum() else ~upper
