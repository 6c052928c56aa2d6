"""The pixels that a clustering looks at: spread over the whole scene."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from kitesort.core.cluster.protocol import FEWEST_PIXELS
from kitesort.core.engine import UNWATCHED, Watch
from kitesort.core.errors import InputError, TooFewPixelsError
from kitesort.core.raster.protocol import Block, BoolArray, Raster
from kitesort.core.raster.sample import sampled_blocks

DRAWN_FROM = 4  # times as many pixels are read, so that they do not lie in a few windows only
LEAST_READ = 2**20


@dataclass(frozen=True)
class ClusterSample:
    """Values (n, bands) with row and column of each (n,), in the scene's order. ``n_usable``: how
    many usable pixels were read, all that the scene has where it is ``exact``."""

    values: npt.NDArray[np.float32]
    rows: npt.NDArray[np.int64]
    cols: npt.NDArray[np.int64]
    roles: tuple[str, ...]
    n_usable: int
    exact: bool

    @property
    def n(self) -> int:
        return len(self.values)

    def where(self, keep: BoolArray) -> "ClusterSample":
        """Those that are marked (n,)."""
        return ClusterSample(
            self.values[keep], self.rows[keep], self.cols[keep], self.roles,
            int(keep.sum()), self.exact,
        )  # fmt: skip

    def drawn(self, most: int) -> "ClusterSample":
        """At most so many of them, the same each time."""
        if self.n <= most:
            return self
        kept = np.sort(np.random.default_rng(0).choice(self.n, most, replace=False))
        return ClusterSample(
            self.values[kept], self.rows[kept], self.cols[kept], self.roles,
            self.n_usable, self.exact,
        )  # fmt: skip


def read_sample(
    raster: Raster,
    roles: tuple[str, ...],
    most: int,
    zero_is_fill: bool = True,
    watch: Watch = UNWATCHED,
) -> ClusterSample:
    """Native pixels that are usable in all bands, at most ``most`` of those that are read, which
    are windows spread over the scene where it is too large to be read whole.

    Raises
    ------
    InputError : nothing is usable. CancelledError
    """
    blocks, exact = sampled_blocks(raster, roles, most=max(DRAWN_FROM * most, LEAST_READ))
    values, rows, cols = [np.empty((0, len(roles)), np.float32)], [], []
    for window, block, inside in blocks:
        watch.require_wanted()
        usable = usable_pixels(block, zero_is_fill) & inside
        row, col = np.nonzero(usable)
        values.append(block.values[:, row, col].T)
        rows.append(row + window.row)
        cols.append(col + window.col)
    found = np.concatenate(values)
    if not len(found):
        raise InputError(
            "No pixel is usable in all of these bands: everything is masked, or has no data."
        )
    sample = ClusterSample(
        found, np.concatenate(rows), np.concatenate(cols), roles, len(found), exact
    )
    return sample.drawn(most)


def usable_pixels(block: Block, zero_is_fill: bool) -> BoolArray:
    """Pixels (rows, cols) that have a value in every band, and are no fill."""
    return block.valid & (block.values != 0).any(axis=0) if zero_is_fill else block.valid


def require_enough(n: int) -> None:
    """Raises TooFewPixelsError."""
    if n < FEWEST_PIXELS:
        raise TooFewPixelsError(
            f"Only {n} pixels can be looked at; {FEWEST_PIXELS} are the least of which anything "
            "can be learnt. Choose a larger part of the scene, or fewer bands with holes."
        )
