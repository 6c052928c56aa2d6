"""Several dates as one: each pixel from the date on which it is greenest."""

import numpy as np
from pydantic import Field

from kitesort.core.correct.combinations._several import combine_on_one_grid, pick
from kitesort.core.operation import MOST_MEMBERS, Context, Inputs, Operation
from kitesort.core.raster.protocol import Float32Array, Raster
from kitesort.core.settings import Settings


class HighestIndexSettings(Settings):
    upper: str = Field(
        "nir", title="Band", description="The index is (band - other) / (band + other).",
        json_schema_extra={"widget": "role"},
    )  # fmt: skip
    lower: str = Field(
        "red", title="Other band", description="nir and red make the vegetation index.",
        json_schema_extra={"widget": "role"},
    )  # fmt: skip


class _Highest:
    def __init__(self, upper: str, lower: str) -> None:
        self._upper, self._lower = upper, lower

    def __call__(self, stack: Float32Array, roles: tuple[str, ...]) -> Float32Array:
        a, b = stack[:, roles.index(self._upper)], stack[:, roles.index(self._lower)]
        total = a + b
        index = np.full(total.shape, np.nan, np.float32)
        np.divide(a - b, total, out=index, where=total != 0)
        return pick(stack, index)


def _combine(members: Inputs, settings: HighestIndexSettings, _context: Context) -> Raster:
    needs = (settings.upper, settings.lower)
    return combine_on_one_grid(members, _Highest(*needs), f"highest {needs}", needs)


SPEC = Operation(
    id="highest-index",
    version=1,
    station="combine",
    title="Highest index of dates",
    short="greenest of dates",
    good_for="The height of the growing season: cloud and haze lower a vegetation index, so that "
    "clear and green dates win.",
    source="B. N. Holben 1986, International Journal of Remote Sensing 7:1417-1434",
    settings=HighestIndexSettings,
    open=_combine,
    most_inputs=MOST_MEMBERS,
    say=lambda s: f"the pixels with the highest index of {s.upper} over {s.lower} of",
)
