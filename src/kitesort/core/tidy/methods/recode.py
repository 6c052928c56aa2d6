"""Classes made into others: recoded, joined, taken back."""

from pydantic import Field

from kitesort.core.errors import BadSettingsError
from kitesort.core.legend import UNCLASSIFIED_CODE
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.class_codes import RecodedRaster
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import Settings
from kitesort.core.tidy.methods._codes import require_known


class Recoded(Settings):
    """Pixels of a class become those of another; 255 is unclassified."""

    code: int = Field(ge=1, le=255)
    to: int = Field(ge=1, le=255)


class RecodeSettings(Settings):
    table: tuple[Recoded, ...] = Field(
        (),
        max_length=255,
        title="Becomes",
        description="Several classes may become the same one; what is not named stays as it is.",
        json_schema_extra={"widget": "recode"},
    )


def _open(raster: Raster, settings: RecodeSettings, _: Context) -> Raster:
    given = [one.code for one in settings.table]
    if len(set(given)) < len(given):
        raise BadSettingsError("A class is named twice. Say once what it becomes.")
    require_known(raster, given, "Becomes")
    targets = [one.to for one in settings.table]
    require_known(raster, [to for to in targets if to != UNCLASSIFIED_CODE], "Becomes")
    table = list(range(256))
    for one in settings.table:
        table[one.code] = one.to
    legend = raster.bands[0].legend
    left = {table[entry.code] for entry in legend}
    kept = tuple(e for e in legend if e.code in left or e.code == UNCLASSIFIED_CODE)
    return RecodedRaster(raster, kept, tuple(table))


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
    say=_say,
    takes=frozenset({"classes"}),
)
