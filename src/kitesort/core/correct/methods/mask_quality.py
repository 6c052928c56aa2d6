"""Pixels that the quality band warns of become no data."""

from pydantic import Field

from kitesort.core.errors import BadSettingsError, InputError
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import Settings


class QualityMaskSettings(Settings):
    flags: tuple[str, ...] = Field(
        ("cloud", "cloud_shadow"),
        title="Meanings to mask",
        description="Pixels of which the quality band says this become no data.",
        min_length=1,
        json_schema_extra={"widget": "quality flags"},
    )


def _apply(raster: Raster, settings: QualityMaskSettings, context: Context) -> Raster:
    """Only checked here: the flags were left out where the delivery was opened."""
    delivery = context.require_delivery("quality band")
    if delivery.quality is None:
        raise InputError(f"{delivery.name} was delivered without a quality band.")
    unknown = [name for name in settings.flags if name not in delivery.flag_names]
    if unknown:
        raise BadSettingsError(
            f"The quality band of {delivery.name} says nothing of {', '.join(unknown)}. "
            f"It knows {', '.join(delivery.flag_names)}."
        )
    return raster


SPEC = Operation(
    id="mask-quality",
    version=1,
    station="correct",
    title="Mask by the quality band",
    short="masked",
    family="mask",
    good_for="Clouds, their shadows, snow or water, where the provider has marked them.",
    source="The bit meanings of the delivery's own documentation",
    settings=QualityMaskSettings,
    open=of_one(_apply),
    say=lambda s: f"{', '.join(f.replace('_', ' ') for f in s.flags)} masked by the quality band",
    leaves_out=lambda s: s.flags,
)
