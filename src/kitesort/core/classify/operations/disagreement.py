"""Where two class maps say the same, and where not."""

from dataclasses import dataclass

import numpy as np
from pydantic import Field

from kitesort.core.bands import Band
from kitesort.core.grid import Window
from kitesort.core.legend import (
    MOST_CLASSES,
    N_CODES,
    UNCLASSIFIED,
    Legend,
    LegendEntry,
    MapCode,
    same_named,
)
from kitesort.core.operation import Context, Inputs, Operation
from kitesort.core.raster.class_codes import codes_in
from kitesort.core.raster.class_file import class_bands
from kitesort.core.raster.lazy import OnSource
from kitesort.core.raster.protocol import (
    Block,
    Raster,
    Shape,
    band_positions,
    masked_block,
    require_same_grid,
)
from kitesort.core.settings import Settings

SAME, DIFFERENT = 1, 2
LEGEND: Legend = (
    LegendEntry(SAME, "The same", "#d8d2c4"),
    LegendEntry(DIFFERENT, "Not the same", "#7a2f6b"),
    UNCLASSIFIED,
)


class SamePair(Settings):
    """A code of the first map and the second's that is taken for the same."""

    first: MapCode
    second: MapCode


class DisagreementSettings(Settings):
    pairs: tuple[SamePair, ...] = Field(
        (),
        max_length=MOST_CLASSES + 1,
        title="Taken for the same",
        description="Where nothing is said, classes of the same name.",
    )


@dataclass(frozen=True)
class _Compared(OnSource):
    """Compared by class, not by code: those of two maps need not be the same. ``partner``: the
    second map's code of each of the first's."""

    source: Raster
    other: Raster
    partner: tuple[tuple[int, int], ...]

    @property
    def bands(self) -> tuple[Band, ...]:
        return class_bands(LEGEND)

    def _told(self) -> tuple[str, ...]:
        return "disagreement", self.source.fingerprint, self.other.fingerprint, repr(self.partner)

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        _ = band_positions(self.bands, roles)
        first, second = self.source.read(window, None, shape), self.other.read(window, None, shape)
        table = np.full(N_CODES, -1.0)
        for code, same_code in self.partner:
            table[code] = same_code
        valid = first.valid & second.valid
        same = table[codes_in(first)] == second.values[0]
        values = np.where(same, SAME, DIFFERENT).astype(np.float32)
        return masked_block(values[None], valid)


def _open(maps: Inputs, settings: DisagreementSettings, _context: Context) -> Raster:
    first, second = maps
    require_same_grid(first, second)
    partner = {pair.first: pair.second for pair in settings.pairs} or same_named(
        first.bands[0].legend, second.bands[0].legend
    )
    return _Compared(first, second, tuple(sorted(partner.items())))


SPEC = Operation(
    id="disagreement",
    version=1,
    station="classify",
    title="Where two maps differ",
    good_for="Places to look at before one of two maps is believed.",
    source="Class names compared pixel by pixel",
    settings=DisagreementSettings,
    open=_open,
    most_inputs=2,
    say=lambda _: "compared class by class",
    name=lambda _: "Where maps differ",
    takes=frozenset({"classes"}),
)
