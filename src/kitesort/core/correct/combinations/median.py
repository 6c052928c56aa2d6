"""Several dates as one: the middle value of each band."""

from kitesort.core.correct.combinations._several import combine_on_one_grid, nan_median
from kitesort.core.operation import MOST_MEMBERS, Context, Inputs, Operation
from kitesort.core.raster.protocol import Float32Array, Raster
from kitesort.core.settings import Settings


class MedianSettings(Settings):
    """Nothing to set."""


def _middle(stack: Float32Array, _: tuple[str, ...]) -> Float32Array:
    return nan_median(stack)


def _combine(members: Inputs, _: MedianSettings, _context: Context) -> Raster:
    return combine_on_one_grid(members, _middle, "median")


SPEC = Operation(
    id="median",
    version=1,
    station="combine",
    title="Median of dates",
    short="median of dates",
    good_for="One clear picture of a season. Each band has its own median, so that a pixel's bands "
    "need not stem from one date.",
    source="The median of the valid values; of an even number the mean of the middle two",
    settings=MedianSettings,
    open=_combine,
    most_inputs=MOST_MEMBERS,
    say=lambda _: "the median of",
)
