"""The mask of another scene on the same grid, used again."""

from dataclasses import dataclass

from pydantic import Field

from kitesort.core.correct.methods._masked import MaskedRaster
from kitesort.core.grid import Window
from kitesort.core.operation import ANY_KIND, Context, Operation, of_one
from kitesort.core.raster.protocol import BoolArray, Raster, Shape, roles_of
from kitesort.core.settings import Settings


class SameMaskSettings(Settings):
    scene_id: int = Field(
        title="Scene whose mask is used",
        description="What is not usable there is not usable here. Both must lie on the same grid.",
        json_schema_extra={"widget": "scene"},
    )


@dataclass(frozen=True)
class _UsableThere:
    other: Raster

    def __call__(self, window: Window, shape: Shape) -> BoolArray:
        return self.other.read(window, roles_of(self.other)[:1], shape).valid


def _apply(raster: Raster, settings: SameMaskSettings, context: Context) -> Raster:
    other = context.open_reference(settings.scene_id)
    raster.grid.require_same_as(other.grid)
    return MaskedRaster(raster, _UsableThere(other), f"like {other.fingerprint}")


SPEC = Operation(
    id="mask-like",
    version=1,
    station="correct",
    title="Mask as in another scene",
    short="masked",
    family="mask",
    good_for="Comparing dates over exactly the same pixels.",
    source="The other scene's usable pixels",
    settings=SameMaskSettings,
    open=of_one(_apply),
    say=lambda s: f"masked as scene {s.scene_id}",
    others=lambda s: (s.scene_id,),
    takes=ANY_KIND,
)
