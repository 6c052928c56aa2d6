"""Layers derived without a store: an operation's values as an array."""

import numpy as np
import numpy.typing as npt

from kitesort.core.derive.protocol import DeriveContext
from kitesort.core.derive.registry import DERIVATIONS
from kitesort.core.engine import Watch
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import validate_settings


def layer_of(source: Raster, operation: str, **settings: object) -> npt.NDArray[np.float32]:
    """Values (bands, rows, columns) of the whole layer, not-a-number where not valid."""
    spec = DERIVATIONS[operation]
    context = DeriveContext(lambda _: source, {}, "Whimbrel-8")
    ready = spec.prepare(source, validate_settings(spec, settings), context, Watch())
    raster = spec.derive(source, ready, context)
    block = raster.read(raster.grid.whole)
    return np.where(block.valid, block.values, np.nan)
