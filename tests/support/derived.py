"""Layers derived without a store: an operation's values as an array."""

import numpy as np
import numpy.typing as npt

from kitesort.core.derive.registry import DERIVATIONS
from kitesort.core.operation import Context
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import validate_settings
from support.opening import open_by, prepare_by


def layer_of(source: Raster, operation: str, **settings: object) -> npt.NDArray[np.float32]:
    """Values (bands, rows, columns) of the whole layer, not-a-number where not valid."""
    spec = DERIVATIONS[operation]
    context = Context(lambda *_: source, sensor="Whimbrel-8")
    ready = prepare_by(spec, source, validate_settings(spec, settings), context)
    raster = open_by(spec, source, ready, context)
    block = raster.read(raster.grid.whole)
    return np.where(block.valid, block.values, np.nan)
