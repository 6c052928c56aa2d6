"""One date's values spread like another's: histogram matching, band by band."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from pydantic import Field

from kitesort.core.bands import with_quantities
from kitesort.core.correct.methods._paired_sample import (
    LikeSceneSettings,
    common_roles,
    quantities_of,
)
from kitesort.core.engine import Watch
from kitesort.core.errors import NoValidPixelsError
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.derived import DerivedRaster
from kitesort.core.raster.protocol import Block, Raster, block_of, roles_of
from kitesort.core.raster.sample import sample_pixels

N_QUANTILES = 513
BEYOND = 10.0  # so many times the sample's range


class MatchHistogramSettings(LikeSceneSettings):
    scene_id: int = Field(
        title="Like the scene",
        description="Its histograms are the pattern. The two need not lie on the same grid, but "
        "should show the same kinds of ground.",
        json_schema_extra={"widget": "scene"},
    )
    table: dict[str, tuple[tuple[float, ...], tuple[float, ...]]] = Field(
        default_factory=dict, title="Quantiles", json_schema_extra={"widget": "hidden"}
    )


@dataclass(frozen=True)
class _Match:
    table: tuple[tuple[str, tuple[float, ...], tuple[float, ...]], ...]

    def __call__(self, block: Block, roles: tuple[str, ...]) -> Block:
        by_role = {role: (here, there) for role, here, there in self.table}
        values = block.values.copy()
        for i, role in enumerate(roles):
            if role in by_role:
                values[i] = np.interp(block.values[i], *by_role[role])
        return block_of(values)


def quantile_table(here: Any, there: Any) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Quantiles of two sets of values at the same shares; doubled values are averaged.

    Beyond the sample's least and greatest value the scale goes on as it is on the whole, so that
    what was not in the sample is not flattened.
    """
    shares = np.linspace(0, 1, N_QUANTILES)
    mine, theirs = np.quantile(here, shares), np.quantile(there, shares)
    values, position = np.unique(mine, return_inverse=True)
    means = np.bincount(position, theirs) / np.bincount(position)
    if values.size > 1:
        slope = (means[-1] - means[0]) / (values[-1] - values[0])
        reach = BEYOND * (values[-1] - values[0])
        values = np.concatenate([[values[0] - reach], values, [values[-1] + reach]])
        ends = means[0] - reach * slope, means[-1] + reach * slope
        means = np.concatenate([ends[:1], means, ends[1:]])
    return tuple(values.tolist()), tuple(means.tolist())


def _prepare(
    raster: Raster, settings: MatchHistogramSettings, context: Context, _watch: Watch
) -> MatchHistogramSettings:
    other = context.open_reference(settings.scene_id)
    roles = common_roles(raster, other)
    mine = sample_pixels(raster, roles).values
    theirs = sample_pixels(other, roles).values
    if mine.shape[1] == 0 or theirs.shape[1] == 0:
        raise NoValidPixelsError("One of the two scenes has no valid pixel.")
    table = {r: quantile_table(mine[i], theirs[i]) for i, r in enumerate(roles)}
    quantities = quantities_of(other, roles)
    return settings.model_copy(update={"table": table, "quantities": quantities})


def _apply(raster: Raster, settings: MatchHistogramSettings, _: Context) -> Raster:
    compute = _Match(tuple((role, *tables) for role, tables in settings.table.items()))
    bands = with_quantities(raster.bands, settings.quantities)
    return DerivedRaster(raster, roles_of(raster), bands, compute, repr(compute), True)


SPEC = Operation(
    id="match-histogram",
    version=1,
    station="correct",
    title="Normalise: match histograms",
    short="matched",
    family="norm",
    good_for="Bringing a date near to another one when the light and the air differed and the "
    "covers are about the same. Real change is partly taken away with it.",
    source="R. C. Gonzalez and R. E. Woods, Digital Image Processing, histogram matching",
    settings=MatchHistogramSettings,
    open=of_one(_apply),
    say=lambda s: f"histograms matched to scene {s.scene_id}",
    prepare=of_one(_prepare),
    others=lambda s: (s.scene_id,),
)
