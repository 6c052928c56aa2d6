"""Several dates as one: each pixel from the date on which it looks clearest."""

from kitesort.core.correct.combinations._several import combine_on_one_grid, pick
from kitesort.core.correct.protocol import CombinationSpec
from kitesort.core.raster.protocol import Float32Array, Raster
from kitesort.core.settings import Settings


class ClearestSettings(Settings):
    """Nothing to set."""


def _least_blue(stack: Float32Array, roles: tuple[str, ...]) -> Float32Array:
    return pick(stack, -stack[:, roles.index("blue")])


def _combine(members: tuple[Raster, ...], _: ClearestSettings) -> Raster:
    return combine_on_one_grid(members, _least_blue, "clearest", ("blue",))


SPEC = CombinationSpec(
    id="clearest",
    version=1,
    title="Best pixel of dates",
    good_for="Thin cloud and haze: both brighten blue most, so that the date with the least blue "
    "is taken, all bands together.",
    source="Common practice (minimum of blue)",
    settings=ClearestSettings,
    combine=_combine,
    say=lambda _: "the clearest pixels of",
)
