"""Pixels that the quality band warns of become no data."""

from dataclasses import dataclass

from pydantic import Field

from kitesort.core.correct.methods._masked import MaskedRaster
from kitesort.core.correct.protocol import CorrectionContext, CorrectionSpec
from kitesort.core.errors import BadSettingsError, InputError
from kitesort.core.grid import Window
from kitesort.core.raster.protocol import BoolArray, Raster, Shape
from kitesort.core.raster.quality import QualityFlag, flagged
from kitesort.core.raster.warp import WarpedRaster
from kitesort.core.settings import Settings


class QualityMaskSettings(Settings):
    flags: tuple[str, ...] = Field(
        ("cloud", "cloud_shadow"),
        title="Meanings to mask",
        description="Pixels of which the quality band says this become no data.",
        min_length=1,
        json_schema_extra={"widget": "quality flags"},
    )


@dataclass(frozen=True)
class _NotFlagged:
    quality: Raster
    flags: tuple[QualityFlag, ...]

    def __call__(self, window: Window, shape: Shape) -> BoolArray:
        return ~flagged(self.quality.read(window, None, shape).values[0], self.flags)


def _apply(raster: Raster, settings: QualityMaskSettings, context: CorrectionContext) -> Raster:
    delivery = context.require_delivery("quality band")
    quality = delivery.quality_raster()
    if quality is None:
        raise InputError(f"{delivery.name} was delivered without a quality band.")
    unknown = [name for name in settings.flags if name not in delivery.flag_names]
    if unknown:
        raise BadSettingsError(
            f"The quality band of {delivery.name} says nothing of {', '.join(unknown)}. "
            f"It knows {', '.join(delivery.flag_names)}."
        )
    onto = quality if quality.grid == raster.grid else WarpedRaster(quality, raster.grid)
    flags = delivery.flags_named(settings.flags)
    signature = f"{onto.fingerprint}|{flags!r}"
    return MaskedRaster(raster, _NotFlagged(onto, flags), signature)


SPEC = CorrectionSpec(
    id="mask-quality",
    version=1,
    title="Mask by the quality band",
    good_for="Clouds, their shadows, snow or water, where the provider has marked them.",
    source="The bit meanings of the delivery's own documentation",
    settings=QualityMaskSettings,
    apply=_apply,
    say=lambda s: f"{', '.join(f.replace('_', ' ') for f in s.flags)} masked by the quality band",
)
