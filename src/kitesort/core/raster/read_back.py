"""What was written is read again and compared, before anybody relies on it."""

import hashlib

import numpy as np
import numpy.typing as npt
import rasterio

from kitesort.core.grid import Grid, Window

MOST_BLOCKS = 9


class ReadBack:
    """Remembers a digest of some blocks while they are written: spread over the file, its first and
    its last among them."""

    def __init__(self, grid: Grid, block_size: int) -> None:
        blocks = list(grid.blocks(block_size))
        places = np.linspace(0, len(blocks) - 1, min(MOST_BLOCKS, len(blocks))).round().astype(int)
        self._chosen = {blocks[i] for i in places}
        self._digests: dict[Window, bytes] = {}

    def remember(self, window: Window, values: npt.NDArray[np.generic]) -> None:
        """Values (bands, rows, columns)."""
        if window in self._chosen:
            self._digests[window] = _digest(values)

    def agrees(self, dataset: rasterio.DatasetReader) -> bool:
        """Whether the file holds what was written, value by value, wherever was remembered."""
        return all(
            _digest(dataset.read(window=rasterio.windows.Window(w.col, w.row, w.width, w.height)))
            == digest
            for w, digest in self._digests.items()
        )


def _digest(values: npt.NDArray[np.generic]) -> bytes:
    return hashlib.blake2b(np.ascontiguousarray(values).tobytes()).digest()
