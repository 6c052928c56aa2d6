"""What people built: village, farmsteads, roads, tracks and the sea walls."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from PIL import Image, ImageDraw

from kitesort.demo.fields import Parcels
from kitesort.demo.ground import SHAPE, Ground, breach_rows

Mask = npt.NDArray[np.bool_]
VILLAGE = (1420.0, 560.0)  # fine column, row of its centre
HAMLETS = ((1560.0, 1120.0), (1230.0, 1290.0), (1700.0, 240.0))


@dataclass(frozen=True)
class Works:
    """Masks (1440, 1920) of buildings, roads, garden ground, and walls before and after."""

    buildings: Mask
    roads: Mask
    gardens: Mask
    wall_before: Mask
    wall_after: Mask


def make_works(ground: Ground, parcels: Parcels, rng: np.random.Generator) -> Works:
    dry = ground.inland_km > 3.35
    buildings = _draw_buildings(rng) & dry
    roads = (_draw_roads(parcels, rng) & dry) & ~buildings
    rows, cols = np.mgrid[0 : SHAPE[0], 0 : SHAPE[1]]
    near_village = np.hypot(cols - VILLAGE[0], rows - VILLAGE[1]) < 70
    outer = np.abs(ground.outer_wall_km) < 0.012
    inner = np.diff(ground.tidal_after.astype(np.int8), axis=1, append=0) != 0
    inner[:, -4:] = False
    inner = _thicken(inner, 2)
    first, last = breach_rows()
    open_rows = (rows >= first) & (rows < last)
    return Works(buildings, roads, near_village & dry, outer | inner, (outer & ~open_rows) | inner)


def _thicken(mask: Mask, px: int) -> Mask:
    out = mask.copy()
    for shift in range(1, px + 1):
        out[:, shift:] |= mask[:, :-shift]
        out[:, :-shift] |= mask[:, shift:]
    return out


def _draw_buildings(rng: np.random.Generator) -> Mask:
    image = Image.new("1", (SHAPE[1], SHAPE[0]))
    pen = ImageDraw.Draw(image)
    for centre, spread, n in ((VILLAGE, 46.0, 260), *((h, 13.0, 16) for h in HAMLETS)):
        for _ in range(n):
            col, row = np.array(centre) + rng.normal(0, spread, 2) * (1.5, 0.8)
            _draw_block(pen, col, row, rng.uniform(2, 5), rng.uniform(3, 9), rng)
    for k in range(11):  # sheds and yards at the village's edge, large enough to train on
        along, away = divmod(k, 3)
        col = VILLAGE[0] + 105 + 27 * along + 9 * away + rng.normal(0, 3)
        row = VILLAGE[1] - 50 + 31 * away - 5 * along + rng.normal(0, 4)
        _draw_block(pen, col, row, rng.uniform(10, 21), rng.uniform(14, 30), rng, 0.32)
    for _ in range(70):  # farmsteads
        col, row = rng.uniform(900, 1900), rng.uniform(20, 1420)
        for _ in range(int(rng.integers(2, 5))):
            near = rng.normal(0, 6, 2)
            _draw_block(
                pen, col + near[0], row + near[1], rng.uniform(2, 4), rng.uniform(4, 8), rng
            )
    return np.asarray(image, bool)


def _draw_block(
    pen: ImageDraw.ImageDraw,
    col: float,
    row: float,
    width: float,
    length: float,
    rng: np.random.Generator,
    angle: float | None = None,
) -> None:
    turn = rng.choice([0.25, 0.25 + np.pi / 2]) if angle is None else angle
    axis, normal = np.array([np.cos(turn), np.sin(turn)]), np.array([-np.sin(turn), np.cos(turn)])
    corners = [(-1, -1), (1, -1), (1, 1), (-1, 1)]
    points = [
        tuple(np.array([col, row]) + a * axis * length / 2 + b * normal * width / 2)
        for a, b in corners
    ]
    pen.polygon(points, fill=1)


def _draw_roads(parcels: Parcels, rng: np.random.Generator) -> Mask:
    image = Image.new("1", (SHAPE[1], SHAPE[0]))
    pen = ImageDraw.Draw(image)
    t = np.linspace(0, 1, 160)
    main_road = np.column_stack(
        [
            VILLAGE[0] + 70 * np.sin(5 * t - 1.9) - 60 * (t - 0.39) + 18 * np.sin(17 * t),
            t * SHAPE[0],
        ]
    )
    pen.line([tuple(p) for p in main_road], fill=1, width=3)
    for target in (*HAMLETS, (1910.0, 640.0), (1010.0, 600.0)):
        start = main_road[np.argmin(np.abs(main_road[:, 1] - (0.5 * target[1] + 0.5 * VILLAGE[1])))]
        s = np.linspace(0, 1, 60)[:, None]
        sway = np.sin(s * np.pi) * rng.normal(0, 25) + 5 * np.sin(s * 19)
        path = start + s * (np.array(target) - start) + sway * (0.3, 1.0)
        pen.line([tuple(p) for p in path], fill=1, width=2)
    tracks = (parcels.edge_m < 4.2) & (parcels.draw[parcels.number] < 0.10)
    return np.asarray(image, bool) | tracks
