"""Values that cannot be measurements become no data."""

from dataclasses import dataclass

import numpy as np
from pydantic import Field, model_validator

from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.derived import DerivedRaster
from kitesort.core.raster.protocol import Block, Raster, masked_block, roles_of
from kitesort.core.settings import Settings


class RangeMaskSettings(Settings):
    lowest: float = Field(
        0.0, title="Lowest", description="Pixels with a lower value in any band are masked."
    )
    highest: float = Field(
        1.0, title="Highest", description="Pixels with a higher value in any band are masked."
    )

    @model_validator(mode="after")
    def _in_order(self) -> "RangeMaskSettings":
        if self.lowest >= self.highest:
            raise ValueError("the lowest value must be below the highest")
        return self


@dataclass(frozen=True)
class _InRange:
    lowest: float
    highest: float

    def __call__(self, block: Block, _: tuple[str, ...]) -> Block:
        # In single precision, in which pixels are kept; no pixel lies beyond its largest number.
        most = float(np.finfo(np.float32).max)
        limits = np.clip([self.lowest, self.highest], -most, most)
        lowest, highest = limits.astype(np.float32)
        out = (block.values < lowest) | (block.values > highest)  # what is missing is not
        return masked_block(block.values, np.asarray(~out.any(axis=0)))


def _apply(raster: Raster, settings: RangeMaskSettings, _: Context) -> Raster:
    compute = _InRange(settings.lowest, settings.highest)
    return DerivedRaster(raster, roles_of(raster), raster.bands, compute, repr(compute))


SPEC = Operation(
    id="mask-range",
    version=1,
    station="correct",
    title="Mask values out of range",
    short="masked",
    family="mask",
    good_for="Saturated or damaged pixels: a reflectance below 0 or above 1 is no measurement.",
    source="Common practice",
    settings=RangeMaskSettings,
    open=of_one(_apply),
    say=lambda s: f"values outside {s.lowest:g} to {s.highest:g} masked",
)
