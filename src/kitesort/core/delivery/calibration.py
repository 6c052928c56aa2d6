"""Digital numbers to reflectance, radiance or temperature by the scene's own factors."""

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from kitesort.core.bands import Quantity, with_quantities
from kitesort.core.errors import BadSettingsError, MissingRoleError
from kitesort.core.raster.derived import DerivedRaster
from kitesort.core.raster.protocol import Block, Float32Array, Raster, block_of, roles_of


@dataclass(frozen=True)
class BandFactors:
    """gain × DN + offset is of the quantity; reflectance is divided by the sine of the sun's
    height, and with ``thermal`` (k1 as radiance, k2 in kelvin) it is radiance that becomes
    temperature."""

    gain: float
    offset: float
    quantity: Quantity = "reflectance"
    thermal: tuple[float, float] | None = None


AS_DELIVERED = BandFactors(1.0, 0.0, "numbers")


@dataclass(frozen=True)
class _Calibrate:
    """Picklable block function, so that the same recipe runs on a cluster."""

    factors: tuple[tuple[str, float, float], ...]
    thermal: tuple[tuple[str, tuple[float, float]], ...] = ()

    def __call__(self, block: Block, roles: tuple[str, ...]) -> Block:
        table = {role: (gain, offset) for role, gain, offset in self.factors}
        gains = np.array([table[role][0] for role in roles], np.float32)[:, None, None]
        offsets = np.array([table[role][1] for role in roles], np.float32)[:, None, None]
        values = block.values * gains
        values += offsets  # no third block as large
        constants = dict(self.thermal)
        for i, role in enumerate(roles):
            if role in constants:
                values[i] = brightness_temperature(values[i], *constants[role])
        return block_of(values)


def brightness_temperature(radiance: Float32Array, k1: float, k2: float) -> Float32Array:
    """Kelvin of a black body that sends out this radiance; not-a-number where it is not positive.

    T = k2 / ln(k1 / L + 1): Planck's law solved for T. Source: data users' handbooks of the Landsat
    missions, "conversion to top of atmosphere brightness temperature" (from memory).
    """
    usable = np.where(radiance > 0, radiance, np.nan).astype(np.float64)
    return np.asarray(k2 / np.log1p(k1 / usable), np.float32)


def calibrate(
    raster: Raster, factors: Mapping[str, BandFactors], sun_elevation_deg: float | None
) -> DerivedRaster:
    """Every band of a raster of digital numbers as what its factors make of it, lazily:
    reflectance (0 to 1), radiance, temperature (kelvin), or numbers as they are; float32.

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
    table = tuple((role, *_linear(factors[role], sine)) for role in roles)
    thermal = tuple((role, found) for role in roles if (found := factors[role].thermal))
    bands = with_quantities(raster.bands, {role: factors[role].quantity for role in roles})
    compute = _Calibrate(table, thermal)
    return DerivedRaster(raster, roles, bands, compute, repr(compute), per_band=True)


def _linear(found: BandFactors, sine: float) -> tuple[float, float]:
    """Only what the sun lights is divided by its height."""
    by = sine if found.quantity == "reflectance" else 1.0
    return found.gain / by, found.offset / by
