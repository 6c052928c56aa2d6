"""Classes made into others: recoded, joined, taken back."""

from typing import Annotated

from pydantic import Field

from kitesort.core.errors import BadSettingsError
from kitesort.core.legend import MOST_CLASSES, OF_THE_MAP, UNCLASSIFIED_CODE, MapCode
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.class_codes import RecodedRaster, legend_of, require_codes
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import Settings
from kitesort.core.tidy.methods._becomes import COLOUR, Becomes, legend_with, prepare_meant


class Recoded(Settings):
    """Pixels of a class become those of another; 255 is unclassified. One that the map has not is
    named, and brings its colour."""

    code: Annotated[MapCode, OF_THE_MAP]
    to: Annotated[MapCode, OF_THE_MAP]
    name: str = Field("", max_length=80)
    colour: str = Field("", pattern=COLOUR)

    @property
    def becomes(self) -> Becomes:
        return Becomes(code=self.to, name=self.name, colour=self.colour)


class RecodeSettings(Settings):
    table: tuple[Recoded, ...] = Field(
        (),
        max_length=MOST_CLASSES + 1,
        title="Becomes",
        description="Several classes may become the same one; what is not named stays as it is.",
        json_schema_extra={"widget": "recode"},
    )


def _open(raster: Raster, settings: RecodeSettings, _: Context) -> Raster:
    given = [one.code for one in settings.table]
    if len(set(given)) < len(given):
        raise BadSettingsError("A class is named twice. Say once what it becomes.")
    require_codes(legend_of(raster), given, "Becomes")
    become = {one.code: one.to for one in settings.table}
    legend = legend_with(legend_of(raster), (one.becomes for one in settings.table), "Becomes")
    left = {become.get(entry.code, entry.code) for entry in legend_of(raster)}
    kept = tuple(e for e in legend if e.code in left or e.code == UNCLASSIFIED_CODE)
    return RecodedRaster(raster, kept, tuple(become.items()))


def _say(s: RecodeSettings) -> str:
    n = len(s.table)
    return f"{n} class{'' if n == 1 else 'es'} made into others"


SPEC = Operation(
    id="recode",
    version=1,
    station="tidy",
    title="Recode and join",
    short="recoded",
    good_for="Two classes that are reported as one, or one that should not be there.",
    source="Codes exchanged for codes",
    settings=RecodeSettings,
    open=of_one(_open),
    prepare=prepare_meant(of_one(_open), "Becomes"),
    say=_say,
    takes=frozenset({"classes"}),
    silent=frozenset({"name", "colour"}),
)
