"""Layers of several rasters beside each other under names of their own."""

from dataclasses import dataclass, replace

import numpy as np
import pytest
from affine import Affine

from kitesort.core.errors import MissingRoleError
from kitesort.core.grid import Grid, Window
from kitesort.core.raster.joined import JoinedRaster, Member, join_plane
from kitesort.core.raster.protocol import Block, Raster, Shape, roles_of
from support.arrays import ArrayRaster, random_raster


@dataclass
class Counted:
    """A raster that remembers what was read of it."""

    inner: ArrayRaster

    def __post_init__(self) -> None:
        self.reads: list[tuple[str, ...] | None] = []
        self.grid, self.bands = self.inner.grid, self.inner.bands
        self.fingerprint = self.inner.fingerprint

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        self.reads.append(roles)
        return self.inner.read(window, roles, shape)


@dataclass(frozen=True)
class Elsewhere:
    """An array on another grid."""

    inner: ArrayRaster
    grid: Grid

    @property
    def bands(self):  # type: ignore[no-untyped-def]
        return self.inner.bands

    fingerprint = "elsewhere"

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        return self.inner.read(window, roles, shape)


def joined(*members: tuple[str, Raster, str]) -> JoinedRaster:
    return JoinedRaster(tuple(Member(*m) for m in members), members[0][1].grid)


def test_names_are_ones_own_and_what_is_known_of_a_band_stays() -> None:
    source = replace(random_raster(20, 30, 6), coarse=(("swir16", 2),))
    both = joined(("wet", source, "swir16"), ("old_red", source, "red"))
    assert roles_of(both) == ("wet", "old_red")
    assert both.bands[0].native == source.bands[4].native is not None
    with pytest.raises(MissingRoleError):
        both.read(both.grid.whole, ("red",))


def test_one_raster_is_read_once_and_only_what_is_asked_for() -> None:
    one, two = Counted(random_raster(20, 30, 4)), Counted(random_raster(20, 30, 4, seed=2))
    members = JoinedRaster(
        (Member("a", one, "red"), Member("b", two, "red"), Member("c", one, "nir")), one.grid
    )
    members.read(members.grid.whole)
    assert (one.reads, two.reads) == ([("red", "nir")], [("red",)])
    members.read(members.grid.whole, ("b",))
    assert len(one.reads) == 1, "what is not asked for is not read"


def test_values_in_the_order_asked_for_and_valid_where_all_are() -> None:
    one, two = random_raster(20, 30, 4), random_raster(20, 30, 4, seed=2)
    both = joined(("a", one, "red"), ("b", two, "blue"), ("c", one, "nir"))
    block = both.read(both.grid.whole, ("c", "b", "a"))
    one_block, two_block = one.read(one.grid.whole), two.read(two.grid.whole)
    assert np.array_equal(block.values[0], one_block.values[3], equal_nan=True)
    assert np.array_equal(block.values[1], two_block.values[0], equal_nan=True)
    assert np.array_equal(block.values[2], one_block.values[2], equal_nan=True)
    assert np.array_equal(block.valid, one.valid & two.valid)
    alone = both.read(both.grid.whole, ("a",))
    assert np.array_equal(alone.valid, one.valid), "another layer's gaps are none of its own"


def test_pieces_are_the_same_as_the_whole_on_another_grid() -> None:
    one = random_raster(40, 50, 3)
    moved = Grid(one.grid.crs, one.grid.transform @ Affine.translation(2.5, -3), 40, 50)
    both = joined(("a", one, "red"), ("b", Elsewhere(random_raster(40, 50, 3, 7), moved), "red"))
    assert not both.is_aligned
    whole = both.read(both.grid.whole)
    assert whole.valid.any() and not whole.valid[-3:].any(), "nothing there at the lower edge"
    for window in both.grid.blocks(16):
        part = both.read(window)
        assert np.array_equal(part.valid, whole.valid[window.slices])
        inside = whole.values[(slice(None), *window.slices)]
        assert np.array_equal(part.values[:, part.valid], inside[:, part.valid])


def test_a_coarse_view_is_one_of_all_members() -> None:
    one, two = random_raster(20, 30, 4), random_raster(20, 30, 4, seed=2)
    both = joined(("a", one, "red"), ("b", two, "blue"))
    coarse = both.read(both.grid.whole, None, (10, 15))
    assert coarse.values.shape == (2, 10, 15)
    valid = coarse.valid
    assert np.array_equal(coarse.values[0][valid], one.values[2, ::2, ::2][valid])
    assert np.array_equal(coarse.values[1][valid], two.values[0, ::2, ::2][valid])


def test_a_change_of_any_part_is_another_layer() -> None:
    one, two = random_raster(9, 9, 4), random_raster(9, 8, 4)
    prints = {
        joined(("a", one, "red")).fingerprint,
        joined(("b", one, "red")).fingerprint,
        joined(("a", one, "nir")).fingerprint,
        joined(("a", one, "red"), ("b", one, "nir")).fingerprint,
        joined(("b", one, "nir"), ("a", one, "red")).fingerprint,
        JoinedRaster((Member("a", one, "red"),), two.grid).fingerprint,
    }
    assert len(prints) == 6
    assert joined(("a", one, "red")).fingerprint == joined(("a", one, "red")).fingerprint


def test_a_plane_of_one_band_with_itself() -> None:
    one = random_raster(12, 12, 3)
    plane = join_plane(one, "red", one, "red")
    assert roles_of(plane) == ("x", "y") and plane.is_aligned
    block = plane.read(plane.grid.whole)
    assert np.array_equal(block.values[0], block.values[1], equal_nan=True)
