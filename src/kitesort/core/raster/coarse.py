"""Coarse copies, kept in memory, of files that bring no overviews of their own.

Without them every coarse view would unpack the whole file again. A copy is made by the first coarse
view of a band and serves all later ones; it holds one of the file's own pixels for each. For the
eye only: what becomes a number reads native pixels.
"""

import math
from collections.abc import Iterator, Sequence
from pathlib import Path
from threading import Lock
from typing import Any

import numpy as np
import numpy.typing as npt
import rasterio
from rasterio.enums import Resampling

from kitesort.core.newest import Newest

COARSE_SIDE = 2048
KEPT_COPIES = 48  # of at most 2048 × 2048 pixels: at 16 bits each 8 MiB
N_LOCKS = 64
PIECE_BYTES = 64 * 2**20

_Key = tuple[str, int, int]
_copies: Newest[_Key, npt.NDArray[Any]] = Newest(KEPT_COPIES)
# A file's copies are made once, and nobody waits for another file's.
_making = [Lock() for _ in range(N_LOCKS)]


def coarse_factor(height: int, width: int) -> int:
    """Decimation of the copy; 1 where the file is small enough to be read as it is."""
    return max(1, -(-max(height, width) // COARSE_SIDE))


def coarse_copies(
    dataset: rasterio.DatasetReader, indexes: Sequence[int]
) -> list[npt.NDArray[Any]]:
    """The decimated bands, each (rows, columns), in the file's own number type; those that are
    missing are read in one go, so that a file whose bands lie pixel by pixel is unpacked once."""
    name = str(dataset.name)
    changed = Path(name).stat().st_mtime_ns
    keys = [(name, changed, index) for index in indexes]
    found = _look(keys)
    if len(found) < len(set(keys)):
        with _making[hash(name) % N_LOCKS]:
            found = _look(keys)
            missing = [key for key in dict.fromkeys(keys) if key not in found]
            if missing:
                found |= _make(dataset, missing)
    return [found[key] for key in keys]


def _look(keys: Sequence[_Key]) -> dict[_Key, npt.NDArray[Any]]:
    return {key: copy for key in keys if (copy := _copies.find(key)) is not None}


def _make(dataset: rasterio.DatasetReader, keys: Sequence[_Key]) -> dict[_Key, npt.NDArray[Any]]:
    factor = coarse_factor(dataset.height, dataset.width)
    indexes = [index for *_, index in keys]
    pieces = [
        dataset.read(
            indexes, window=window, resampling=Resampling.nearest,
            out_shape=(len(keys), *(-(-side // factor) for side in (window.height, window.width))),
        )
        for window in _pieces(dataset, factor)
    ]  # fmt: skip
    read = np.concatenate(pieces, axis=1)
    made = {key: band.copy() for key, band in zip(keys, read, strict=True)}
    for key, copy in made.items():
        copy.flags.writeable = False
        _copies.put(key, copy)
    return made


def _pieces(dataset: rasterio.DatasetReader, factor: int) -> Iterator[rasterio.windows.Window]:
    """Whole rows of blocks from above to below: where bands lie pixel by pixel, a block is unpacked
    once for all of them only while the library's cache still holds it."""
    rows = math.lcm(factor, dataset.block_shapes[0][0])
    of_one = rows * dataset.width * dataset.count * np.dtype(dataset.dtypes[0]).itemsize
    step = rows * max(1, PIECE_BYTES // of_one)
    for top in range(0, dataset.height, step):
        yield rasterio.windows.Window(0, top, dataset.width, min(step, dataset.height - top))
