"""A linear step per band: value × gain + offset, lazily."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from kitesort.core.bands import Quantity, with_quantities
from kitesort.core.errors import BadSettingsError
from kitesort.core.raster.derived import DerivedRaster
from kitesort.core.raster.protocol import Block, Raster, block_of, roles_of

LARGEST = float(np.finfo(np.float32).max)


@dataclass(frozen=True)
class LinearPerBand:
    """Picklable block function; ``floor`` None leaves negative values as they are."""

    table: tuple[tuple[str, float, float], ...]
    floor: float | None = None

    def __call__(self, block: Block, roles: tuple[str, ...]) -> Block:
        by_role = {role: (gain, offset) for role, gain, offset in self.table}
        gains = np.array([by_role[r][0] for r in roles], np.float32)[:, None, None]
        offsets = np.array([by_role[r][1] for r in roles], np.float32)[:, None, None]
        with np.errstate(over="ignore"):  # what becomes infinite has no value any more
            values = block.values * gains + offsets
        values[np.isinf(values)] = np.nan
        if self.floor is not None:
            np.maximum(values, np.float32(self.floor), out=values)
        return block_of(values)


def linear_per_band(
    raster: Raster,
    factors: Mapping[str, tuple[float, float]],
    floor: float | None = None,
    quantities: Mapping[str, Quantity] = {},  # never changed
) -> DerivedRaster:
    """Gain and offset by role; bands that are not named stay as they are. ``quantities``: what they
    mean afterwards, where it is something else.

    Raises
    ------
    BadSettingsError : a factor beyond what values can be.
    """
    roles = roles_of(raster)
    table = tuple((role, *factors.get(role, (1.0, 0.0))) for role in roles)
    if any(abs(factor) > LARGEST for _, *given in table for factor in given):
        raise BadSettingsError(f"Values go up to {LARGEST:.3g}; a factor is larger than that.")
    compute = LinearPerBand(table, floor)
    bands = with_quantities(raster.bands, quantities)
    return DerivedRaster(raster, roles, bands, compute, repr(compute), per_band=True)
