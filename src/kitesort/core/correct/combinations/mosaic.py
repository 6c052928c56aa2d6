"""Tiles side by side as one scene; where they overlap, the first one named is on top."""

import hashlib
from dataclasses import dataclass

import numpy as np

from kitesort.core.bands import Band
from kitesort.core.correct.combinations._several import require_same_quantities
from kitesort.core.correct.protocol import CombinationSpec
from kitesort.core.errors import GridMismatchError, InputError, MissingRoleError
from kitesort.core.grid import ALIGNMENT_TOLERANCE_PX, Grid, Window, parse_crs
from kitesort.core.raster.protocol import Block, Raster, Shape, band_positions, block_of, roles_of
from kitesort.core.raster.warp import WarpedRaster
from kitesort.core.settings import Settings


class MosaicSettings(Settings):
    """Nothing to set."""


@dataclass(frozen=True)
class MosaicRaster:
    """``members`` on the grid that holds them all."""

    members: tuple[Raster, ...]
    whole: Grid
    roles: tuple[str, ...]

    @property
    def grid(self) -> Grid:
        return self.whole

    @property
    def bands(self) -> tuple[Band, ...]:
        by_role = {band.role: band for band in self.members[0].bands}
        return tuple(by_role[role] for role in self.roles)

    @property
    def fingerprint(self) -> str:
        text = "|".join(["mosaic", *(m.fingerprint for m in self.members)])
        return hashlib.blake2s(text.encode(), digest_size=8).hexdigest()

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        asked = tuple(self.roles[p] for p in band_positions(self.bands, roles))
        out = shape or (window.height, window.width)
        values = np.full((len(asked), *out), np.nan, np.float32)
        ground = self.whole.sub_grid(window).bounds
        for member in self.members:
            missing = np.isnan(values)
            if not missing.any():
                break
            if member.grid.window_of_bounds(ground) is None:
                continue
            block = WarpedRaster(member, self.whole).read(window, asked, shape)
            np.copyto(values, block.values, where=missing)
        return block_of(values)


def _combine(members: tuple[Raster, ...], _: MosaicSettings) -> Raster:
    if len(members) < 2:
        raise InputError("Choose at least two tiles.")
    common = set.intersection(*(set(roles_of(m)) for m in members))
    roles = tuple(role for role in roles_of(members[0]) if role in common)
    if not roles:
        raise MissingRoleError("The tiles have no band role in common.")
    require_same_quantities(members, roles)
    return MosaicRaster(members, _whole_grid([m.grid for m in members]), roles)


def _whole_grid(grids: list[Grid]) -> Grid:
    """The smallest grid that holds all; they must share CRS, pixel size and alignment.

    Raises
    ------
    GridMismatchError
    """
    first = grids[0]
    corners = []
    for grid in grids:
        if parse_crs(grid.crs) != parse_crs(first.crs) or not np.allclose(
            grid.pixel_size, first.pixel_size, rtol=1e-6
        ):
            raise GridMismatchError(
                "The tiles differ in coordinate system or pixel size. Bring them onto one grid "
                "first."
            )
        row, col = first.world_to_pixel(*grid.pixel_to_world(0, 0))
        if max(abs(row - round(row)), abs(col - round(col))) > ALIGNMENT_TOLERANCE_PX:
            raise GridMismatchError(
                "The tiles' pixels lie between one another. Bring them onto one grid first."
            )
        corners.append((round(row), round(col), round(row) + grid.height, round(col) + grid.width))
    top, left = min(c[0] for c in corners), min(c[1] for c in corners)
    bottom, right = max(c[2] for c in corners), max(c[3] for c in corners)
    return first.sub_grid(Window(top, left, bottom - top, right - left))


SPEC = CombinationSpec(
    id="mosaic",
    version=1,
    title="Mosaic of tiles",
    short="mosaic",
    good_for="Tiles of one date that lie side by side. Stacking puts bands over one another; a "
    "mosaic puts tiles beside one another.",
    source="The first tile named is on top",
    settings=MosaicSettings,
    combine=_combine,
    say=lambda _: "a mosaic of",
)
