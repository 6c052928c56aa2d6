"""What is measured on: the demo study, and a scene of 10 000 × 10 000 pixels made of it."""

from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt
import rasterio
from rasterio.enums import Resampling
from rasterio.windows import Window

from bench.sizes import size
from kitesort.core.delivery import DeliveredScene
from kitesort.demo.delivery import CRS, transform_of

SIDE = size(10_000, 1_100)
ROLES = ("blue", "green", "red", "nir", "swir16", "swir22")
STRIP = 1024


def make_large_scene(demo: DeliveredScene, folder: Path) -> Path:
    """Six band files of the demo scene, mirrored to and fro until they fill the side."""
    metadata = folder / "LARGE_metadata.txt"
    if metadata.exists():
        return metadata
    folder.mkdir(parents=True, exist_ok=True)
    lines = [
        "SCENE = LARGE", f"SENSOR = {demo.sensor}", "ACQUIRED = 2024-07-18",
        f"SUN_ELEVATION = {demo.sun_elevation_deg}", f"FILL_VALUE = {demo.fill_value}",
    ]  # fmt: skip
    for number, role in enumerate(ROLES, start=1):
        band = next(b for b in demo.bands if b.role == role)
        name = f"LARGE_B{number}.tif"
        with rasterio.open(Path(demo.folder) / band.file) as dataset:
            numbers = dataset.read(1)
        step = int(band.pixel_size // 10)
        _write_mirrored(folder / name, numbers.repeat(step, 0).repeat(step, 1))
        lines += [
            f"BAND_{number}_FILE = {name}", f"BAND_{number}_COMMON_NAME = {role}",
            f"BAND_{number}_WAVELENGTH_UM = {band.wavelength_um}",
            f"BAND_{number}_RESOLUTION_M = 10", f"BAND_{number}_REFLECTANCE_GAIN = {band.gain}",
            f"BAND_{number}_REFLECTANCE_OFFSET = {band.offset}",
        ]  # fmt: skip
    metadata.write_text("\n".join(lines) + "\n")
    return metadata


def _write_mirrored(path: Path, tile: npt.NDArray[Any]) -> None:
    """Strip by strip; a little noise so that no two pieces pack alike."""
    rng = np.random.default_rng(len(path.name))
    pair = np.block([[tile, tile[:, ::-1]], [tile[::-1], tile[::-1, ::-1]]])
    columns = np.arange(SIDE) % pair.shape[1]
    profile = {
        "driver": "GTiff", "height": SIDE, "width": SIDE, "count": 1, "dtype": "uint16",
        "crs": CRS, "transform": transform_of(10), "tiled": True, "blockxsize": 512,
        "blockysize": 512, "compress": "deflate", "predictor": 2, "zlevel": 1,
    }  # fmt: skip
    with rasterio.open(path, "w", **profile) as dataset:
        for row in range(0, SIDE, STRIP):
            rows = np.arange(row, min(row + STRIP, SIDE)) % pair.shape[0]
            strip = pair[rows][:, columns]
            noise = rng.integers(-12, 13, strip.shape)
            strip = np.where(strip > 0, (strip + noise).clip(1, 65_000), 0).astype(np.uint16)
            dataset.write(strip, 1, window=Window(0, row, SIDE, len(rows)))
        dataset.build_overviews([2, 4, 8, 16, 32], Resampling.average)
