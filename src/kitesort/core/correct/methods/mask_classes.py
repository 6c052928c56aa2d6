"""Ground of some classes of a map becomes no data, or all but it."""

from dataclasses import dataclass

import numpy as np
from pydantic import Field

from kitesort.core.correct.methods._masked import MaskedRaster, Side, mask_side, mask_words
from kitesort.core.grid import Window
from kitesort.core.legend import MOST_CLASSES
from kitesort.core.operation import ANY_KIND, Context, Operation, of_one
from kitesort.core.raster.class_codes import codes_in, legend_of, require_codes
from kitesort.core.raster.protocol import BoolArray, Raster, Shape
from kitesort.core.settings import Settings


class MapClasses(Settings):
    """Classes of a class map, by code."""

    layer_id: int
    codes: tuple[int, ...] = Field(min_length=1, max_length=MOST_CLASSES + 1)


class ClassMaskSettings(Settings):
    ground: MapClasses = Field(
        title="Classes of a map",
        description="Both must lie on the same grid. Where the map has no data, none is used.",
        json_schema_extra={"widget": "classes of a map"},
    )
    mask: Side = mask_side("these classes", "all but these classes", "outside")


@dataclass(frozen=True)
class _Usable:
    """Where the map itself has no data nothing is known of the ground, and nothing is used."""

    pattern: Raster
    codes: tuple[int, ...]
    keep: bool

    def __call__(self, window: Window, shape: Shape) -> BoolArray:
        block = self.pattern.read(window, None, shape)
        listed = np.isin(codes_in(block), self.codes)
        return np.asarray(block.valid & (listed == self.keep))


def _apply(raster: Raster, settings: ClassMaskSettings, context: Context) -> Raster:
    pattern = context.open_reference(settings.ground.layer_id)
    require_codes(legend_of(pattern), settings.ground.codes, "Classes of a map")
    raster.grid.require_same_as(pattern.grid)
    usable = _Usable(pattern, settings.ground.codes, settings.mask == "outside")
    signature = f"{settings.ground.codes} {settings.mask} {pattern.fingerprint}"
    return MaskedRaster(raster, usable, signature)


def _say(s: ClassMaskSettings) -> str:
    n = len(s.ground.codes)
    return mask_words(f"{n} class{'' if n == 1 else 'es'} of map {s.ground.layer_id}", s.mask)


SPEC = Operation(
    id="mask-classes",
    version=1,
    station="correct",
    title="Mask by a class map",
    short="masked",
    family="mask",
    good_for="Work within some covers only: fields alone, or everything but water.",
    source="The map's own pixels",
    settings=ClassMaskSettings,
    open=of_one(_apply),
    say=_say,
    others=lambda s: (s.ground.layer_id,),
    takes=ANY_KIND,
)
