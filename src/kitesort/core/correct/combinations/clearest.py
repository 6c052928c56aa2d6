"""Several dates as one: each pixel from the date on which it looks clearest."""

from dataclasses import dataclass

import numpy as np

from kitesort.core.correct.combinations._several import combine_on_one_grid, nan_median, pick
from kitesort.core.operation import MOST_MEMBERS, Context, Inputs, Operation
from kitesort.core.raster.protocol import Float32Array, Raster, roles_of
from kitesort.core.settings import Settings

LEAST_DATES = 3  # of two dates nobody can tell which one is in shadow
# Shadow takes more from the infrared than from blue, which the sky still lights.
INFRARED = ("nir", "nir08", "swir16", "swir22", "red")
SHADOW_INFRARED, SHADOW_BLUE = 0.5, 0.8  # of the middle date's


class ClearestSettings(Settings):
    """Nothing to set."""


@dataclass(frozen=True)
class _LeastBlue:
    """Of three dates or more, those in shadow take no part: much darker than the middle date in the
    infrared, and darker in blue, too."""

    infrared: str | None

    def __call__(self, stack: Float32Array, roles: tuple[str, ...]) -> Float32Array:
        blue = stack[:, roles.index("blue")]
        if self.infrared is None or len(stack) < LEAST_DATES:
            return pick(stack, -blue)
        infrared = stack[:, roles.index(self.infrared)]
        shadow = (infrared < SHADOW_INFRARED * nan_median(infrared)) & (
            blue < SHADOW_BLUE * nan_median(blue)
        )
        return pick(stack, np.where(shadow, np.float32(np.nan), -blue))


def _combine(members: Inputs, _: ClearestSettings, _context: Context) -> Raster:
    common = set.intersection(*(set(roles_of(member)) for member in members))
    infrared = next((role for role in INFRARED if role in common), None)
    needs = ("blue",) if infrared is None else ("blue", infrared)
    return combine_on_one_grid(members, _LeastBlue(infrared), f"clearest {needs}", needs)


SPEC = Operation(
    id="clearest",
    version=1,
    station="combine",
    title="Best pixel of dates",
    short="clearest of dates",
    good_for="Thin cloud and haze: both brighten blue most, so that the date with the least blue "
    "is taken, all bands together. Of three dates or more, one much darker than the others is "
    "taken for shadow and left out.",
    source="Common practice (minimum of blue); the rule for shadow is ours",
    settings=ClearestSettings,
    open=_combine,
    most_inputs=MOST_MEMBERS,
    say=lambda _: "the clearest pixels of",
)
