"""Pixels that had data and have no value any more: division by zero, logarithms of negatives."""

from dataclasses import dataclass

from kitesort.core.raster.derived import DerivedRaster
from kitesort.core.raster.neighbourhood import NativeRaster, NativeReading
from kitesort.core.raster.protocol import Raster
from kitesort.core.raster.sample import plan_sample, sample_pixels


@dataclass(frozen=True)
class Undefined:
    """``n_undefined`` of ``n_usable`` pixels; ``exact``: of all, else of native pixels
    spread over the scene."""

    n_undefined: int
    n_usable: int
    exact: bool


def count_undefined(raster: Raster) -> Undefined:
    """Of a layer computed from bands; none for layers that only pass values on, or whose pixels
    have a value wherever their scene's have."""
    if not isinstance(raster, DerivedRaster):
        behind = raster.source if isinstance(raster, NativeRaster | NativeReading) else raster
        found = sample_pixels(behind)
        return Undefined(0, found.n_valid, found.exact)
    plan = plan_sample(raster.grid)
    n_usable = n_defined = 0
    for window in plan.windows:
        before = raster.source.read(window, raster.inputs)
        after = raster.compute(before, raster.inputs)
        n_usable += int(before.valid.sum())
        n_defined += int((after.valid & before.valid).sum())
    return Undefined(n_usable - n_defined, n_usable, plan.exact)
