"""The lie of the land: a flat rising from the sea, farmland behind it, and its tidal creeks."""

import heapq
from dataclasses import dataclass

import numba
import numpy as np
import numpy.typing as npt
from scipy import ndimage

from kitesort.demo.noise import Field, power_law_noise, smoothstep

FINE_M = 5.0  # the landscape is made at 5 m and seen by the sensor at 10 m and coarser
SHAPE = (1440, 1920)  # rows, columns of the fine landscape: 7.2 km × 9.6 km
WALL_KM = 3.15  # distance of the inner sea wall from the low-water line
BREACHED_WALL_KM = 1.95  # the outer wall round the reclaimed land, opened between the two years


@dataclass(frozen=True)
class Ground:
    """Fields (1440, 1920): kilometres inland from low water, metres above it, creek distance (px).

    ``creek`` is negative inside a channel. ``tidal_before`` and ``tidal_after``: reached by tides.
    """

    inland_km: Field
    height_m: Field
    creek_px: Field
    upper_creek: Field
    tidal_before: npt.NDArray[np.bool_]
    tidal_after: npt.NDArray[np.bool_]
    outer_wall_km: Field
    roughness: Field


def make_ground(rng: np.random.Generator) -> Ground:
    rows, cols = np.mgrid[0 : SHAPE[0], 0 : SHAPE[1]].astype(np.float32) * np.float32(FINE_M / 1000)
    wavy = power_law_noise(SHAPE, 2.4, rng)
    ragged = power_law_noise(SHAPE, 1.5, rng, longest_px=260)
    coast = 1.05 + 0.38 * np.sin(rows * 0.95 + 0.6) + 0.22 * np.sin(rows * 2.1 + 2.0)
    bay = 0.9 * np.exp(-(((rows - 3.9) / 1.2) ** 2))
    inland = cols - coast - bay * 0.6 + 0.20 * wavy + 0.03 * ragged
    in_polder = smoothstep(np.abs(rows - 3.55), 1.75, 1.60)
    wall_line = inland - 0.17 * wavy - 0.02 * ragged  # walls run straighter than the coast
    outer_wall = wall_line - (WALL_KM + (BREACHED_WALL_KM - WALL_KM) * in_polder)
    rough = power_law_noise(SHAPE, 1.25, rng, longest_px=400)
    hills = power_law_noise(SHAPE, 2.0, rng)
    behind = np.maximum(inland - 3.5, 0)
    height = inland * 1.0 + 0.24 * rough + behind * (3 + 4 * smoothstep(hills, -1.2, 1.6))
    height += (behind + 1.5) * 8.0 * np.maximum(hills, 0) * smoothstep(behind, 0.0, 0.6)
    tidal_after = wall_line < WALL_KM
    tidal_before = outer_wall < 0
    creek, upper = _make_creeks(height, tidal_after, tidal_before, outer_wall, rng)
    return Ground(
        inland.astype(np.float32), height.astype(np.float32), creek, upper, tidal_before,
        tidal_after, outer_wall.astype(np.float32), rough,
    )  # fmt: skip


def breach_rows() -> tuple[int, int]:
    """Fine rows between which the outer wall is open after the breach."""
    return 690, 745


def _make_creeks(
    height: Field,
    tidal: npt.NDArray[np.bool_],
    tidal_before: npt.NDArray[np.bool_],
    outer_wall: Field,
    rng: np.random.Generator,
) -> tuple[Field, Field]:
    """Signed distance (fine px) to channels, and to the upper reaches alone, at half resolution."""
    coarse = (slice(None, None, 2), slice(None, None, 2))
    surface = height[coarse] + 0.35 * power_law_noise((720, 960), 1.0, rng, longest_px=90)
    first, last = (r // 2 for r in breach_rows())
    on_wall = np.abs(outer_wall[coarse]) < 0.03
    on_wall[first:last] = False
    surface = np.where(on_wall & tidal[coarse], surface + 50, surface).astype(np.float64)
    parent, order = _flood(surface, tidal[coarse] & (height[coarse] > 0.25))
    flow = _accumulate(parent, order, tidal[coarse]).reshape(720, 960)
    flow *= np.where(tidal_before[coarse], 1.0, 0.8)
    distance = _channel_distance(flow)
    upper = ndimage.distance_transform_edt(flow < 220) - 1.0
    return _upsample(distance), _upsample(np.asarray(upper))


def _channel_distance(flow: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
    """Signed distance in cells to channels whose half width grows with the root of the flow."""
    distance = np.full(flow.shape, 1e3)
    for threshold in (140, 300, 700, 1600, 3600, 8000, 18000, 40000):
        half_width = 0.034 * np.sqrt(threshold)
        to_channel = ndimage.distance_transform_edt(flow < threshold)
        distance = np.minimum(distance, to_channel - half_width)
    return ndimage.gaussian_filter(distance, 0.8)


def _upsample(field: npt.NDArray[np.float64]) -> Field:
    return (2 * ndimage.zoom(field, 2, order=1, grid_mode=True, mode="nearest")).astype(np.float32)


@numba.njit(cache=True)
def _flood(surface, region):  # type: ignore[no-untyped-def]
    """Priority flood from the region's seaward rim; parent cell of each and order of visit.

    Source: Barnes, Lehman & Mulla 2014, Computers & Geosciences 62:117-127 (idea).
    """
    height, width = surface.shape
    parent = np.full(height * width, -1, np.int64)
    seen = ~region.copy().ravel()
    order = np.empty(height * width, np.int64)
    n = 0
    heap = [(0.0, np.int64(0))]
    heap.pop()
    for r in range(height):
        for c in range(1, width):
            if region[r, c] and not region[r, c - 1] and c < width // 2:
                seen[r * width + c] = True
                heapq.heappush(heap, (surface[r, c], np.int64(r * width + c)))
    while len(heap) > 0:
        level, cell = heapq.heappop(heap)
        order[n] = cell
        n += 1
        r, c = cell // width, cell % width
        for dr in range(-1, 2):
            for dc in range(-1, 2):
                rr, cc = r + dr, c + dc
                if 0 <= rr < height and 0 <= cc < width and not seen[rr * width + cc]:
                    seen[rr * width + cc] = True
                    parent[rr * width + cc] = cell
                    heapq.heappush(heap, (max(level, surface[rr, cc]), np.int64(rr * width + cc)))
    return parent, order[:n]


@numba.njit(cache=True)
def _accumulate(parent, order, region):  # type: ignore[no-untyped-def]
    """Cells drained through each cell, itself included."""
    flow = np.where(region.copy().ravel(), 1.0, 0.0)
    for k in range(len(order) - 1, -1, -1):
        cell = order[k]
        if parent[cell] >= 0:
            flow[parent[cell]] += flow[cell]
    return flow
