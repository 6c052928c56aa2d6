"""The first look at a file, however it is laid out: three bands of 7 000 × 7 000 on the screen."""

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import rasterio
from rasterio.enums import Resampling

from bench.process import compare, measure
from bench.result import Result
from bench.sizes import size

SIDE = size(7_000, 1_000)
FIRST_LOOK_S = 3.0
LAYOUTS: dict[str, dict[str, Any]] = {
    "strips, pixel by pixel": {"interleave": "pixel"},
    "strips, band by band": {"interleave": "band"},
    "tiles, pixel by pixel": {"interleave": "pixel", "tiled": True},
    "tiles, band by band": {"interleave": "band", "tiled": True},
}
# A look at the whole scene in three bands, in a process that has read nothing before.
LOOK = """
import sys
from time import perf_counter
from bench.process import print_used
from kitesort.core.bands import Band
from kitesort.core.raster.file import FileRaster
started = perf_counter()
raster = FileRaster(sys.argv[1], (Band("red"), Band("green"), Band("blue")))
raster.read(raster.grid.whole, None, (875, 875))
print_used(perf_counter() - started)
"""
OTHER = """
import sys
from time import perf_counter
import rasterio
from bench.process import print_used
started = perf_counter()
with rasterio.open(sys.argv[1]) as dataset:
    dataset.read(out_shape=(3, 875, 875))
print_used(perf_counter() - started)
"""


def first_looks(folder: Path) -> Iterator[Result]:
    for name, options in LAYOUTS.items():
        for has_overviews in (False, True):
            path = _make(folder / "layouts", name, options, has_overviews)
            ours, _ = measure(LOOK, str(path))
            other, _ = compare(OTHER, str(path))
            yield Result(
                f"first look, {name}, {'with' if has_overviews else 'without'} overviews",
                ours, other, "rasterio decimated", "s", f"below {FIRST_LOOK_S:g} s",
                ours < FIRST_LOOK_S,
            )  # fmt: skip


def _make(folder: Path, name: str, options: dict[str, Any], has_overviews: bool) -> Path:
    words = name.replace(", ", "-").replace(" ", "-")
    path = folder / f"{words}{'-overviews' if has_overviews else ''}.tif"
    if path.exists():
        return path
    folder.mkdir(parents=True, exist_ok=True)
    rng = np.random.default_rng(7)
    making = path.with_suffix(".part")
    with rasterio.open(
        making, "w", driver="GTiff", height=SIDE, width=SIDE, count=3, dtype="uint16",
        crs="EPSG:32632", transform=rasterio.Affine(10, 0, 500_000, 0, -10, 5_500_000),
        compress="deflate", zlevel=1, **options,
    ) as dataset:  # fmt: skip
        for row in range(0, SIDE, 500):
            window = rasterio.windows.Window(0, row, SIDE, 500)
            dataset.write(rng.integers(0, 4000, (3, 500, SIDE), np.uint16), window=window)
        if has_overviews:
            dataset.build_overviews([2, 4, 8, 16], Resampling.average)
    making.replace(path)
    return path
