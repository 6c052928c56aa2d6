"""Rasters on one grid read together, and what is made of them."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from kitesort.core.bands import Band
from kitesort.core.errors import InputError, MissingRoleError
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.lazy import LazyRaster
from kitesort.core.raster.protocol import (
    Block,
    Float32Array,
    Raster,
    Shape,
    band_positions,
    block_of,
    roles_of,
)

# values (scenes, bands, rows, cols) with NaN where not valid, roles → values (bands, rows, cols)
Reduce = Callable[[Float32Array, tuple[str, ...]], Float32Array]


@dataclass(frozen=True)
class CombinedRaster(LazyRaster):
    """Pixel by pixel from several rasters; ``needs`` are read even when not asked for."""

    members: tuple[Raster, ...]
    roles: tuple[str, ...]
    reduce: Reduce
    signature: str
    needs: tuple[str, ...] = ()

    @property
    def grid(self) -> Grid:
        return self.members[0].grid

    @property
    def bands(self) -> tuple[Band, ...]:
        by_role = {band.role: band for band in self.members[0].bands}
        return tuple(by_role[role] for role in self.roles)

    def _told(self) -> tuple[str, ...]:
        return self.signature, *(m.fingerprint for m in self.members)

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        asked = tuple(self.roles[p] for p in band_positions(self.bands, roles))
        read = tuple(dict.fromkeys((*asked, *self.needs)))
        blocks = [m.read(window, read, shape) for m in self.members]
        values = self.reduce(np.stack([b.values for b in blocks]), read)
        return block_of(values[[read.index(role) for role in asked]].astype(np.float32))


def combine_on_one_grid(
    members: tuple[Raster, ...], reduce: Reduce, signature: str, needs: tuple[str, ...] = ()
) -> CombinedRaster:
    """Roles that all members have, on their common grid.

    Raises
    ------
    InputError, GridMismatchError, MissingRoleError
    """
    if len(members) < 2:
        raise InputError("Choose at least two scenes.")
    for member in members[1:]:
        members[0].grid.require_same_as(member.grid)
    common = set.intersection(*(set(roles_of(m)) for m in members))
    roles = tuple(role for role in roles_of(members[0]) if role in common)
    missing = [role for role in needs if role not in common]
    if missing or not roles:
        raise MissingRoleError(
            f"Not every scene has the band {', '.join(missing)}."
            if missing
            else "The scenes have no band role in common."
        )
    require_same_quantities(members, roles)
    return CombinedRaster(members, roles, reduce, signature, needs)


def require_same_quantities(members: tuple[Raster, ...], roles: tuple[str, ...]) -> None:
    """A pixel of numbers beside one of reflectance is a picture of nothing.

    Raises
    ------
    InputError
    """
    first = {band.role: band.quantity for band in members[0].bands}
    for band in (band for member in members[1:] for band in member.bands if band.role in roles):
        if band.quantity != first[band.role]:
            raise InputError(
                f"The band {band.role} is {first[band.role]} in one of the scenes and "
                f"{band.quantity} in another. Convert first, in Correct."
            )


def pick(stack: Float32Array, score: Float32Array) -> Float32Array:
    """For each pixel all bands of the scene with the highest score; NaN scores never win, and where
    there is no other there is nothing to pick."""
    none = np.isnan(score)
    best = np.argmax(np.where(none, -np.inf, score), axis=0)
    picked = np.take_along_axis(stack, best[None, None], axis=0)[0]
    return np.where(none.all(axis=0), np.float32(np.nan), picked)


def nan_median(stack: Float32Array) -> Float32Array:
    """Median over the first axis without not-a-number, as ``np.nanmedian`` without its warnings,
    which are not safe to silence in threads."""
    ordered = np.sort(stack, axis=0)  # NaN sorts last
    n = (~np.isnan(stack)).sum(axis=0)[None]
    low, high = np.maximum((n - 1) // 2, 0), np.minimum(n // 2, stack.shape[0] - 1)
    lower = np.take_along_axis(ordered, low, axis=0)[0]
    upper = np.take_along_axis(ordered, high, axis=0)[0]
    return np.asarray((lower + upper) / 2, np.float32)
