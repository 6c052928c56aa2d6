"""The codes that settings name."""

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from kitesort.core.errors import BadSettingsError
from kitesort.core.legend import Legend
from kitesort.core.raster.protocol import Raster


def legend_of(raster: Raster) -> Legend:
    return raster.bands[0].legend


def require_known(raster: Raster, codes: Sequence[int], what: str) -> None:
    """Raises BadSettingsError : a class that the map has not."""
    known = {entry.code for entry in legend_of(raster)}
    if unknown := [str(code) for code in codes if code not in known]:
        raise BadSettingsError(
            f"{what}: the map has no class of the code {', '.join(unknown)} any more. Choose again."
        )


def flags(codes: Sequence[int], all_if_none: bool = True) -> npt.NDArray[np.bool_]:
    """(256,): which codes are named; all of them where none is."""
    if not codes and all_if_none:
        return np.ones(256, np.bool_)
    found = np.zeros(256, np.bool_)
    found[list(codes)] = True
    return found


def require_odd(side: int) -> int:
    """For a setting: a window has a pixel in its middle."""
    if side % 2 == 0:
        raise ValueError("the window's side must be odd")
    return side
