"""Starter training sites, some bad on purpose, and reference points with their truth."""

from typing import Any

import numpy as np
import numpy.typing as npt
from scipy import ndimage

from kitesort.demo.cover import BARLEY, BUILT, CONIFER, MARSH, MUD, PASTURE, REED, SHINGLE, WATER
from kitesort.demo.delivery import transform_of

Mask = npt.NDArray[np.bool_]
Codes = npt.NDArray[np.uint8]
SITES_PER_CLASS = {
    WATER: 5, MUD: 5, MARSH: 5, REED: 3, PASTURE: 6, BARLEY: 6, CONIFER: 4, SHINGLE: 4, BUILT: 5,
}  # fmt: skip
HALF_SIZE_PX = {REED: (1.9, 2.5), SHINGLE: (2.0, 3.2), BUILT: (2.1, 3.4)}
POINTS_PER_CLASS = 30


def coarse_truth(fine: Codes) -> Codes:
    """Cover with the largest share in each 10 m pixel, from the 5 m landscape."""
    rows, cols = fine.shape
    quarters = fine.reshape(rows // 2, 2, cols // 2, 2).transpose(0, 2, 1, 3).reshape(-1, 4)
    shares = (quarters[:, :, None] == np.arange(10, dtype=np.uint8)).sum(axis=1)
    return shares.argmax(axis=1).astype(np.uint8).reshape(rows // 2, cols // 2)


def make_sites(truth: Codes, clear: Mask, seed: int) -> list[dict[str, Any]]:
    """GeoJSON features with ``code`` and ``note``; the last three are bad on purpose."""
    rng = np.random.default_rng(seed)
    sites: list[dict[str, Any]] = []
    for code, n in SITES_PER_CLASS.items():
        margin = 1 if code in HALF_SIZE_PX else 2
        inside = ndimage.binary_erosion((truth == code) & clear, iterations=margin)
        sites += [_feature(ring, code, "") for ring in _spread_rings(inside, code, n, rng)]
    return sites + _bad_sites(truth, clear, rng)


def _spread_rings(
    inside: Mask, code: int, n: int, rng: np.random.Generator
) -> list[npt.NDArray[np.float64]]:
    """Outlines wholly inside a cover, far from one another."""
    cells = np.argwhere(inside)
    chosen: list[npt.NDArray[np.float64]] = []
    centres: list[npt.NDArray[np.int64]] = []
    for _ in range(n):
        for attempt in range(400):
            candidates = cells[rng.integers(0, len(cells), 12)]
            if centres:
                away = np.min([np.hypot(*(candidates - c).T) for c in centres], axis=0)
                centre = candidates[away.argmax()]
            else:
                centre = candidates[0]
            low, high = HALF_SIZE_PX.get(code, (3.5, 7.5))
            ring = _ring(centre, rng.uniform(low, high) * (1 if attempt < 200 else 0.6), rng)
            if _covers_only(ring, inside):
                chosen.append(ring)
                centres.append(centre)
                break
    return chosen


def _ring(
    centre: npt.NDArray[np.int64], half: float, rng: np.random.Generator
) -> npt.NDArray[np.float64]:
    """A slightly irregular four- to six-cornered outline as (row, col), not closed."""
    n = int(rng.integers(4, 7))
    angles = np.linspace(0, 2 * np.pi, n, endpoint=False) + rng.uniform(0, np.pi)
    radius = half * rng.uniform(0.85, 1.2, n)
    around = np.column_stack([radius * np.sin(angles), radius * np.cos(angles)])
    return np.asarray(centre + 0.5 + around, np.float64)


def _covers_only(ring: npt.NDArray[np.float64], inside: Mask) -> bool:
    low = np.floor(ring.min(axis=0)).astype(int)
    high = np.ceil(ring.max(axis=0)).astype(int)
    if (low < 0).any() or high[0] > inside.shape[0] or high[1] > inside.shape[1]:
        return False
    return bool(inside[low[0] : high[0], low[1] : high[1]].mean() > 0.97)


def _bad_sites(truth: Codes, clear: Mask, rng: np.random.Generator) -> list[dict[str, Any]]:
    """One across an edge, one partly under cloud, one with the wrong class."""
    mud, marsh = (ndimage.uniform_filter((truth == c).astype(np.float32), 9) for c in (MUD, MARSH))
    edge = (mud > 0.4) & (marsh > 0.4) & clear
    cloudy = ndimage.uniform_filter((~clear).astype(np.float32), 9)
    under = (cloudy > 0.45) & (cloudy < 0.6) & (truth == PASTURE)
    late = ndimage.binary_erosion((truth == BARLEY) & clear, iterations=4)
    wanted = (
        (edge, MARSH, 4.5, "Across the edge of mud and marsh, on purpose"),
        (under, PASTURE, 4.5, "Partly under cloud, on purpose"),
        (late, PASTURE, 3.0, "Barley taken for pasture, on purpose"),
    )
    out = []
    for mask, code, half, note in wanted:
        cells = np.argwhere(mask)
        centre = cells[rng.integers(0, len(cells))]
        out.append(_feature(_ring(centre, half, rng), code, note))
    return out


def make_points(truth: Codes, imaged: Mask, sites: list[dict[str, Any]], seed: int) -> list[Any]:
    """Reference points, 30 for each cover, at pixel centres and away from the sites."""
    rng = np.random.default_rng([seed, 1])
    free = imaged & ~_near_sites(sites, truth.shape)
    points = []
    for code in SITES_PER_CLASS:
        cells = np.argwhere((truth == code) & free)
        picked = cells[rng.choice(len(cells), min(POINTS_PER_CLASS, len(cells)), replace=False)]
        for row, col in picked:
            x, y = transform_of(10) @ (col + 0.5, row + 0.5)
            geometry = {"type": "Point", "coordinates": [x, y]}
            points.append({"type": "Feature", "properties": {"code": code}, "geometry": geometry})
    rng.shuffle(points)
    return points


def _near_sites(sites: list[dict[str, Any]], shape: tuple[int, int], buffer_px: int = 3) -> Mask:
    near = np.zeros(shape, bool)
    for site in sites:
        xy = np.array(site["geometry"]["coordinates"][0])
        cols, rows = ~transform_of(10) @ (xy[:, 0], xy[:, 1])
        r0, r1 = int(rows.min()) - buffer_px, int(rows.max()) + buffer_px + 1
        c0, c1 = int(cols.min()) - buffer_px, int(cols.max()) + buffer_px + 1
        near[max(r0, 0) : r1, max(c0, 0) : c1] = True
    return near


def _feature(ring: npt.NDArray[np.float64], code: int, note: str) -> dict[str, Any]:
    xs, ys = transform_of(10) @ (ring[:, 1], ring[:, 0])
    corners = [[round(float(x), 2), round(float(y), 2)] for x, y in zip(xs, ys, strict=True)]
    geometry = {"type": "Polygon", "coordinates": [[*corners, corners[0]]]}
    properties = {"code": code, "note": note}
    return {"type": "Feature", "properties": properties, "geometry": geometry}
