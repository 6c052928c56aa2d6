"""Bands from several files, of whatever resolution, on one grid; nothing is read until asked."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from kitesort.core.bands import Band
from kitesort.core.errors import GridMismatchError, InputError
from kitesort.core.grid import Grid, Window, parse_crs
from kitesort.core.raster.file import FileRaster
from kitesort.core.raster.lazy import LazyRaster
from kitesort.core.raster.protocol import (
    Block,
    Raster,
    Shape,
    band_positions,
    block_of,
    roles_of,
)
from kitesort.core.raster.quality import QualityFlag, flagged
from kitesort.core.raster.resample import Resampling
from kitesort.core.raster.warp import WarpedRaster

Span = tuple[float, float]


@dataclass(frozen=True)
class StackRaster(LazyRaster):
    """A lazy stack on ``grid``; members on another grid are resampled.

    ``quality`` is an optional quality band; pixels to which any of ``excluded`` applies are not
    valid. It is always read nearest neighbour.

    Raises
    ------
    GridMismatchError : a member in another coordinate system or at another place.
    InputError : a role given twice, or no member.
    """

    grid: Grid
    members: tuple[Raster, ...]
    quality: FileRaster | None = None
    excluded: tuple[QualityFlag, ...] = ()
    resampling: Resampling = "nearest"

    def __post_init__(self) -> None:
        if not self.members:
            raise InputError("A stack needs at least one band.")
        roles = [band.role for band in self.bands]
        twice = {role for role in roles if roles.count(role) > 1}
        if twice:
            raise InputError(f"The band role {', '.join(sorted(twice))} is given twice.")
        for member in (*self.members, *([self.quality] if self.quality else [])):
            _require_overlap(self.grid, member)

    @cached_property
    def bands(self) -> tuple[Band, ...]:
        return tuple(
            band if member.grid == self.grid else replace(band, native=band.native or member.grid)
            for member in self.members
            for band in member.bands
        )

    def _told(self) -> tuple[str, ...]:
        return (
            repr(self.grid),
            self.resampling,
            *(m.fingerprint for m in self.members),
            *self._quality_told(),
        )

    def _quality_told(self) -> tuple[str, ...]:
        return (self.quality.fingerprint, repr(self.excluded)) if self.quality else ()

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        wanted = [self.bands[p].role for p in band_positions(self.bands, roles)]
        out = shape or (window.height, window.width)
        values = np.empty((len(wanted), *out), np.float32)
        for member in self.members:
            places = [i for i, role in enumerate(wanted) if role in roles_of(member)]
            if places:
                mine = tuple(wanted[i] for i in places)  # one band may be wanted more than once
                values[places] = self._read_member(member, window, out, mine).values
        if self.quality and self.excluded:
            numbers, _ = self.quality.read_numbers(
                *span_in(self.quality.grid, self.grid, window), out
            )
            values[:, flagged(numbers[0], self.excluded)] = np.nan
        return block_of(values)

    def _read_member(
        self, member: Raster, window: Window, shape: Shape, roles: tuple[str, ...] | None
    ) -> Block:
        if member.grid == self.grid:
            return member.read(window, roles, shape)
        if self.resampling == "nearest" and isinstance(member, FileRaster):
            return member.read_span(*span_in(member.grid, self.grid, window), shape, roles)
        return WarpedRaster(member, self.grid, self.resampling).read(window, roles, shape)


def span_in(source: Grid, target: Grid, window: Window) -> tuple[Span, Span]:
    """Fractional rows and columns of ``source`` that a window of ``target`` spans; one CRS."""
    row0, col0 = source.world_to_pixel(*target.pixel_to_world(window.row, window.col))
    row1, col1 = source.world_to_pixel(
        *target.pixel_to_world(window.row + window.height, window.col + window.width)
    )
    return (row0, row1), (col0, col1)


def _require_overlap(grid: Grid, member: Raster) -> None:
    name = member.bands[0].role
    if parse_crs(member.grid.crs) != parse_crs(grid.crs):
        raise GridMismatchError(
            f"The band {name} is in {member.grid.crs}, the stack in {grid.crs}. "
            "Reproject one first."
        )
    if grid.window_of_bounds(member.grid.bounds) is None:
        raise GridMismatchError(f"The band {name} lies at another place than the stack.")
