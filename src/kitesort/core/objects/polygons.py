"""A class map as polygons that fit together: each border is there once, and both sides share it."""

import math
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
import shapely

from kitesort.core.engine import Watch, steps
from kitesort.core.errors import InputError
from kitesort.core.geodesy import geod_of, in_degrees, pixel_areas_ha
from kitesort.core.grid import SQUARE_METRES_PER_HECTARE, Grid, Window
from kitesort.core.legend import NODATA_CODE, CodeArray
from kitesort.core.objects._arc_kernel import collect_rings, count_corners, link_arcs, trace_arcs
from kitesort.core.objects._simplify_kernel import simplify_arcs, write_rings
from kitesort.core.raster.class_codes import codes_in
from kitesort.core.raster.patches import code_of_patches, label_patches
from kitesort.core.raster.protocol import Raster, require_same_grid

MOST_PIXELS = 120_000_000
MOST_PATCHES = 1_000_000
READ_SIDE = 1024
SLACK = 0.004  # share of its area that a class may win or lose
READ_SHARE = 0.4  # of the time
NEARLY = 1e-2  # of a square: a tolerance of one pixel is one, whatever the projection's scale
MEASURED_AT_ONCE = 2_000
Shapes = npt.NDArray[np.object_]
Int32 = npt.NDArray[np.int32]
Int64 = npt.NDArray[np.int64]


@dataclass(frozen=True)
class Polygons:
    """Patches of a class map, pixels that hang together at sides, in the order of their first
    pixels: shapes in the map's CRS, code, pixels, and of the simplified shape hectares and
    perimeter in metres on the ellipsoid; mean of another layer over the patch's pixels, where there
    is one, not-a-number where that has no value. ``pixel_area``: in squares of the CRS's unit.
    """

    shapes: Shapes
    codes: CodeArray
    n_pixels: Int64
    area_ha: npt.NDArray[np.float64]
    perimeter_m: npt.NDArray[np.float64]
    mean: npt.NDArray[np.float64] | None
    crs: str
    pixel_area: float


@dataclass(frozen=True)
class MeanOf:
    """A band of a layer on the map's grid, whose mean every patch is told."""

    raster: Raster
    role: str


@dataclass(frozen=True)
class _Patches:
    """The number of each pixel's patch (rows, cols), -1 without data; code and pixels by patch."""

    labels: Int32
    codes: CodeArray
    sizes: Int64

    @property
    def slack(self) -> Int64:
        """Twice what each class, by code, may win or lose by fewer corners, in pixels."""
        found = 2 * SLACK * np.bincount(self.codes, self.sizes, minlength=1)
        found[NODATA_CODE] = np.iinfo(np.int32).max
        return found.astype(np.int64)


@dataclass(frozen=True)
class _Arcs:
    corners: Int32
    starts: Int64
    about: Int32
    n_nodes: int

    @property
    def n(self) -> int:
        return len(self.about)


def to_polygons(
    raster: Raster, tolerance_m: float, watch: Watch, measured: MeanOf | None = None
) -> Polygons:
    """Polygons of a class map, no data left out.

    A corner goes while the triangle with its neighbours covers at most a square with sides of
    ``tolerance_m``, and no class wins or loses more than four thousandths of its area; 0 keeps
    every corner. ``measured``: a layer whose mean is wanted.

    Raises
    ------
    GridMismatchError : it lies elsewhere. InputError : more pixels or patches than can be held.
    CancelledError
    """
    if measured is not None:
        require_same_grid(raster, measured.raster)
    found = _find_patches(_read(raster, watch.first(READ_SHARE)))
    mean = None if measured is None else _means(measured, found, watch)
    watch.require_wanted()
    patches, shapes = _shapes(raster.grid, found, tolerance_m)
    areas, lengths = _measure(shapes, raster.grid.crs, watch.rest(READ_SHARE))
    return Polygons(
        shapes, found.codes[patches], found.sizes[patches], areas, lengths,
        None if mean is None else mean[patches], raster.grid.crs, math.prod(raster.grid.pixel_size),
    )  # fmt: skip


def _find_patches(codes: CodeArray) -> _Patches:
    labels = np.empty(codes.shape, np.int32)
    n = label_patches(codes, False, labels)
    if n > MOST_PATCHES:
        raise InputError(
            f"The map has {n:,} patches; at most {MOST_PATCHES:,} become polygons. Sieve or smooth "
            "it first."
        )
    of_patch = code_of_patches(codes, labels, n)
    sizes = np.bincount(labels.ravel(), minlength=n)
    labels[codes == NODATA_CODE] = -1
    return _Patches(labels, of_patch, sizes)


def _read(raster: Raster, watch: Watch) -> CodeArray:
    grid = raster.grid
    if grid.whole.n_pixels > MOST_PIXELS:
        raise InputError(
            f"The map has {grid.whole.n_pixels:,} pixels; at most {MOST_PIXELS:,} become polygons "
            "at once. Crop it into parts."
        )
    codes = np.empty((grid.height, grid.width), np.uint16)
    for window in steps(list(grid.blocks(READ_SIDE)), watch):
        codes[window.slices] = codes_in(raster.read(window))
    return codes


def _means(measured: MeanOf, patches: _Patches, watch: Watch) -> npt.NDArray[np.float64]:
    """By patch, over its pixels that have a value."""
    n, raster = len(patches.codes), measured.raster
    sums, counts = np.zeros(n), np.zeros(n)
    for window in steps(list(raster.grid.blocks(READ_SIDE)), watch.silently()):
        block, here = raster.read(window, (measured.role,)), patches.labels[window.slices]
        taken = block.valid & (here >= 0)
        sums += np.bincount(here[taken], block.values[0][taken].astype(np.float64), minlength=n)
        counts += np.bincount(here[taken], minlength=n)
    with np.errstate(invalid="ignore"):
        return np.asarray(sums / counts)


