"""Digital numbers to top-of-atmosphere reflectance by the scene's own factors."""

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from kitesort.core.errors import BadSettingsError, MissingRoleError
from kitesort.core.raster.derived import DerivedRaster
from kitesort.core.raster.protocol import Block, Raster, block_of, roles_of


@dataclass(frozen=True)
class BandFactors:
    """reflectance = (gain × DN + offset) / sin(sun elevation)."""

    gain: float
    offset: float


@dataclass(frozen=True)
class _Calibrate:
    """Picklable block function, so that the same recipe runs on a cluster."""

    factors: tuple[tuple[str, float, float], ...]

    def __call__(self, block: Block, roles: tuple[str, ...]) -> Block:
        table = {role: (gain, offset) for role, gain, offset in self.factors}
        gains = np.array([table[role][0] for role in roles], np.float32)[:, None, None]
        offsets = np.array([table[role][1] for role in roles], np.float32)[:, None, None]
        return block_of(block.values * gains + offsets)


def calibrate(
    raster: Raster, factors: Mapping[str, BandFactors], sun_elevation_deg: float | None
) -> DerivedRaster:
    """Lazy reflectance (0 to 1, float32) of every band of a raster of digital numbers.

    ``sun_elevation_deg`` None: the factors already hold the sun's height.

    Raises
    ------
    MissingRoleError : a band without factors.
    BadSettingsError : the sun at or below the horizon.

    Source: data users' handbooks of the Landsat missions, "conversion to TOA reflectance".
    """
    roles = roles_of(raster)
    missing = [role for role in roles if role not in factors]
    if missing:
        raise MissingRoleError(f"There is no gain and offset for {', '.join(missing)}.")
    sine = 1.0
    if sun_elevation_deg is not None:
        if not 0 < sun_elevation_deg <= 90:
            raise BadSettingsError(
                f"A sun elevation of {sun_elevation_deg:g}° gives no reflectance; "
                "it must lie above 0° and at most at 90°."
            )
        sine = math.sin(math.radians(sun_elevation_deg))
    table = tuple((r, factors[r].gain / sine, factors[r].offset / sine) for r in roles)
    return DerivedRaster(raster, roles, raster.bands, _Calibrate(table), repr(table), per_band=True)
