"""Tidying pixels in memory: a speckled map of nine classes, on one core; and a map as polygons."""

import resource
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import rasterio.features
from affine import Affine
from scipy import ndimage

from bench.result import Result, timed
from bench.sizes import size
from kitesort.core.bands import Band
from kitesort.core.engine import UNWATCHED
from kitesort.core.grid import Grid, Window
from kitesort.core.legend import LegendEntry
from kitesort.core.objects.polygons import to_polygons
from kitesort.core.raster.class_file import class_bands
from kitesort.core.raster.protocol import Block, Shape, masked_block
from kitesort.core.tidy.methods._window_kernel import filter_square
from kitesort.core.tidy.methods.sieve import sieve

SIDE, PART, CLASSES = size(2000, 200), size(200, 40), 9
POLYGONS_SIDE = size(3162, 200)


@dataclass(frozen=True)
class CodeArray:
    """A class map in memory."""

    codes: np.ndarray
    fingerprint = "codes"

    @property
    def grid(self) -> Grid:
        return Grid("EPSG:32625", Affine(10, 0, 400_000, 0, -10, 5_000_000), *self.codes.shape)

    @property
    def bands(self) -> tuple[Band, ...]:
        return class_bands(tuple(LegendEntry(c, f"{c}", "#101010") for c in range(1, CLASSES + 1)))

    def read(
        self, window: Window, _roles: tuple[str, ...] | None = None, _shape: Shape | None = None
    ) -> Block:
        codes = self.codes[window.slices]
        return masked_block(codes[None].astype(np.float32), codes > 0)


def _speckled() -> np.ndarray:
    rng = np.random.default_rng(0)
    fields = rng.integers(0, CLASSES, (SIDE // 50, SIDE // 50)).repeat(50, 0).repeat(50, 1)
    noise = rng.random(fields.shape) < 0.1
    return np.where(noise, rng.integers(0, CLASSES, fields.shape), fields).astype(np.uint8)


def _most(values: np.ndarray) -> int:
    return int(np.bincount(values.astype(int), minlength=CLASSES).argmax())


def tidying() -> Iterator[Result]:
    codes, out, every = _speckled(), np.empty((SIDE, SIDE), np.uint8), np.ones(CLASSES, np.bool_)
    no_shares = np.empty((0, SIDE, SIDE), np.float32)

    def majority(side: int) -> float:
        told = codes, side // 2, 1, False, every, every, no_shares, out
        return timed(lambda: filter_square(*told), repeats=3)

    part = codes[:PART, :PART]
    other = timed(lambda: ndimage.generic_filter(part, _most, size=5)) * (SIDE / PART) ** 2
    ours = majority(5)
    yield Result("majority 5 × 5, 4 million pixels, one core", ours, other,
                 "SciPy generic_filter on a hundredth, times 100", "s", "at least 50 × as fast",
                 other / ours >= 50)  # fmt: skip
    widest = majority(31)
    yield Result("majority 31 × 31, the same", widest, ours, "5 × 5", "s", "at most twice as long",
                 widest <= 2 * ours)  # fmt: skip
    classes = codes.astype(np.uint16) + 1
    mine = timed(lambda: sieve(classes, 20, False, ()), repeats=3)
    theirs = timed(lambda: rasterio.features.sieve(classes, 20), repeats=3)
    yield Result("sieve below 20 pixels, the same", mine, theirs, "rasterio", "s",
                 "at least as fast", mine <= theirs)  # fmt: skip


def _fields(side: int) -> np.ndarray:
    """Curved fields of nine classes, some 26 000 patches per million pixels."""
    rng = np.random.default_rng(0)
    heights = [
        ndimage.gaussian_filter(rng.normal(size=(side, side)).astype(np.float32), 3)
        for _ in range(CLASSES)
    ]
    return (np.argmax(heights, axis=0) + 1).astype(np.uint8)


def polygons() -> Iterator[Result]:
    """Traced, simplified, measured on the ellipsoid; rasterio's shapes beside it stop at outlines
    that are not simplified and not measured."""
    codes = _fields(POLYGONS_SIDE)
    raster = CodeArray(codes)
    ours = timed(lambda: to_polygons(raster, 10.0, UNWATCHED))
    theirs = timed(lambda: list(rasterio.features.shapes(codes, transform=raster.grid.transform)))
    yield Result("polygons of 10 million pixels, simplified and measured", ours, theirs,
                 "rasterio shapes, neither", "s", "below 60 s", ours < 60)  # fmt: skip
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    yield Result("memory of the process by then", peak, None, "", "MiB", "below 2 GiB",
                 peak < 2048)  # fmt: skip
