"""Coarse copies, kept in memory, of files that bring no overviews of their own.

Without them every coarse view would unpack the whole file again. A copy is made by the first coarse
view of a band and serves all later ones; it holds one of the file's own pixels for each.
"""

from collections import OrderedDict
from pathlib import Path
from threading import Lock
from typing import Any

import numpy.typing as npt
import rasterio
from rasterio.enums import Resampling

COARSE_SIDE = 2048
KEPT_COPIES = 48  # of at most 2048 × 2048 pixels: at 16 bits each 8 MiB

_copies: OrderedDict[tuple[str, int, int], npt.NDArray[Any]] = OrderedDict()
_making = Lock()


def coarse_factor(height: int, width: int) -> int:
    """Decimation of the copy; 1 where the file is small enough to be read as it is."""
    return max(1, -(-max(height, width) // COARSE_SIDE))


def coarse_copy(dataset: rasterio.DatasetReader, index: int) -> npt.NDArray[Any]:
    """The decimated band, (rows, columns), in the file's own number type."""
    key = (str(dataset.name), Path(dataset.name).stat().st_mtime_ns, index)
    if (ready := _copies.get(key)) is not None:
        return ready
    with _making:  # several tiles ask at once; one of them makes it
        if key not in _copies:
            factor = coarse_factor(dataset.height, dataset.width)
            shape = (-(-dataset.height // factor), -(-dataset.width // factor))
            copy = dataset.read(index, out_shape=shape, resampling=Resampling.nearest)
            copy.flags.writeable = False
            _copies[key] = copy
            while len(_copies) > KEPT_COPIES:
                _copies.popitem(last=False)
        return _copies[key]
