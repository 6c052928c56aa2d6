"""Deriving: a typed formula on screen; an index and components of a whole scene to disk."""

import random
import tempfile
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from statistics import median
from time import perf_counter

import httpx
import numpy as np
import rasterio

from bench.process import compare, measure
from bench.result import Result, is_below
from bench.scenes import COPY, KEPT, SIDE
from bench.server import Served
from kitesort.core.delivery import DeliveredScene, open_delivery

PAUSE_S = 0.06  # after the last key, before the browser asks
DERIVE = """
import json, sys, time
from pathlib import Path
from bench.process import print_used
from kitesort.core.delivery import open_delivery, read_delivery
from kitesort.core.raster.scene_file import write_scene
from kitesort.core.recipe import *
delivery = read_delivery(Path(sys.argv[1]))
bands = tuple(b.model_copy(update={"used": b.role in sys.argv[3].split(",")})
              for b in delivery.bands)
delivery = delivery.model_copy(update={"bands": bands})
reader = LayerReader(lambda i, e: open_delivery(delivery, e), lambda i: delivery)
started = time.perf_counter()
leaf = LayerLeaf(layer_id=1, name="x")
recipe = apply_operation((leaf,), sys.argv[4], json.loads(sys.argv[5]), reader, str)
write_scene(open_recipe(recipe, reader), Path(sys.argv[2]))
print_used(time.perf_counter() - started)
"""
PLAIN = """
import sys, time
from pathlib import Path
import numpy as np
import rasterio, rasterio.shutil
from rasterio.windows import Window
from bench.process import print_used
from bench.scenes import SIDE
from kitesort.core.delivery import read_delivery
delivery = read_delivery(Path(sys.argv[1]))
sine = np.sin(np.deg2rad(delivery.sun_elevation_deg))
shape = (SIDE // int(sys.argv[5]), SIDE)
started = time.perf_counter()
bands = []
for role in sys.argv[3].split(","):
    band = next(b for b in delivery.bands if b.role == role)
    with rasterio.open(Path(delivery.folder) / band.file) as source:
        window = Window(0, 0, source.width, source.height // int(sys.argv[5]))
        numbers = source.read(1, window=window, out_shape=shape).astype(np.float32)
        profile = source.profile if source.height == SIDE else profile
    numbers[numbers == 0] = np.nan
    bands.append((numbers * band.gain + band.offset) / sine)
with np.errstate(all="ignore"):
    if sys.argv[4] == "index":
        red, nir = bands
        out = ((nir - red) / (nir + red))[None]
    elif sys.argv[4] == "stripes":
        from scipy.ndimage import gaussian_filter1d as smooth
        good = np.isfinite(bands[0])
        filled, weight = np.where(good, bands[0], 0), good.astype(np.float32)
        sums = smooth(filled, 80, axis=1), smooth(weight, 80, axis=1)
        line = sums[0] / np.maximum(sums[1], 1e-3)
        ground = smooth(sums[0], 4, axis=0) / np.maximum(smooth(sums[1], 4, axis=0), 1e-3)
        out = (bands[0] - line + ground)[None]
    elif sys.argv[4] == "sharpen":
        from scipy.ndimage import zoom
        rows = shape[0] // 2
        bands = [band[: 2 * rows] for band in bands]
        red, swir = bands
        halves = [band.reshape(rows, 2, SIDE // 2, 2).mean(axis=(1, 3)) for band in (red, swir)]
        smooth, plain = (zoom(half, 2, order=1, grid_mode=True, mode="nearest") for half in halves)
        out = np.stack([red, plain + 0.6 * (red - smooth)])
    else:
        pixels = np.stack(bands).reshape(len(bands), -1)
        good = np.isfinite(pixels).all(axis=0)
        mean = pixels[:, good].mean(axis=1)
        _, vectors = np.linalg.eigh(np.cov(pixels[:, good]))
        scores = vectors[:, ::-1][:, :3].T.astype(np.float32) @ (pixels - mean[:, None])
        out = scores.reshape(3, *shape)
path = Path(sys.argv[2])
profile = {"driver": "GTiff", "height": out.shape[1], "width": SIDE, "count": len(out),
           "dtype": "float32", "crs": profile["crs"], "transform": profile["transform"],
           "nodata": np.nan, "tiled": True, "blockxsize": 512, "blockysize": 512,
           "bigtiff": "yes", "interleave": "band"}
with rasterio.open(path, "w", **profile) as dataset:
    dataset.write(out.astype(np.float32))
rasterio.shutil.copy(path, str(path) + ".cog.tif", driver="COG", COMPRESS="DEFLATE", LEVEL=1,
                     PREDICTOR="YES", NUM_THREADS="ALL_CPUS", OVERVIEW_RESAMPLING="AVERAGE")
print_used(time.perf_counter() - started)
"""


PARTS = 4  # whole arrays of all of it do not fit into memory
A_QUARTER = "on whole arrays of a quarter, times four, to COG"


