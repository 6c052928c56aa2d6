"""A class map by breaks: limits over the values of one layer."""

from pydantic import Field

from kitesort.core.derive.breaks import BreakTable, breaks_raster
from kitesort.core.legend import UNCLASSIFIED, Legend
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import Settings


class BreaksSettings(Settings):
    """Quality flags left out, the band, and the table."""

    role: str = Field(max_length=64, title="Layer")
    excluded: tuple[str, ...] = Field((), title="Left out")
    table: BreakTable = Field(title="Breaks")

    @property
    def legend(self) -> Legend:
        return (*self.table.legend, UNCLASSIFIED)


def _open(raster: Raster, settings: BreaksSettings, _: Context) -> Raster:
    return breaks_raster(raster, settings.role, settings.table)


SPEC = Operation(
    id="breaks",
    version=1,
    station="classify",
    title="Class breaks",
    good_for="Classes that one layer tells apart: an index in steps.",
    source="Limits compared in the layer's own precision",
    settings=BreaksSettings,
    open=of_one(_open),
    say=lambda s: f"in classes by breaks of {s.role}: {s.table.words}",
    name=lambda _: "class map",
    leaves_out=lambda s: s.excluded,
    silent=frozenset({"name", "colour"}),
)
