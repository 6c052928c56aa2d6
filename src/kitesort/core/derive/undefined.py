"""Pixels that had data and have no value any more: division by zero, logarithms of negatives."""

from dataclasses import dataclass

from kitesort.core.derive.methods._native import NativeRaster, NativeReading
from kitesort.core.raster.derived import DerivedRaster
from kitesort.core.raster.protocol import Raster
from kitesort.core.raster.sample import coarse_shape


@dataclass(frozen=True)
class Undefined:
    """``n_undefined`` of ``n_usable`` pixels; ``exact``: of all, else of a coarse view."""

    n_undefined: int
    n_usable: int
    exact: bool


def count_undefined(raster: Raster) -> Undefined:
    """Of a layer computed from bands; none for layers that only pass values on, or whose pixels
    have a value wherever their scene's have."""
    grid = raster.grid
    shape = coarse_shape(grid.height, grid.width)
    exact = shape == (grid.height, grid.width)
    if not isinstance(raster, DerivedRaster):
        behind = raster.source if isinstance(raster, NativeRaster | NativeReading) else raster
        return Undefined(0, int(behind.read(grid.whole, None, shape).valid.sum()), exact)
    before = raster.source.read(grid.whole, raster.inputs, shape)
    after = raster.compute(before, raster.inputs)
    n_usable = int(before.valid.sum())
    return Undefined(n_usable - int((after.valid & before.valid).sum()), n_usable, exact)
