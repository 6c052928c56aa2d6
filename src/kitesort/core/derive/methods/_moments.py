"""Means and covariances of a scene's bands, from native pixels spread over it or from every one."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt

from kitesort.core.derive.methods._sums_kernel import add_sums
from kitesort.core.engine import BLOCK_SIZE, Watch, reduce_blocks
from kitesort.core.errors import InputError, TooFewPixelsError
from kitesort.core.grid import Window
from kitesort.core.group_statistics import (
    ClassStatistics,
    merge_statistics,
)
from kitesort.core.raster.protocol import Block, Raster
from kitesort.core.raster.sample import plan_sample, spread_windows

Pixels = Literal["view", "every"]


Found = tuple[npt.NDArray[np.float32], npt.NDArray[np.bool_]]
# Values (bands, n) and validity (n,) of a block that may reach beyond the window of that many rows
# and columns.
Take = Callable[[Block, int, int], Found]


def _take_all(block: Block, _rows: int, _cols: int) -> Found:
    return block.values.reshape(len(block.values), -1), block.valid.ravel()


@dataclass(frozen=True)
class _BlockMoments:
    """Picklable block function: statistics of what ``take`` finds in a window, read with
    ``reach_px`` more rows below and columns to the right."""

    raster: Raster
    roles: tuple[str, ...]
    take: Take = _take_all
    reach_px: int = 0

    def __call__(self, window: Window) -> ClassStatistics | None:
        grid = self.raster.grid
        height = min(window.height + self.reach_px, grid.height - window.row)
        width = min(window.width + self.reach_px, grid.width - window.col)
        block = self.raster.read(Window(window.row, window.col, height, width), self.roles)
        return _statistics_of(*self.take(block, window.height, window.width))


def _statistics_of(
    values: npt.NDArray[np.float32], valid: npt.NDArray[np.bool_]
) -> ClassStatistics | None:
    """Of the valid pixels; None where there is none. Sums are taken from the first valid pixel's
    values, so that they keep their digits."""
    places = np.flatnonzero(valid)
    if places.size == 0:
        return None
    n_bands = len(values)
    shift = values[:, places[0]].astype(np.float64)
    sums, products = np.zeros(n_bands), np.zeros((n_bands, n_bands))
    ends = np.array([[np.inf], [-np.inf]]).repeat(n_bands, axis=1)
    n = add_sums(np.ascontiguousarray(values), valid, shift, sums, products, ends)
    scatter = products - np.outer(sums, sums) / n
    return ClassStatistics(n, shift + sums / n, scatter / max(n - 1, 1), ends[0], ends[1])


def band_moments(
    raster: Raster, roles: tuple[str, ...], pixels: Pixels, watch: Watch
) -> ClassStatistics:
    """Statistics of the valid pixels.

    Raises
    ------
    TooFewPixelsError : fewer valid pixels than bands + 1. InputError : a constant band.
    CancelledError
    """
    compute = _BlockMoments(raster, roles)
    if pixels == "view":
        found = _moments_of_windows(compute, plan_sample(raster.grid).windows)
    else:
        found = moments_of_blocks(compute, watch)
    moments = _require_enough(found, len(roles))
    _require_variety(moments, roles)
    return moments


def moments_of_blocks(
    compute: _BlockMoments, watch: Watch, block_size: int = BLOCK_SIZE
) -> ClassStatistics | None:
    """Of every block; the same (to rounding) whatever their size."""
    return reduce_blocks(compute.raster.grid, compute, block_size=block_size, watch=watch)


def _moments_of_windows(
    compute: _BlockMoments, windows: Iterable[Window]
) -> ClassStatistics | None:
    found = (compute(window) for window in windows)
    parts = [part for part in found if part is not None]
    return merge_statistics(parts) if parts else None


def noise_moments(
    raster: Raster, roles: tuple[str, ...], lag: int, pixels: Pixels, watch: Watch
) -> ClassStatistics:
    """Statistics of the differences between pixels ``lag`` apart, to the right and below, at
    native resolution: from some blocks spread over the scene, or from all.

    Raises
    ------
    TooFewPixelsError, CancelledError
    """
    compute = _BlockMoments(raster, roles, _Differences(lag), lag)
    if pixels == "every":
        found = moments_of_blocks(compute, watch)
    else:
        found = _moments_of_windows(compute, spread_windows(raster.grid))
    return _require_enough(found, len(roles))


class _Differences:
    """Differences (bands, pairs) of valid pixels in a window and those ``lag`` to the right and
    below, which may lie beyond it: each pair of the scene is in exactly one window."""

    def __init__(self, lag: int) -> None:
        self._lag = lag

    def __call__(self, block: Block, rows: int, cols: int) -> Found:
        values, valid, lag = block.values, block.valid, self._lag
        across = valid[:rows, lag:] & valid[:rows, :-lag]
        down = valid[lag:, :cols] & valid[:-lag, :cols]
        steps = (
            values[:, :rows, lag:] - values[:, :rows, :-lag],
            values[:, lag:, :cols] - values[:, :-lag, :cols],
        )
        flat = [step.reshape(len(values), -1) for step in steps]
        return np.concatenate(flat, axis=1), np.concatenate([across.ravel(), down.ravel()])


def _require_enough(found: ClassStatistics | None, n_bands: int) -> ClassStatistics:
    n = found.n_pixels if found else 0
    if found is None or n < n_bands + 1:
        raise TooFewPixelsError(
            f"There are {n} valid pixels for {n_bands} bands; at least {n_bands + 1} are needed."
        )
    return found


def _require_variety(moments: ClassStatistics, roles: tuple[str, ...]) -> None:
    flat = moments.standard_deviation <= 1e-9 * np.abs(moments.mean)
    constant = [role for role, is_flat in zip(roles, flat, strict=True) if is_flat]
    if constant:
        raise InputError(
            f"All valid pixels have the same value in {', '.join(constant)}. Leave it out."
        )