def _shapes(grid: Grid, patches: _Patches, tolerance_m: float) -> tuple[Int64, Shapes]:
    """Which patches there are, and the polygon of each."""
    arcs = _trace(patches.labels)
    alive = np.ones(len(arcs.corners), np.bool_)
    middle = Window(grid.height // 2, grid.width // 2, 1, 1)
    pixel_m2 = float(pixel_areas_ha(grid, middle)[0, 0]) * SQUARE_METRES_PER_HECTARE
    most = math.floor(2 * tolerance_m**2 / pixel_m2 + NEARLY)
    if most > 0:
        around = arcs.about[:, :2]
        sides = np.where(around < 0, NODATA_CODE, patches.codes[around])
        occupied = np.zeros((grid.height + 1, grid.width + 1), np.uint8)
        occupied[arcs.corners[:, 0], arcs.corners[:, 1]] = 1
        simplify_arcs(
            arcs.corners, arcs.starts, _least_kept(arcs), most, np.ascontiguousarray(sides),
            patches.slack, occupied, alive,
        )  # fmt: skip
    return _polygons(grid, patches.labels, arcs, alive)


def _trace(labels: Int32) -> _Arcs:
    turns, n_nodes, ends = count_corners(labels)
    seen = np.zeros((labels.shape[0] + 1, labels.shape[1] + 1), np.uint8)
    corners = np.empty((turns + turns // 4 + ends + 1, 2), np.int32)
    most_arcs = ends // 2 + turns // 4
    starts, about = np.empty(most_arcs + 1, np.int64), np.empty((most_arcs, 4), np.int32)
    n = trace_arcs(labels, seen, corners, starts, about)
    used = int(starts[n])
    return _Arcs(
        np.ascontiguousarray(corners[:used]), np.ascontiguousarray(starts[: n + 1]),
        np.ascontiguousarray(about[:n]), n_nodes,
    )  # fmt: skip


def _least_kept(arcs: _Arcs) -> Int64:
    """Corners that each arc keeps between its ends, so that no ring falls together: three of one
    that comes back to where it began, so that a pixel by itself stays a square, one where another
    arc has the same ends."""
    first = arcs.corners[arcs.starts[:-1]].astype(np.int64)
    last = arcs.corners[arcs.starts[1:] - 1].astype(np.int64)
    key = 2**32
    a, b = first[:, 0] * key + first[:, 1], last[:, 0] * key + last[:, 1]
    pairs = np.stack([np.minimum(a, b), np.maximum(a, b)], axis=1)
    _, which, counts = np.unique(pairs, axis=0, return_inverse=True, return_counts=True)
    is_loop = a == b
    return np.where(is_loop, 3, np.where(counts[which.ravel()] > 1, 1, 0)).astype(np.int64)


def _polygons(
    grid: Grid, labels: Int32, arcs: _Arcs, alive: npt.NDArray[np.bool_]
) -> tuple[Int64, Shapes]:
    after = np.empty(2 * arcs.n, np.int32)
    link_arcs(labels, arcs.corners, arcs.starts, arcs.about, arcs.n, arcs.n_nodes, after)
    halves, owners = np.empty(2 * arcs.n, np.int32), np.empty(2 * arcs.n, np.int32)
    ring_starts = np.empty(2 * arcs.n + 1, np.int64)
    n = collect_rings(after, arcs.about, halves, ring_starts, owners)
    ring_starts, owners = np.ascontiguousarray(ring_starts[: n + 1]), owners[:n]
    out = np.empty((2 * int(alive.sum()) + n, 2), np.int32)
    ends, twice = np.empty(n, np.int64), np.empty(n, np.int64)
    write_rings(arcs.corners, arcs.starts, alive, halves, ring_starts, out, ends, twice)
    used = int(ends[-1]) if n else 0
    which = np.repeat(np.arange(n), np.diff(ends, prepend=0))
    place, rows, cols = grid.transform, out[:used, 0], out[:used, 1]
    x = place.c + place.a * cols + place.b * rows
    y = place.f + place.d * cols + place.e * rows
    rings = shapely.linearrings(np.stack([x, y], axis=1), indices=which)
    order = np.lexsort((-twice, owners))  # of each patch the outer ring first
    patches, owner = np.unique(owners[order], return_inverse=True)
    shapes = np.asarray(shapely.polygons(rings[order], indices=owner.ravel()), object)
    return patches.astype(np.int64), shapes


def _measure(
    shapes: Shapes, crs: str, watch: Watch
) -> tuple[npt.NDArray[np.float64], npt.NDArray[np.float64]]:
    """Hectares, and metres around, holes included, along geodesics."""
    geod = geod_of(crs)
    areas, lengths = np.zeros(len(shapes)), np.zeros(len(shapes))
    for first in steps(range(0, len(shapes), MEASURED_AT_ONCE), watch):
        rings, owners = shapely.get_rings(
            shapes[first : first + MEASURED_AT_ONCE], return_index=True
        )
        x, y = shapely.get_coordinates(rings).T
        lon, lat = in_degrees(crs, np.ascontiguousarray(x), np.ascontiguousarray(y))
        ends = np.cumsum(shapely.get_num_coordinates(rings))
        for begin, end, owner in zip([0, *ends[:-1]], ends, owners + first, strict=True):
            # Outer rings run counter-clockwise and holes clockwise, so that areas add up.
            area, length = geod.polygon_area_perimeter(lon[begin:end], lat[begin:end])
            areas[owner] += area / SQUARE_METRES_PER_HECTARE
            lengths[owner] += length
    return areas, lengths
