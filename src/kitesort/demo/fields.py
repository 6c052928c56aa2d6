"""Farmland: parcels by recursive splits of a turned, slightly warped frame."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from kitesort.demo.ground import FINE_M, SHAPE
from kitesort.demo.noise import Field, power_law_noise

FRAME_M = 13_000.0
CELL_M = 4.0
SMALLEST_M = 110.0


@dataclass(frozen=True)
class Parcels:
    """Per fine pixel: parcel number, metres to its edge, position across the rows (m).

    Per parcel: brightness offset, phase of the season (-1 early, 1 late), and a uniform draw.
    """

    number: npt.NDArray[np.int32]
    edge_m: Field
    across_m: Field
    brightness: npt.NDArray[np.float32]
    phase: npt.NDArray[np.float32]
    draw: npt.NDArray[np.float32]


def make_parcels(rng: np.random.Generator, angle_deg: float = 14.0) -> Parcels:
    rows, cols = np.mgrid[0 : SHAPE[0], 0 : SHAPE[1]].astype(np.float32) * np.float32(FINE_M)
    warp_u, warp_v = (190 * power_law_noise(SHAPE, 2.5, rng) for _ in range(2))
    turn = np.deg2rad(angle_deg)
    u = cols * np.cos(turn) + rows * np.sin(turn) + warp_u + 800
    v = rows * np.cos(turn) - cols * np.sin(turn) + warp_v + 3200
    rectangles = _split((0.0, 0.0, FRAME_M, FRAME_M), rng)
    n = len(rectangles)
    frame = np.zeros((int(FRAME_M / CELL_M),) * 2, np.int32)
    for k, (u0, v0, u1, v1) in enumerate(rectangles):
        cells = [int(x / CELL_M) for x in (u0, v0, u1, v1)]
        frame[cells[1] : cells[3], cells[0] : cells[2]] = k
    at = [np.clip((x / CELL_M).astype(np.int32), 0, frame.shape[0] - 1) for x in (v, u)]
    number = frame[at[0], at[1]]
    box = np.array(rectangles, np.float32)[number]
    edge = np.minimum.reduce([u - box[..., 0], box[..., 2] - u, v - box[..., 1], box[..., 3] - v])
    rows_along_u = rng.random(n) < 0.5
    across = np.where(rows_along_u[number], v, u)
    return Parcels(
        number,
        edge.astype(np.float32),
        across.astype(np.float32),
        rng.normal(0, 1, n).astype(np.float32),
        rng.uniform(-1, 1, n).astype(np.float32),
        rng.random(n, dtype=np.float32),
    )


Rectangle = tuple[float, float, float, float]


def _split(box: Rectangle, rng: np.random.Generator) -> list[Rectangle]:
    """Cut a rectangle across its longer side until the pieces are field-sized."""
    u0, v0, u1, v1 = box
    width, height = u1 - u0, v1 - v0
    largest = rng.uniform(170, 420)
    if max(width, height) < largest or min(width, height) < SMALLEST_M:
        return [box]
    share = rng.uniform(0.36, 0.64)
    if width > height * rng.uniform(0.8, 1.25):
        cut = u0 + share * width
        parts = [(u0, v0, cut, v1), (cut, v0, u1, v1)]
    else:
        cut = v0 + share * height
        parts = [(u0, v0, u1, cut), (u0, cut, u1, v1)]
    return [piece for part in parts for piece in _split(part, rng)]
