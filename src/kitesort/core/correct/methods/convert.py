"""What the numbers mean: as delivered, radiance, or reflectance by the metadata's own factors."""

from contextlib import suppress
from typing import Literal

import numpy as np
from pydantic import Field

from kitesort.core.correct.methods._masked import MaskedLikeRaster
from kitesort.core.delivery.opening import Asked, open_delivery
from kitesort.core.engine import Watch
from kitesort.core.errors import InputError
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.protocol import Raster, roles_of
from kitesort.core.raster.sample import plan_sample
from kitesort.core.settings import Settings, titled


class ConvertSettings(Settings):
    quantity: Literal["reflectance", "radiance", "numbers"] = Field(
        "reflectance",
        title="Quantity",
        description="Reflectance runs from 0 to 1; radiance is in watts per square metre, "
        "steradian and micrometre; numbers are as the sensor delivered them. Thermal bands become "
        "temperature in kelvin beside reflectance.",
        json_schema_extra=titled(
            {
                "reflectance": "reflectance, 0 to 1",
                "radiance": "radiance, W/(m² sr µm)",
                "numbers": "numbers as delivered",
            }
        ),
    )


QUANTITIES: tuple[Asked | None, ...] = (None, "numbers", "radiance", "reflectance")
COMPARED_PIXELS = 2**16


def _prepare(
    raster: Raster, settings: ConvertSettings, context: Context, _watch: Watch
) -> ConvertSettings:
    """Refuse what would undo a step before: values that are none of the delivery's any more."""
    _convert(raster, settings, context)
    if not _is_as_delivered(raster, context):
        raise InputError(
            "A step before has changed the values, and converting starts from the numbers as "
            "delivered: it would undo that step. Make the conversion the first step."
        )
    return settings


def _is_as_delivered(raster: Raster, context: Context) -> bool:
    """Whether the values, where there are any, are the delivery's own in one of its quantities."""
    delivery = context.require_delivery("factors")
    windows = plan_sample(raster.grid, most=COMPARED_PIXELS).windows
    for quantity in QUANTITIES:
        with suppress(InputError):  # not every delivery has factors for all
            as_delivered = open_delivery(delivery, context.excluded, quantity)
            pairs = [(raster.read(w).values, as_delivered.read(w).values) for w in windows]
            if all(np.array_equal(a[~np.isnan(a)], b[~np.isnan(a)]) for a, b in pairs):
                return True
    return False


def _convert(raster: Raster, settings: ConvertSettings, context: Context) -> Raster:
    delivery = context.require_delivery("factors")
    converted = open_delivery(delivery, context.excluded, settings.quantity)
    if converted.grid != raster.grid or roles_of(converted) != roles_of(raster):
        raise InputError(
            "Convert first, then change grid or bands: the factors belong to the delivery."
        )
    return converted


def _apply(raster: Raster, settings: ConvertSettings, context: Context) -> Raster:
    """What was masked before stays masked."""
    return MaskedLikeRaster(_convert(raster, settings, context), raster)


SPEC = Operation(
    id="convert",
    version=1,
    station="correct",
    title="Numbers to reflectance or radiance",
    short="converted",
    family="values",
    good_for="Making values comparable between dates and sensors. It comes first: it starts from "
    "the numbers as delivered.",
    source="Data users' handbooks of the Landsat missions: (gain × DN + offset) / sin(sun "
    "elevation)",
    settings=ConvertSettings,
    open=of_one(_apply),
    otherwise="scale",
    prepare=of_one(_prepare),
    say=lambda s: {"numbers": "numbers as delivered"}.get(s.quantity, f"{s.quantity} by the "
                                                          "metadata's factors"),
)  # fmt: skip
