"""Tidying pixels in memory: a speckled map of nine classes, on one core."""

from collections.abc import Iterator

import numpy as np
import rasterio.features
from scipy import ndimage

from bench.result import Result, timed
from kitesort.core.tidy.methods._window_kernel import filter_square
from kitesort.core.tidy.methods.sieve import sieve

SIDE, PART, CLASSES = 2000, 200, 9


def _speckled() -> np.ndarray:
    rng = np.random.default_rng(0)
    fields = rng.integers(0, CLASSES, (SIDE // 50, SIDE // 50)).repeat(50, 0).repeat(50, 1)
    noise = rng.random(fields.shape) < 0.1
    return np.where(noise, rng.integers(0, CLASSES, fields.shape), fields).astype(np.uint8)


def _most(values: np.ndarray) -> int:
    return int(np.bincount(values.astype(int), minlength=CLASSES).argmax())


def tidying() -> Iterator[Result]:
    codes, out, every = _speckled(), np.empty((SIDE, SIDE), np.uint8), np.ones(CLASSES, np.bool_)

    def majority(side: int) -> float:
        act = lambda: filter_square(codes, side // 2, 1, False, every, every, out)  # noqa: E731
        return timed(act, repeats=3)

    part = codes[:PART, :PART]
    other = timed(lambda: ndimage.generic_filter(part, _most, size=5)) * (SIDE / PART) ** 2
    ours = majority(5)
    yield Result("majority 5 × 5, 4 million pixels, one core", ours, other,
                 "SciPy generic_filter on a hundredth, times 100", "s", "at least 50 × as fast",
                 other / ours >= 50)  # fmt: skip
    widest = majority(31)
    yield Result("majority 31 × 31, the same", widest, ours, "5 × 5", "s", "at most twice as long",
                 widest <= 2 * ours)  # fmt: skip
    mine = timed(lambda: sieve(codes + 1, 20, False, ()), repeats=3)
    theirs = timed(lambda: rasterio.features.sieve(codes + 1, 20), repeats=3)
    yield Result("sieve below 20 pixels, the same", mine, theirs, "rasterio", "s",
                 "at least as fast", mine <= theirs)  # fmt: skip