def keep_index(metadata: Path, folder: Path) -> Iterator[Result]:
    """An index to disk, beside a plain copy of one band of 32-bit numbers to COG, and beside
    plain NumPy over whole arrays."""
    with tempfile.TemporaryDirectory(dir=folder) as scratch:
        kept, plain = Path(scratch) / "kept.tif", Path(scratch) / "plain.tif"
        ours, memory = measure(
            DERIVE, str(metadata), str(kept), "red,nir", "index", '{"index": "ndvi"}'
        )
        _uncompressed(kept, plain)
        copy, _ = compare(COPY, str(Path(scratch) / "copy"), str(plain))
        whole = str(Path(scratch) / "whole.tif")
        numpy, numpy_memory = compare(PLAIN, str(metadata), whole, "red,nir", "index", "1")
    yield Result(f"keep an index of {SIDE} × {SIDE}", ours, copy,
                 "copying one band of 32-bit numbers to COG", "s", "below 2 × the copy",
                 is_below(ours, 2, copy))  # fmt: skip
    yield Result("the same", ours, numpy, "NumPy on whole arrays, then COG", "s", "", True)
    yield Result("its memory", memory, numpy_memory, "that of NumPy", "MiB", "below 2 GiB",
                 memory < 2048)  # fmt: skip


def keep_components(metadata: Path, folder: Path) -> Iterator[Result]:
    yield from _keep(
        metadata, folder, "keep 3 principal components of 6 bands, every pixel counted",
        ",".join(KEPT), "principal-components", '{"pixels": "every", "n_components": 3}',
        "components", f"NumPy {A_QUARTER}",
    )  # fmt: skip


def keep_stripes(metadata: Path, folder: Path) -> Iterator[Result]:
    yield from _keep(
        metadata, folder, f"keep one band of {SIDE} × {SIDE} without stripes",
        "red", "stripe-filter", '{"roles": ["red"]}', "stripes", f"SciPy {A_QUARTER}",
    )  # fmt: skip


def keep_sharpened(metadata: Path, folder: Path) -> Iterator[Result]:
    yield from _keep(
        metadata, folder, "keep one band sharpened by another",
        "red,swir16", "sharpen", '{"roles": ["swir16"]}', "sharpen", f"SciPy {A_QUARTER}",
    )  # fmt: skip


def _keep(
    metadata: Path, folder: Path, title: str, bands: str, operation: str, settings: str,
    plain: str, other_is: str,
) -> Iterator[Result]:  # fmt: skip
    """A derived layer to disk, beside the same in plain arrays."""
    with tempfile.TemporaryDirectory(dir=folder) as scratch:
        kept, whole = str(Path(scratch) / "kept.tif"), str(Path(scratch) / "whole.tif")
        ours, memory = measure(DERIVE, str(metadata), kept, bands, operation, settings)
        theirs, their_memory = compare(PLAIN, str(metadata), whole, bands, plain, str(PARTS))
    yield Result(title, ours, theirs and PARTS * theirs, other_is, "s", "", True)
    yield Result("its memory", memory, their_memory, "that of the quarter", "MiB", "below 2 GiB",
                 memory < 2048)  # fmt: skip


def _uncompressed(kept: Path, plain: Path) -> None:
    with rasterio.open(kept) as source:
        profile = source.profile | {"driver": "GTiff", "compress": "none", "bigtiff": "yes"}
        with rasterio.open(plain, "w", **profile) as out:
            out.write(source.read(1), 1)


def preview(served: Served, demo: DeliveredScene) -> Result:
    """From the last key of a formula to the four tiles of a pane; each formula is a new one."""
    times = []
    rng = random.Random(1)
    tiles = [(2, row, col) for row in (1, 2) for col in (1, 2)]
    with httpx.Client(base_url=served.url, timeout=60) as client, ThreadPoolExecutor(4) as pool:

        def fetch(at: tuple[int, int, int], scene_id: int) -> None:
            level, row, col = at
            client.get(
                f"/api/scenes/{scene_id}/tiles/{level}/{row}/{col}.png",
                params={"roles": "formula", "palette": "green"},
            ).raise_for_status()

        for _ in range(12):
            text = f"(nir - {rng.random():.6f} * red) / (nir + red)"
            body = {"scene_id": served.demo_scene_id, "operation": "formula",
                    "settings": {"formula": text}}  # fmt: skip
            started = perf_counter()
            answer = client.post(f"/api/studies/{served.study_id}/drafts", json=body)
            scene_id = answer.raise_for_status().json()["id"]
            list(pool.map(lambda at, scene_id=scene_id: fetch(at, scene_id), tiles))
            times.append(PAUSE_S + perf_counter() - started)
    ours = median(times[2:])
    return Result(
        "typed formula, from the last key to four tiles", ours * 1000,
        _whole_scene(demo) * 1000, "NumPy on the whole scene, to one picture", "ms",
        "below 250 ms", ours < 0.25,
    )  # fmt: skip


def _whole_scene(demo: DeliveredScene) -> float:
    raster = open_delivery(demo)
    started = perf_counter()
    block = raster.read(raster.grid.whole, ("nir", "red"))
    nir, red = block.values
    with np.errstate(all="ignore"):
        values = (nir - red) / (nir + red)
    low, high = np.nanpercentile(np.where(block.valid, values, np.nan), [2, 98])
    np.clip((values - low) / (high - low) * 255, 0, 255).astype(np.uint8)
    return perf_counter() - started
