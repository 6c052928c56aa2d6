"""Bands of several rasters under names of their own, on the grid of the first one."""

from dataclasses import dataclass, replace

import numpy as np

from kitesort.core.bands import Band
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.lazy import LazyRaster
from kitesort.core.raster.protocol import Block, Raster, Shape, band_positions, block_of
from kitesort.core.raster.warp import WarpedRaster


@dataclass(frozen=True)
class Member:
    """The band ``role`` of ``raster``, called ``name`` here."""

    name: str
    raster: Raster
    role: str


@dataclass(frozen=True)
class JoinedRaster(LazyRaster):
    """Members as bands, valid where all that are asked for are. Members on another grid than
    ``target`` are brought onto it, nearest neighbour; whether they may be is the caller's say."""

    members: tuple[Member, ...]
    target: Grid

    @property
    def grid(self) -> Grid:
        return self.target

    @property
    def is_aligned(self) -> bool:
        """Whether all are on the target grid, so that nothing has to be brought onto another."""
        return all(member.raster.grid == self.target for member in self.members)

    @property
    def bands(self) -> tuple[Band, ...]:
        return tuple(replace(_band_of(member), role=member.name) for member in self.members)

    def _told(self) -> tuple[str, ...]:
        return repr(self.target), *(
            f"{m.name} {m.raster.fingerprint} {m.role}" for m in self.members
        )

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        """Bands of one raster are read at once."""
        wanted = [self.members[p] for p in band_positions(self.bands, roles)]
        out = shape or (window.height, window.width)
        values = np.empty((len(wanted), *out), np.float32)
        for raster in {id(m.raster): m.raster for m in wanted}.values():
            places = [i for i, m in enumerate(wanted) if m.raster is raster]
            mine = tuple(wanted[i].role for i in places)
            source = raster if raster.grid == self.target else WarpedRaster(raster, self.target)
            values[places] = source.read(window, mine, shape).values
        return block_of(values)


def join_plane(first: Raster, x_role: str, second: Raster, y_role: str) -> JoinedRaster:
    """Bands ``x`` and ``y``: the plane of a feature space, on the grid of the first raster."""
    return JoinedRaster((Member("x", first, x_role), Member("y", second, y_role)), first.grid)


def _band_of(member: Member) -> Band:
    return next(band for band in member.raster.bands if band.role == member.role)
