"""Pixels that lie in a cloud of feature space become no data, or all but them."""

from dataclasses import dataclass

from pydantic import Field, model_validator

from kitesort.core.cloud import MAX_TEXT, PATTERN, in_cloud, parse_cloud
from kitesort.core.correct.methods._masked import MaskedRaster, Side, mask_side, mask_words
from kitesort.core.errors import BadSettingsError
from kitesort.core.grid import Window
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.protocol import BoolArray, Raster, Shape, band_positions
from kitesort.core.settings import Settings


class DrawnCloud(Settings):
    """Corners in values of two bands: across up, across up, …"""

    across: str = Field(min_length=1, max_length=80)
    up: str = Field(min_length=1, max_length=80)
    corners: str = Field(max_length=MAX_TEXT, pattern=PATTERN)

    @model_validator(mode="after")
    def _encloses(self) -> "DrawnCloud":
        try:
            parse_cloud(self.corners)
        except BadSettingsError as error:
            raise ValueError(error.sentence) from error
        return self


class CloudMaskSettings(Settings):
    cloud: DrawnCloud = Field(
        title="Cloud",
        description="Circled in feature space, in two bands of the scene.",
        json_schema_extra={"widget": "cloud"},
    )
    mask: Side = mask_side("the cloud", "all but the cloud")


@dataclass(frozen=True)
class _Usable:
    """A pixel without a value of either band lies in no cloud, and is left out with what is."""

    source: Raster
    settings: CloudMaskSettings

    def __call__(self, window: Window, shape: Shape) -> BoolArray:
        cloud = self.settings.cloud
        block = self.source.read(window, (cloud.across, cloud.up), shape)
        across, up = block.values
        inside = in_cloud(parse_cloud(cloud.corners), across, up)
        return block.valid & (inside == (self.settings.mask == "outside"))


def _apply(raster: Raster, settings: CloudMaskSettings, _: Context) -> Raster:
    band_positions(raster.bands, (settings.cloud.across, settings.cloud.up))
    return MaskedRaster(raster, _Usable(raster, settings), repr(settings))


SPEC = Operation(
    id="mask-cloud",
    version=1,
    station="correct",
    title="Mask a cloud of feature space",
    short="masked",
    family="mask",
    good_for="One kind of ground left out, or kept alone: water, snow, bare soil.",
    source="Pixels whose values lie inside the drawn corners",
    settings=CloudMaskSettings,
    open=of_one(_apply),
    say=lambda s: mask_words(f"a cloud of {s.cloud.across} and {s.cloud.up}", s.mask),
)
