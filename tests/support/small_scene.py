"""A tiny delivered scene whose every pixel is known: four covers in four quarters."""

from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt
import rasterio
from affine import Affine

CRS = "EPSG:32625"
LEFT, TOP, PIXEL = 400_000.0, 5_000_000.0, 10.0
ROWS, COLUMNS = 96, 128
FILL_COLUMNS = 4
CLOUD = (slice(0, 12), slice(100, 124))
GAIN, OFFSET, SUN_ELEVATION = 2e-5, -0.05, 50.0
NAMES = {1: "Water", 2: "Sand", 3: "Grass", 4: "Wood"}
COLOURS = {1: "#332288", 2: "#ddcc77", 3: "#44aa99", 4: "#117733"}
# role: (pixel size in metres, wavelength in micrometres, reflectance of the four covers)
BANDS = {
    "blue": (10, 0.49, (0.06, 0.16, 0.04, 0.025)),
    "red": (10, 0.665, (0.04, 0.21, 0.06, 0.03)),
    "nir": (10, 0.842, (0.02, 0.25, 0.40, 0.22)),
    "swir16": (20, 1.61, (0.005, 0.30, 0.20, 0.09)),
}
NOISE = 0.008


@dataclass(frozen=True)
class SmallScene:
    """Where its metadata lies, and the cover code (rows, columns) of every pixel."""

    metadata: Path
    truth: npt.NDArray[np.uint16]


def truth_codes() -> npt.NDArray[np.uint16]:
    codes = np.empty((ROWS, COLUMNS), np.uint16)
    half_rows, half_columns = ROWS // 2, COLUMNS // 2
    codes[:half_rows, :half_columns], codes[:half_rows, half_columns:] = 1, 2
    codes[half_rows:, :half_columns], codes[half_rows:, half_columns:] = 3, 4
    return codes


def write_band(path: Path, data: npt.NDArray[Any], pixel: float, **options: Any) -> None:
    profile = {
        "driver": "GTiff", "height": data.shape[0], "width": data.shape[1], "count": 1,
        "dtype": data.dtype, "crs": CRS, "transform": Affine(pixel, 0, LEFT, 0, -pixel, TOP),
        "tiled": True, "blockxsize": 64, "blockysize": 64,
    }  # fmt: skip
    with rasterio.open(path, "w", **profile | options) as dataset:
        dataset.write(data, 1)


def write_small_scene(folder: Path, seed: int = 7) -> SmallScene:
    """Four bands of digital numbers, a quality band and the metadata text."""
    folder.mkdir(parents=True, exist_ok=True)
    rng = np.random.default_rng(seed)
    truth = truth_codes()
    lines = [
        "SCENE = SMALL_1", "SENSOR = Test sensor", "ACQUIRED = 2024-06-01T10:00:00Z",
        f"SUN_ELEVATION = {SUN_ELEVATION}", "FILL_VALUE = 0", "SATURATED_VALUE = 65535",
        "QUALITY_FILE = quality.tif", "QUALITY_BIT_0 = fill", "QUALITY_BIT_1 = cloud",
    ]  # fmt: skip
    for number, (role, (pixel, wavelength, means)) in enumerate(BANDS.items(), start=1):
        step = pixel // 10
        codes = truth[::step, ::step]
        values = np.array((0, *means))[codes] + rng.normal(0, NOISE, codes.shape)
        numbers = np.rint((values * np.sin(np.deg2rad(SUN_ELEVATION)) - OFFSET) / GAIN)
        numbers = numbers.clip(1, 65_000).astype(np.uint16)
        numbers[:, : FILL_COLUMNS // step] = 0
        write_band(folder / f"band_{number}.tif", numbers, pixel, nodata=0)
        lines += [
            f"BAND_{number}_FILE = band_{number}.tif",
            f"BAND_{number}_COMMON_NAME = {role}",
            f"BAND_{number}_WAVELENGTH_UM = {wavelength}",
            f"BAND_{number}_RESOLUTION_M = {pixel}",
            f"BAND_{number}_REFLECTANCE_GAIN = {GAIN}",
            f"BAND_{number}_REFLECTANCE_OFFSET = {OFFSET}",
        ]
    flags = np.zeros((ROWS, COLUMNS), np.uint16)
    flags[:, :FILL_COLUMNS] |= 1
    flags[CLOUD] |= 2
    write_band(folder / "quality.tif", flags, 10)
    metadata = folder / "SMALL_1_metadata.txt"
    metadata.write_text("\n".join(lines) + "\n", "utf-8")
    return SmallScene(metadata, truth)


def rectangle(row: float, column: float, height: float, width: float) -> dict[str, Any]:
    """GeoJSON of a rectangle given in pixels of the small scene."""
    left, right = LEFT + column * PIXEL, LEFT + (column + width) * PIXEL
    top, bottom = TOP - row * PIXEL, TOP - (row + height) * PIXEL
    ring = [[left, top], [right, top], [right, bottom], [left, bottom], [left, top]]
    return {"type": "Polygon", "coordinates": [ring]}


# One site well inside each quarter, 12 × 15 = 180 pixels.
GOOD_SITES = {
    1: rectangle(15, 20, 12, 15),
    2: rectangle(20, 80, 12, 15),
    3: rectangle(60, 20, 12, 15),
    4: rectangle(60, 80, 12, 15),
}
BOW_TIE = {
    "type": "Polygon",
    "coordinates": [
        [[LEFT + 200, TOP - 200], [LEFT + 300, TOP - 300], [LEFT + 300, TOP - 200],
         [LEFT + 200, TOP - 300], [LEFT + 200, TOP - 200]]
    ],
}  # fmt: skip
