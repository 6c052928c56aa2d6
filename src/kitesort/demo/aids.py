"""What helps beside the scenes: a fine photo, a year of index composites, a boundary."""

import json
from datetime import date, timedelta
from pathlib import Path

import numpy as np
import rasterio.warp
from rasterio.enums import Resampling
from scipy import ndimage

from kitesort.demo.cover import BARLEY, BUILT, CONIFER, MARSH, MUD, PASTURE, REED, SHINGLE, WATER
from kitesort.demo.delivery import CRS, ORIGIN, write_raster
from kitesort.demo.noise import power_law_noise
from kitesort.demo.scene import GroundReflectance
from kitesort.demo.sensor import block_mean

PHOTO_ROWS, PHOTO_COLS = slice(420, 980), slice(560, 1360)  # fine pixels
PHOTO_M = 2.5
SERIES_SCALE = 0.0001
COMPOSITE_DAYS = 16
N_COMPOSITES = 23
# Index of each cover: winter level, height of the growing season, its middle and length in days.
# fmt: off
PHENOLOGY = {
    WATER: (-.25, 0, 180, 60), MUD: (.07, .03, 200, 60), MARSH: (.30, .36, 225, 55),
    REED: (.24, .46, 205, 42), PASTURE: (.58, .16, 170, 80), BARLEY: (.20, .62, 138, 34),
    CONIFER: (.70, .06, 190, 90), SHINGLE: (.06, .01, 180, 60), BUILT: (.10, .03, 180, 60),
}
# fmt: on


def write_photo(path: Path, ground: GroundReflectance, seed: int) -> None:
    """True-colour picture of part of the area with pixels of 2.5 m."""
    rng = np.random.default_rng([seed, 2])
    channels = []
    shape = tuple(2 * (s.stop - s.start) for s in (PHOTO_ROWS, PHOTO_COLS))
    grain = 1 + 0.05 * power_law_noise((shape[0], shape[1]), 0.6, rng)
    for position in (3, 2, 1):
        part = ground.band(position)[PHOTO_ROWS, PHOTO_COLS]
        fine = ndimage.zoom(part, 2, order=1, grid_mode=True, mode="nearest") * grain
        channels.append(np.clip(np.sqrt(fine / 0.34) * 235, 1, 255).astype(np.uint8))
    left = ORIGIN[0] + PHOTO_COLS.start * 5
    top = ORIGIN[1] - PHOTO_ROWS.start * 5
    transform = rasterio.Affine(PHOTO_M, 0, left, 0, -PHOTO_M, top)
    data = np.stack(channels)
    write_raster(path, data, PHOTO_M, Resampling.average, transform=transform, photometric="rgb")


def write_series(folder: Path, ground: GroundReflectance, seed: int, year: int) -> None:
    """23 index composites, 16 days each, int16 with factor 0.0001, pixels of 60 m."""
    folder.mkdir(parents=True, exist_ok=True)
    rng = np.random.default_rng([seed, 3])
    table = np.zeros((4, 10), np.float32)
    for code, row in PHENOLOGY.items():
        table[:, code] = row
    late = 9 * ground.land.parcels.phase[ground.land.parcels.number]
    texture = 0.03 * ground.land.texture.vigour
    for k in range(N_COMPOSITES):
        day = 1 + COMPOSITE_DAYS * k
        low, rise, middle, length = (table[i][ground.cover] for i in range(4))
        shape = np.exp(-(((day + 8 - middle - late) / length) ** 2))
        index = block_mean((low + rise * shape + texture).astype(np.float32), 12)
        index += rng.normal(0, 0.012, index.shape)
        data = np.rint(index.clip(-0.2, 1) / SERIES_SCALE).astype(np.int16)
        start = date(year, 1, 1) + timedelta(days=day - 1)
        name = f"ndvi_{start:%Y%m%d}.tif"
        write_raster(folder / name, data[None], 60, Resampling.average, nodata=-3000)


def write_boundary(path: Path) -> None:
    """The reclaimed land as GeoJSON, that is in degrees of longitude and latitude."""
    corners = [(2600, 1750), (3950, 1500), (4350, 2600), (4150, 4300), (4300, 5350), (2750, 5450),
               (2350, 4300), (2800, 2900)]  # fmt: skip
    xs, ys = zip(*[(ORIGIN[0] + e, ORIGIN[1] - s) for e, s in corners], strict=True)
    lon, lat = rasterio.warp.transform(CRS, "EPSG:4326", xs, ys)
    ring = [[round(x, 6), round(y, 6)] for x, y in zip(lon, lat, strict=True)]
    feature = {
        "type": "Feature",
        "properties": {"name": "Reclaimed land before the breach"},
        "geometry": {"type": "Polygon", "coordinates": [[*ring, ring[0]]]},
    }
    path.write_text(json.dumps({"type": "FeatureCollection", "features": [feature]}), "utf-8")
