"""Blocks that are asked for again are read once."""

from dataclasses import dataclass, field

import numpy as np
import pytest

from kitesort.core.grid import Window
from kitesort.core.raster.protocol import Block, Shape
from kitesort.core.raster.remembered import Blocks, RememberedRaster, n_bytes
from support.arrays import ArrayRaster, random_raster

WINDOW = Window(3, 5, 8, 12)


@dataclass(frozen=True)
class Counting(ArrayRaster):
    """What was read of an array."""

    asked: list[Window] = field(default_factory=list, kw_only=True)
    fingerprint: str = field(default="array", kw_only=True)

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        self.asked.append(window)
        return super().read(window, roles, shape)


def counting(seed: int = 0, fingerprint: str = "array") -> Counting:
    made = random_raster(40, 50, seed=seed)
    return Counting(made.values, made.valid, made.roles, fingerprint=fingerprint)


def test_the_same_block_is_read_once_and_cannot_be_spoilt() -> None:
    source = counting()
    raster = RememberedRaster(source, Blocks(2**20, n_bytes))
    assert (raster.grid, raster.bands) == (source.grid, source.bands)
    first, again = raster.read(WINDOW, ("red",)), raster.read(WINDOW, ("red",))
    assert first is again and len(source.asked) == 1
    with pytest.raises(ValueError, match="read-only"):
        first.values[:] = 0
    for other in (raster.read(WINDOW), raster.read(WINDOW, ("red",), (4, 6))):
        assert other.values.shape != first.values.shape
    assert len(source.asked) == 3
    assert np.array_equal(first.values, source.read(WINDOW, ("red",)).values, equal_nan=True)


def test_rasters_share_the_memory_and_not_their_blocks() -> None:
    blocks = Blocks(2**20, n_bytes)
    one, other = (RememberedRaster(counting(i, f"array {i}"), blocks) for i in (1, 2))
    values = [raster.read(WINDOW).values for raster in (one, other)]
    assert not np.array_equal(*values, equal_nan=True)


def test_what_was_asked_for_long_ago_is_read_again() -> None:
    source = counting()
    block = source.read(WINDOW)
    raster = RememberedRaster(source, Blocks(2 * n_bytes(block), n_bytes))
    windows = [Window(row, 5, 8, 12) for row in (0, 8, 16)]
    for window in windows:
        raster.read(window)
    source.asked.clear()
    for window in (windows[2], windows[1], windows[0]):
        raster.read(window)
    assert source.asked == [windows[0]]
