"""Bands from several files, of whatever resolution, on one grid; nothing is read until asked."""

import hashlib
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from kitesort.core.bands import Band
from kitesort.core.errors import GridMismatchError, InputError
from kitesort.core.grid import Grid, Window, parse_crs
from kitesort.core.raster.file import FileRaster
from kitesort.core.raster.protocol import Block, BoolArray, Shape, band_positions, roles_of


@dataclass(frozen=True)
class StackRaster:
    """A lazy stack on ``grid``; coarser members are read nearest neighbour.

    ``flags`` is an optional quality band; pixels with any of ``excluded_bits`` set are not valid.

    Raises
    ------
    GridMismatchError : a member in another coordinate system or at another place.
    InputError : a role given twice, or no member.
    """

    grid: Grid
    members: tuple[FileRaster, ...]
    flags: FileRaster | None = None
    excluded_bits: int = 0

    def __post_init__(self) -> None:
        if not self.members:
            raise InputError("A stack needs at least one band.")
        roles = [band.role for band in self.bands]
        twice = {role for role in roles if roles.count(role) > 1}
        if twice:
            raise InputError(f"The band role {', '.join(sorted(twice))} is given twice.")
        for member in (*self.members, *([self.flags] if self.flags else [])):
            _require_overlap(self.grid, member)

    @cached_property
    def bands(self) -> tuple[Band, ...]:
        return tuple(band for member in self.members for band in member.bands)

    @property
    def fingerprint(self) -> str:
        parts = [member.fingerprint for member in self.members]
        if self.flags:
            parts += [self.flags.fingerprint, str(self.excluded_bits)]
        return hashlib.blake2s("|".join(parts).encode(), digest_size=8).hexdigest()

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        wanted = [self.bands[p].role for p in band_positions(self.bands, roles)]
        out = shape or (window.height, window.width)
        values = np.empty((len(wanted), *out), np.float32)
        valid = np.ones(out, np.bool_)
        for member in self.members:
            places = [i for i, role in enumerate(wanted) if role in roles_of(member)]
            if places:
                mine = tuple(wanted[i] for i in places)  # one band may be wanted more than once
                block = self._read_member(member, window, out, mine)
                values[places] = block.values
                valid &= block.valid
        if self.flags and self.excluded_bits:
            valid &= self._read_flags(window, out)
        return Block(values, valid)

    def _read_flags(self, window: Window, shape: Shape) -> BoolArray:
        assert self.flags is not None
        block = self._read_member(self.flags, window, shape, None)
        flags = block.values[0].astype(np.uint32)
        return (flags & np.uint32(self.excluded_bits)) == 0

    def _read_member(
        self, member: FileRaster, window: Window, shape: Shape, roles: tuple[str, ...] | None
    ) -> Block:
        row0, col0 = member.grid.world_to_pixel(*self.grid.pixel_to_world(window.row, window.col))
        row1, col1 = member.grid.world_to_pixel(
            *self.grid.pixel_to_world(window.row + window.height, window.col + window.width)
        )
        return member.read_span((row0, row1), (col0, col1), shape, roles)


def _require_overlap(grid: Grid, member: FileRaster) -> None:
    name = member.bands[0].role if member.bands else member.path
    if parse_crs(member.grid.crs) != parse_crs(grid.crs):
        raise GridMismatchError(
            f"The band {name} is in {member.grid.crs}, the stack in {grid.crs}. "
            "Reproject one first."
        )
    if grid.window_of_bounds(member.grid.bounds) is None:
        raise GridMismatchError(f"The band {name} lies at another place than the stack.")
