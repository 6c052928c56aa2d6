"""Write scenes as a provider would: one GeoTIFF per band, a metadata text, a quality band."""

from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy.typing as npt
import rasterio
from affine import Affine
from rasterio.enums import Resampling

from kitesort.demo.sensor import BIT_NAMES, FILL_DN, SATURATED_DN, SENSOR, SensedBand

CRS = "EPSG:32625"  # UTM 25 north: at these coordinates there is nothing but open ocean
ORIGIN = (407_000.0, 5_099_000.0)  # left, top


@dataclass(frozen=True)
class Pass:
    """One overpass of the sensor."""

    key: str
    title: str
    acquired: str
    sun_elevation_deg: float

    @property
    def stem(self) -> str:
        return f"WHB8_{self.acquired[:10].replace('-', '')}_ULV"


def transform_of(pixel_m: float) -> Affine:
    return Affine(pixel_m, 0, ORIGIN[0], 0, -pixel_m, ORIGIN[1])


def write_raster(
    path: Path, data: npt.NDArray[Any], pixel_m: float, overviews: Resampling, **options: Any
) -> None:
    """Tiled, compressed GeoTIFF (bands, rows, cols) with overviews inside."""
    bands, rows, cols = data.shape
    profile = {
        "driver": "GTiff", "count": bands, "height": rows, "width": cols, "dtype": data.dtype,
        "crs": CRS, "transform": transform_of(pixel_m), "tiled": True, "blockxsize": 256,
        "blockysize": 256, "compress": "deflate", "predictor": 2, "zlevel": 4,
    }  # fmt: skip
    with rasterio.open(path, "w", **profile | options) as dataset:
        dataset.write(data)
        factors = [f for f in (2, 4, 8) if max(rows, cols) / f > 100]
        if factors:
            dataset.build_overviews(factors, overviews)


def write_pass(
    folder: Path, taken: Pass, bands: list[SensedBand], quality: npt.NDArray[Any]
) -> Path:
    """Write all files of a pass and return the path of its metadata text."""
    folder.mkdir(parents=True, exist_ok=True)
    lines = [
        "# Whimbrel-8 scene delivery (made-up data)",
        f"SCENE = {taken.stem}",
        f"TITLE = {taken.title}",
        f"SENSOR = {SENSOR}",
        f"ACQUIRED = {taken.acquired}",
        f"SUN_ELEVATION = {taken.sun_elevation_deg}",
        f"FILL_VALUE = {FILL_DN}",
        f"SATURATED_VALUE = {SATURATED_DN}",
        "# reflectance = (GAIN x DN + OFFSET) / sin(SUN_ELEVATION)",
    ]
    for sensed in bands:
        band = sensed.band
        name = f"{taken.stem}_B{band.number}.tif"
        write_raster(
            folder / name, sensed.numbers[None], band.pixel_m, Resampling.average, nodata=0
        )
        lines += [
            f"BAND_{band.number}_FILE = {name}",
            f"BAND_{band.number}_COMMON_NAME = {band.role}",
            f"BAND_{band.number}_WAVELENGTH_UM = {band.wavelength_um}",
            f"BAND_{band.number}_RESOLUTION_M = {band.pixel_m}",
            f"BAND_{band.number}_REFLECTANCE_GAIN = {band.gain}",
            f"BAND_{band.number}_REFLECTANCE_OFFSET = {band.offset}",
        ]
    name = f"{taken.stem}_quality.tif"
    write_raster(folder / name, quality[None], 10, Resampling.nearest)
    lines += [f"QUALITY_FILE = {name}"]
    lines += [f"QUALITY_BIT_{bit} = {meaning}" for bit, meaning in enumerate(BIT_NAMES)]
    metadata = folder / f"{taken.stem}_metadata.txt"
    metadata.write_text("\n".join(lines) + "\n", "utf-8")
    return metadata
