"""Tiles side by side as one scene; where they overlap, the first one named is on top."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from kitesort.core.bands import Band
from kitesort.core.correct.combinations._several import require_same_quantities
from kitesort.core.errors import GridMismatchError, InputError, MissingRoleError
from kitesort.core.grid import ALIGNMENT_TOLERANCE_PX, Grid, Window, parse_crs
from kitesort.core.legend import merge_legends
from kitesort.core.operation import ANY_KIND, MOST_MEMBERS, Context, Inputs, Operation
from kitesort.core.raster.lazy import LazyRaster
from kitesort.core.raster.protocol import Block, Raster, Shape, band_positions, block_of, roles_of
from kitesort.core.raster.warp import WarpedRaster
from kitesort.core.settings import Settings


class MosaicSettings(Settings):
    """Nothing to set."""


@dataclass(frozen=True)
class MosaicRaster(LazyRaster):
    """``members`` on the grid that holds them all."""

    members: tuple[Raster, ...]
    whole: Grid
    roles: tuple[str, ...]

    @property
    def grid(self) -> Grid:
        return self.whole

    @cached_property
    def bands(self) -> tuple[Band, ...]:
        """Those of the first one, with the classes of all."""
        return tuple(self._joined(role) for role in self.roles)

    def _joined(self, role: str) -> Band:
        same = [band for member in self.members for band in member.bands if band.role == role]
        return replace(same[0], legend=merge_legends(band.legend for band in same))

    def _told(self) -> tuple[str, ...]:
        return "mosaic", *(m.fingerprint for m in self.members)

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


def _combine(members: Inputs, _: MosaicSettings, _context: Context) -> Raster:
    if len(members) < 2:
        raise InputError("Choose at least two tiles.")
    common = set.intersection(*(set(roles_of(m)) for m in members))
    roles = tuple(role for role in roles_of(members[0]) if role in common)
    if not roles:
        raise MissingRoleError("The tiles have no band role in common.")
    require_same_quantities(members, roles)
    mosaic = MosaicRaster(members, _whole_grid([m.grid for m in members]), roles)
    mosaic.bands  # noqa: B018 — classes that do not fit together are told now
    return mosaic


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


SPEC = Operation(
    id="mosaic",
    version=1,
    station="combine",
    title="Mosaic of tiles",
    short="mosaic",
    good_for="Tiles of one date that lie side by side. Stacking puts bands over one another; a "
    "mosaic puts tiles beside one another.",
    source="The first tile named is on top",
    settings=MosaicSettings,
    open=_combine,
    most_inputs=MOST_MEMBERS,
    say=lambda _: "a mosaic of",
    takes=ANY_KIND,
)
