"""Scattered small windows of a raster, read in one pass over it."""

from collections.abc import Hashable, Iterator, Mapping, Sequence
from typing import TypeVar

import numpy as np
import numpy.typing as npt

from kitesort.core.engine import UNWATCHED, Watch, map_windows
from kitesort.core.grid import Window
from kitesort.core.raster.protocol import Block, Float32Array, Raster

SMALL_PX = 64  # a window of at most this height and width is read together with its neighbours
BLOCK_PX = 512  # side of the squares whose small windows are read in one go
DENSE = 8  # of the 64 squares of SMALL_PX in a block: from so many on it is read whole
K = TypeVar("K", bound=Hashable)


def plan_reading(windows: Mapping[K, Window]) -> dict[Window, list[K]]:
    """What is to be read, and whose windows lie in it: large windows by themselves, small ones by
    blocks where they are dense, else by small squares."""
    groups: dict[Window, list[K]] = {}
    blocks: dict[tuple[int, int], dict[tuple[int, int], list[K]]] = {}
    for key, window in windows.items():
        if max(window.height, window.width) > SMALL_PX:
            groups.setdefault(window, []).append(key)
            continue
        block = window.row // BLOCK_PX, window.col // BLOCK_PX
        square = window.row // SMALL_PX, window.col // SMALL_PX
        blocks.setdefault(block, {}).setdefault(square, []).append(key)
    for _, squares in sorted(blocks.items()):
        for members in _dense_or_apart(list(squares.values())):
            around = window_around([windows[key] for key in members])
            groups.setdefault(around, []).extend(members)
    return groups


def _dense_or_apart(parts: list[list[K]]) -> Iterator[list[K]]:
    if len(parts) >= DENSE:
        yield [key for part in parts for key in part]
    else:
        yield from parts


def window_around(windows: Sequence[Window]) -> Window:
    """The smallest window that holds some others."""
    row, col = min(w.row for w in windows), min(w.col for w in windows)
    bottom = max(w.row + w.height for w in windows)
    right = max(w.col + w.width for w in windows)
    return Window(row, col, bottom - row, right - col)


def read_pixels(
    raster: Raster,
    rows: npt.NDArray[np.int64],
    cols: npt.NDArray[np.int64],
    roles: tuple[str, ...] | None = None,
    watch: Watch = UNWATCHED,
) -> Float32Array:
    """Native values (bands, n) of pixels that lie on the grid; not-a-number where a band is not
    usable.

    Raises
    ------
    CancelledError
    """
    places = zip(rows.tolist(), cols.tolist(), strict=True)
    groups = plan_reading({i: Window(row, col, 1, 1) for i, (row, col) in enumerate(places)})
    n_bands = len(roles) if roles is not None else len(raster.bands)
    values = np.full((n_bands, len(rows)), np.nan, np.float32)

    def read(window: Window) -> Block:
        return raster.read(window, roles)

    def consume(window: Window, block: Block) -> None:
        members = np.array(groups[window])
        at = rows[members] - window.row, cols[members] - window.col
        values[:, members] = block.values[:, at[0], at[1]]

    map_windows(list(groups), read, consume, watch=watch)
    return values
