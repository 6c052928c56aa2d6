"""What the numbers mean: as delivered, radiance, or reflectance by the metadata's own factors."""

from typing import Literal

from pydantic import Field

from kitesort.core.correct.protocol import CorrectionContext, CorrectionSpec
from kitesort.core.delivery.opening import open_delivery
from kitesort.core.errors import InputError
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import Settings


class ConvertSettings(Settings):
    quantity: Literal["reflectance", "radiance", "numbers"] = Field(
        "reflectance",
        title="Quantity",
        description="Reflectance runs from 0 to 1; radiance is in watts per square metre, "
        "steradian and micrometre; numbers are as the sensor delivered them.",
    )


def _apply(raster: Raster, settings: ConvertSettings, context: CorrectionContext) -> Raster:
    delivery = context.require_delivery("factors")
    converted = open_delivery(delivery, context.excluded, settings.quantity)
    if converted.grid != raster.grid:
        raise InputError("Convert first, then change the grid: the factors belong to the delivery.")
    return converted


SPEC = CorrectionSpec(
    id="convert",
    version=1,
    title="Numbers to reflectance or radiance",
    good_for="Making values comparable between dates and sensors. It comes first: it starts from "
    "the numbers as delivered.",
    source="Data users' handbooks of the Landsat missions: (gain × DN + offset) / sin(sun "
    "elevation)",
    settings=ConvertSettings,
    apply=_apply,
    say=lambda s: {"numbers": "numbers as delivered"}.get(s.quantity, f"{s.quantity} by the "
                                                          "metadata's factors"),
)  # fmt: skip
