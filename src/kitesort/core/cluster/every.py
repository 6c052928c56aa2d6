"""Centres that move on over every pixel of a scene, block by block."""

from concurrent.futures import Executor
from dataclasses import dataclass, replace

import numba
import numpy as np
import numpy.typing as npt
from numba import float32, float64, int64, uint16, void

from kitesort.core.classify.scale import Scale
from kitesort.core.cluster.nearest import nearest_model
from kitesort.core.cluster.protocol import Moved
from kitesort.core.cluster.sample import usable_pixels
from kitesort.core.engine import BLOCK_SIZE, UNWATCHED, Progress, Watch, reduce_blocks
from kitesort.core.grid import Window
from kitesort.core.group_statistics import Float64Array
from kitesort.core.kernels import KERNEL, read_only
from kitesort.core.raster.protocol import Raster

STEPS = 2**32  # into which the largest of the sample's numbers is cut
FURTHEST = 256  # times as large as that a number may be; what is larger counts as so much


@dataclass(frozen=True)
class Sums:
    """Of every cluster: pixels (clusters,) and the sum of their numbers (clusters, bands) in steps,
    whole numbers of any length, so that they are the same in whatever order they are added;
    ``n_changed``: pixels that had another cluster in the round before."""

    counts: npt.NDArray[np.int64]
    totals: npt.NDArray[np.object_]
    n_changed: int

    def __add__(self, other: "Sums") -> "Sums":
        n_changed = self.n_changed + other.n_changed
        return Sums(self.counts + other.counts, self.totals + other.totals, n_changed)


@dataclass(frozen=True)
class EveryPixel:
    """All usable pixels of a scene, on the scale of a sample of them, of which ``largest`` is the
    largest number, signs aside."""

    raster: Raster
    roles: tuple[str, ...]
    zero_is_fill: bool
    scale: Scale
    largest: float
    executor: Executor | None = None
    block_size: int = BLOCK_SIZE

    @property
    def step(self) -> float:
        """A power of two, so that nothing is rounded by it."""
        return float(2.0 ** np.ceil(np.log2(max(self.largest, 1e-300))) / STEPS)

    def sums(self, centres: Float64Array, before: Float64Array | None, watch: Watch) -> Sums:
        """Of the pixels by their nearest of some centres (clusters, bands), and how many had
        another one ``before``.

        Raises
        ------
        CancelledError
        """
        found = reduce_blocks(
            self.raster.grid, _Count(self, centres, before), self.executor,
            block_size=self.block_size, watch=watch,
        )  # fmt: skip
        nothing = np.zeros(len(centres), np.int64), np.zeros(centres.shape, np.int64).astype(object)
        return found if found is not None else Sums(*nothing, 0)


class _Count:
    """Picklable block function."""

    def __init__(
        self, every: EveryPixel, centres: Float64Array, before: Float64Array | None
    ) -> None:
        self.every = replace(every, executor=None)
        self.now = nearest_model(every.roles, every.scale, centres)
        self.before = None if before is None else nearest_model(every.roles, every.scale, before)

    def __call__(self, window: Window) -> Sums | None:
        every, now = self.every, self.now
        block = every.raster.read(window, every.roles)
        usable = usable_pixels(block, every.zero_is_fill)
        if not usable.any():
            return None
        pixels = np.ascontiguousarray(block.values[:, usable])
        codes = now.classify(pixels)
        n_changed = len(codes)
        if self.before is not None:
            n_changed = int((codes != self.before.classify(pixels)).sum())
        k = len(now.codes)
        totals = np.zeros((k, len(every.roles)), np.int64)
        scale = every.scale
        _add_up(pixels, codes, scale.centre, scale.factor, 1 / every.step, totals)
        return Sums(np.bincount(codes, minlength=k + 1)[1:], totals.astype(object), n_changed)


@numba.njit(
    void(
        read_only(float32, 2), read_only(uint16, 1), read_only(float64, 1), read_only(float64, 1),
        float64, int64[:, ::1],
    ),
    **KERNEL,
)  # fmt: skip
def _add_up(pixels, codes, centre, factor, per_step, totals):  # type: ignore[no-untyped-def]
    """Add the numbers of pixels (bands, n), in steps, to those of their clusters (codes from 1)."""
    limit = float64(FURTHEST) * float64(STEPS)
    for b in range(pixels.shape[0]):
        for p in range(pixels.shape[1]):
            number = (pixels[b, p] - centre[b]) * factor[b] * per_step
            totals[codes[p] - 1, b] += int64(np.rint(min(max(number, -limit), limit)))


def move_on(
    every: EveryPixel,
    centres: Float64Array,
    iterations: int,
    least_change: float,
    watch: Watch = UNWATCHED,
) -> Moved:
    """Lloyd's rounds over every pixel: each centre becomes the mean of its pixels, until at most
    the share ``least_change`` of them changes its cluster. A centre without pixels stays where it
    is. The same whatever the order or size of blocks.

    Raises
    ------
    CancelledError
    """
    before, done = None, 0
    while True:
        sums = every.sums(centres, before, _part_of(watch, done, iterations + 1))
        n = max(int(sums.counts.sum()), 1)
        settled = before is not None and sums.n_changed <= least_change * n
        if settled or done == iterations:
            return Moved(centres, sums.counts, done, settled)
        before, done = centres, done + 1
        held = np.maximum(sums.counts, 1)[:, None].astype(object)
        means = (sums.totals / held).astype(np.float64) * every.step
        centres = np.where((sums.counts > 0)[:, None], means, centres)


def _part_of(watch: Watch, done: int, rounds: int) -> Watch:
    """Of one of so many rounds; how long the others take is not known."""

    def progress(part: Progress) -> None:
        watch.progress(Progress((done + part.done) / rounds, None))

    return replace(watch, progress=progress)
