"""Contrast stretch: which values become black and which become white."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from kitesort.core.errors import BadSettingsError

LEVELS = 256


@dataclass(frozen=True)
class Limits:
    """Values shown as black and as white."""

    low: float
    high: float


def percentile_limits(values: npt.NDArray[np.floating], low: float, high: float) -> Limits:
    """Limits that cut off the lowest ``low`` and the highest 100 - ``high`` percent.

    A band with one value gets limits around it, so that it shows as mid-grey.

    Raises
    ------
    BadSettingsError : percentages out of order or outside 0 to 100.
    """
    if not 0 <= low < high <= 100:
        raise BadSettingsError(
            f"A stretch from {low:g} to {high:g} % cannot be shown; "
            "the low end must be below the high end, both between 0 and 100."
        )
    if values.size == 0:
        return Limits(0.0, 1.0)
    bottom, top = (float(v) for v in np.percentile(values, [low, high]))
    if top <= bottom:
        return Limits(bottom - 0.5, bottom + 0.5)
    return Limits(bottom, top)


def apply_stretch(
    values: npt.NDArray[np.float32], limits: Sequence[Limits]
) -> npt.NDArray[np.uint8]:
    """Display levels 0 to 255 of values (band, row, col), one pair of limits per band."""
    low = np.array([lim.low for lim in limits], np.float32)[:, None, None]
    scale = np.array([(LEVELS - 1) / (lim.high - lim.low) for lim in limits], np.float32)
    levels = (values - low) * scale[:, None, None]
    return np.clip(np.nan_to_num(levels) + 0.5, 0, LEVELS - 1).astype(np.uint8)
