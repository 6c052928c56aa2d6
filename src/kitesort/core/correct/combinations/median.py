"""Several dates as one: the middle value of each band."""

import numpy as np

from kitesort.core.correct.combinations._several import combine_on_one_grid
from kitesort.core.correct.protocol import CombinationSpec
from kitesort.core.raster.protocol import Float32Array, Raster
from kitesort.core.settings import Settings


class MedianSettings(Settings):
    """Nothing to set."""


def _nan_median(stack: Float32Array, _: tuple[str, ...]) -> Float32Array:
    """As ``np.nanmedian`` without its warnings, which are not safe to silence in threads."""
    ordered = np.sort(stack, axis=0)  # NaN sorts last
    n = (~np.isnan(stack)).sum(axis=0)[None]
    low, high = np.maximum((n - 1) // 2, 0), np.minimum(n // 2, stack.shape[0] - 1)
    lower = np.take_along_axis(ordered, low, axis=0)[0]
    upper = np.take_along_axis(ordered, high, axis=0)[0]
    return np.asarray((lower + upper) / 2, np.float32)


def _combine(members: tuple[Raster, ...], _: MedianSettings) -> Raster:
    return combine_on_one_grid(members, _nan_median, "median")


SPEC = CombinationSpec(
    id="median",
    version=1,
    title="Median of dates",
    good_for="One clear picture of a season. Each band has its own median, so that a pixel's bands "
    "need not stem from one date.",
    source="The median of the valid values; of an even number the mean of the middle two",
    settings=MedianSettings,
    combine=_combine,
    say=lambda _: "the median of",
)
