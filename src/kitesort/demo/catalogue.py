"""The made-up scenes of the stand-in catalogue: STAC items, band files and quick-looks."""

import json
import math
import os
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt
import rasterio
import rasterio.warp
from PIL import Image

from kitesort.demo.delivery import CRS, Pass
from kitesort.demo.sensor import BANDS, BIT_NAMES, FILL_DN, SENSOR

COLLECTION = "whimbrel-8"
QUICKLOOK_STEP = 3
CLOUD_BIT = 1 << BIT_NAMES.index("cloud")
FILL_BIT = 1 << BIT_NAMES.index("fill")


def write_catalogue(folder: Path, passes: list[tuple[Pass, Path]]) -> None:
    """Items for delivered passes (with the folder of each one's files), linked, not copied."""
    (folder / "items").mkdir(parents=True, exist_ok=True)
    with ThreadPoolExecutor(2) as pool:
        list(pool.map(lambda one: _write_item(folder, *one), passes))


def _write_item(folder: Path, taken: Pass, files: Path) -> None:
    stem = taken.stem
    here = folder / stem
    here.mkdir(exist_ok=True)
    for path in files.glob("*.tif"):
        target = here / path.name
        target.unlink(missing_ok=True)
        os.link(path, target)
    with rasterio.open(here / f"{stem}_quality.tif") as dataset:
        flags, bounds = dataset.read(1), dataset.bounds
    imaged = (flags & FILL_BIT) == 0
    cloud = 100 * float(((flags & CLOUD_BIT) > 0)[imaged].mean())
    _write_quicklook(
        here / f"{stem}_quicklook.png", here, stem, imaged & ((flags & CLOUD_BIT) == 0)
    )
    footprint = _footprint(bounds)
    xs, ys = zip(*footprint["coordinates"][0], strict=True)
    item = {
        "type": "Feature",
        "stac_version": "1.0.0",
        "stac_extensions": [],
        "id": stem,
        "collection": COLLECTION,
        "geometry": footprint,
        "bbox": [min(xs), min(ys), max(xs), max(ys)],
        "properties": {
            "title": taken.title,
            "datetime": taken.acquired,
            "platform": SENSOR,
            "eo:cloud_cover": round(cloud, 1),
            "view:sun_elevation": taken.sun_elevation_deg,
            "proj:epsg": int(CRS.removeprefix("EPSG:")),
        },
        "assets": _assets(taken),
        "links": [],
    }
    (folder / "items" / f"{stem}.json").write_text(json.dumps(item, indent=1), "utf-8")


def _assets(taken: Pass) -> dict[str, Any]:
    stem, sine = taken.stem, math.sin(math.radians(taken.sun_elevation_deg))
    assets: dict[str, Any] = {
        f"B{band.number}": {
            "href": f"{stem}/{stem}_B{band.number}.tif",
            "type": "image/tiff; application=geotiff",
            "roles": ["data"],
            "eo:bands": [
                {
                    "name": f"B{band.number}",
                    "common_name": band.role,
                    "center_wavelength": band.wavelength_um,
                }
            ],
            "raster:bands": [
                {
                    "scale": band.gain / sine,
                    "offset": band.offset / sine,
                    "nodata": FILL_DN,
                    "spatial_resolution": band.pixel_m,
                }
            ],
        }
        for band in BANDS
    }
    assets["quality"] = {
        "href": f"{stem}/{stem}_quality.tif",
        "type": "image/tiff; application=geotiff",
        "roles": ["cloud", "saturation"],
        "classification:bitfields": [
            {"offset": bit, "length": 1, "classes": [{"value": 1, "name": name}]}
            for bit, name in enumerate(BIT_NAMES)
        ],
    }
    assets["quicklook"] = {
        "href": f"{stem}/{stem}_quicklook.png",
        "type": "image/png",
        "roles": ["thumbnail"],
    }
    return assets


def _footprint(bounds: Any) -> dict[str, Any]:
    xs = [bounds.left, bounds.left, bounds.right, bounds.right]
    ys = [bounds.top, bounds.bottom, bounds.bottom, bounds.top]
    lon, lat = rasterio.warp.transform(CRS, "EPSG:4326", xs, ys)
    ring = [[round(x, 6), round(y, 6)] for x, y in zip(lon, lat, strict=True)]
    return {"type": "Polygon", "coordinates": [[*ring, ring[0]]]}


def _write_quicklook(path: Path, folder: Path, stem: str, clear: npt.NDArray[np.bool_]) -> None:
    """Stretched by what is not cloud, so that cloud does not darken the ground."""
    seen = clear[::QUICKLOOK_STEP, ::QUICKLOOK_STEP]
    by_role = {band.role: band for band in BANDS}
    channels = []
    for role in ("red", "green", "blue"):
        with rasterio.open(folder / f"{stem}_B{by_role[role].number}.tif") as dataset:
            numbers = dataset.read(1)[::QUICKLOOK_STEP, ::QUICKLOOK_STEP].astype(np.float32)
        low, high = np.percentile(numbers[seen], [1, 98])
        channels.append(np.clip((numbers - low) / (high - low), 0, 1) ** 0.8 * 255)
    Image.fromarray(np.stack(channels, axis=-1).astype(np.uint8)).save(path)
