"""Bringing in and correcting at full size: stack, statistics, keeping, upload."""

import os
import socket
import tempfile
import threading
from pathlib import Path
from time import perf_counter
from typing import Any

import httpx
import numpy as np
import psutil
import rasterio
from affine import Affine

from bench.process import compare, measure
from bench.result import Result, is_below, timed
from bench.server import Served
from bench.sizes import size
from kitesort.core.delivery import read_delivery

SIDE = size(10_980, 1_080)
MEMORY_LIMIT_MIB = 2048.0
UPLOAD_BYTES = size(1_500, 40) * 2**20
# Twelve bands as a common sensor has them: metres per pixel and role.
BANDS = (
    (60, "coastal"), (10, "blue"), (10, "green"), (10, "red"), (20, "rededge071"),
    (20, "rededge075"), (20, "rededge078"), (10, "nir"), (20, "nir08"), (60, "nir09"),
    (20, "swir16"), (20, "swir22"),
)  # fmt: skip
KEPT = ("blue", "green", "red", "nir", "swir16", "swir22")


def make_twelve_bands(large: Path, folder: Path) -> Path:
    """Twelve files of up to 10 980 × 10 980 pixels with overviews, from the large scene's own."""
    metadata = folder / "TWELVE_metadata.txt"
    if metadata.exists():
        return metadata
    folder.mkdir(parents=True, exist_ok=True)
    source = read_delivery(large)
    with rasterio.open(Path(source.folder) / source.bands[2].file) as dataset:
        tile = dataset.read(1, window=rasterio.windows.Window(0, 0, SIDE // 3, SIDE // 3))
    lines = ["SCENE = TWELVE", "SENSOR = Bench", "ACQUIRED = 2024-07-18", "SUN_ELEVATION = 61.0",
             "FILL_VALUE = 0"]  # fmt: skip
    for number, (pixel, role) in enumerate(BANDS, start=1):
        name = f"TWELVE_B{number}.tif"
        _write_band(folder / name, np.tile(tile, (3, 3)), pixel, number)
        lines += [
            f"BAND_{number}_FILE = {name}", f"BAND_{number}_COMMON_NAME = {role}",
            f"BAND_{number}_WAVELENGTH_UM = 0.{number + 40}",
            f"BAND_{number}_RESOLUTION_M = {pixel}",
            f"BAND_{number}_REFLECTANCE_GAIN = 2e-5", f"BAND_{number}_REFLECTANCE_OFFSET = -0.05",
        ]  # fmt: skip
    metadata.write_text("\n".join(lines) + "\n")
    return metadata


def _write_band(path: Path, whole: np.ndarray[Any, Any], pixel: int, seed: int) -> None:
    step = pixel // 10
    data = whole[::step, ::step]
    noise = np.random.default_rng(seed).integers(-12, 13, data.shape, np.int16)
    data = np.where(data > 0, np.clip(data.astype(np.int32) + noise, 1, 65_000), 0)
    profile = {
        "driver": "GTiff", "height": data.shape[0], "width": data.shape[1], "count": 1,
        "dtype": "uint16", "crs": "EPSG:32625", "tiled": True, "blockxsize": 512,
        "blockysize": 512, "compress": "deflate", "predictor": 2, "zlevel": 1,
        "transform": Affine(pixel, 0, 407_000, 0, -pixel, 5_099_000),
    }  # fmt: skip
    with rasterio.open(path, "w", **profile) as dataset:
        dataset.write(data.astype(np.uint16), 1)
        dataset.build_overviews([2, 4, 8, 16, 32], rasterio.enums.Resampling.average)


def stack_on_screen(served: Served, folder: Path) -> list[Result]:
    """From files that are there to the tiles of a pane, and the statistics of all bands."""
    with httpx.Client(base_url=served.url, timeout=120) as client:
        started = perf_counter()
        delivery = client.post(f"/api/studies/{served.study_id}/folder-deliveries",
                               json={"path": str(folder)}).json()["id"]  # fmt: skip
        (found,) = client.get(f"/api/deliveries/{delivery}/findings").json()["scenes"]
        recognised = perf_counter() - started
        order = {k: found[k] for k in ("position", "sensor", "acquired", "fill_value")}
        bands = [{k: b[k] for k in ("position", "role", "wavelength_um", "gain", "offset", "used")}
                 for b in found["bands"]]  # fmt: skip
        order |= {"title": f"Twelve bands {delivery}", "bands": bands}
        answer = client.post(f"/api/deliveries/{delivery}/scenes", json={"scenes": [order]})
        (scene,) = answer.raise_for_status().json()
        stacked = perf_counter() - started
        tiles = [(1, r, c) for r in range(2) for c in range(2)]
        for level, row, col in tiles:
            client.get(f"/api/scenes/{scene['id']}/tiles/{level}/{row}/{col}.png"
                       "?roles=nir,red,green").raise_for_status()  # fmt: skip
        shown = perf_counter() - started
        started = perf_counter()
        client.get(f"/api/scenes/{scene['id']}/statistics").raise_for_status()
        statistics = perf_counter() - started
    virtual = _virtual_stack(folder)
    plain = timed(lambda: _plain_statistics(folder))
    return [
        Result(f"12 bands of {SIDE} × {SIDE} recognised and stacked", stacked, virtual,
               "copying them into one file", "s", "below 1 s", stacked < 1),
        Result("and on screen (four tiles)", shown, virtual, "the same", "s", "below 2 s",
               shown < 2 and recognised < 2),
        Result("statistics of its 12 bands, from overviews", statistics, plain,
               "NumPy on whole bands", "s", "below 3 s", statistics < 3),
    ]  # fmt: skip


def _virtual_stack(folder: Path) -> float:
    """What stacking costs where a stack is a new file: here only three of the twelve bands."""
    files = [folder / f"TWELVE_B{n}.tif" for n in (2, 3, 4)]
    with tempfile.TemporaryDirectory(dir=folder) as scratch:
        started = perf_counter()
        with rasterio.open(files[0]) as first:
            profile = first.profile | {"count": 3}
        with rasterio.open(Path(scratch) / "stack.tif", "w", **profile) as out:
            for i, path in enumerate(files, start=1):
                with rasterio.open(path) as dataset:
                    out.write(dataset.read(1), i)
        return 4 * (perf_counter() - started)


def _plain_statistics(folder: Path) -> None:
    for path in sorted(folder.glob("*.tif")):
        with rasterio.open(path) as dataset:
            values = dataset.read(1).astype(np.float32)
        values[values == 0] = np.nan
        np.nanmin(values), np.nanmax(values), np.nanmean(values), np.nanstd(values)


KEEP = """
import sys, time
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
leaf = LayerLeaf(layer_id=1, name="x")
recipe = apply_operation((leaf,), "dark-object", {}, reader, str)
started = time.perf_counter()
write_scene(open_recipe(recipe, reader), Path(sys.argv[2]))
print_used(time.perf_counter() - started)
"""
COPY = """
import sys, time
import rasterio.shutil
from bench.process import print_used
started = time.perf_counter()
for n, path in enumerate(sys.argv[2:]):
    rasterio.shutil.copy(path, f"{sys.argv[1]}-{n}.tif", driver="COG", COMPRESS="DEFLATE", LEVEL=1,
                         PREDICTOR="YES", NUM_THREADS="ALL_CPUS", OVERVIEWS="IGNORE_EXISTING",
                         OVERVIEW_RESAMPLING="AVERAGE")
print_used(time.perf_counter() - started)
"""


def keeping(metadata: Path, folder: Path) -> list[Result]:
    """A haze-corrected six-band scene to disk, beside a plain copy of the same pixels: the same
    six bands in one file of 32-bit numbers, made beforehand, copied to COG as it is."""
    with tempfile.TemporaryDirectory(dir=folder) as scratch:
        kept = Path(scratch) / "kept.tif"
        ours, memory = measure(KEEP, str(metadata), str(kept), ",".join(KEPT))
        plain = Path(scratch) / "plain.tif"
        with rasterio.open(kept) as source:
            profile = source.profile | {"driver": "GTiff", "compress": "none", "bigtiff": "yes"}
            with rasterio.open(plain, "w", **profile) as out:
                for i in range(1, 7):
                    out.write(source.read(i), i)
        other, copy_memory = compare(COPY, str(Path(scratch) / "copy"), str(plain))
    return [
        Result(f"keep a corrected scene, {SIDE} × {SIDE}, 6 bands", ours, other,
               "copying the same 32-bit pixels to COG", "s", "below 2.5 × the copy",
               is_below(ours, 2.5, other)),
        Result("its memory", memory, copy_memory, "that of the copy", "MiB", "below 2 GiB",
               memory < MEMORY_LIMIT_MIB),
    ]  # fmt: skip


def upload(served: Served, folder: Path) -> list[Result]:
    """A file sent as the browser sends it, beside a plain copy through a loopback socket."""
    path = folder / "upload.bin"
    if not path.exists():
        path.write_bytes(os.urandom(2**20) * (UPLOAD_BYTES // 2**20))
    size = path.stat().st_size
    process = psutil.Process(served.server_pid)
    before = process.memory_info().rss
    peak = before
    speeds, plain = [], []
    with httpx.Client(base_url=served.url, timeout=300) as client:
        for n in range(2):
            delivery = client.post(f"/api/studies/{served.study_id}/deliveries",
                                   json={"name": "Upload"}).json()["id"]  # fmt: skip
            started = perf_counter()
            for offset in range(0, size, 2**25):
                with path.open("rb") as handle:
                    handle.seek(offset)
                    piece = handle.read(2**25)
                client.put(f"/api/deliveries/{delivery}/file", content=piece,
                           params={"path": f"u{n}.bin", "offset": offset, "size": size}
                           ).raise_for_status()  # fmt: skip
                peak = max(peak, process.memory_info().rss)
            speeds.append(size / (perf_counter() - started) / 1e6)
            plain.append(size / _socket_copy(path, folder / "copy.bin") / 1e6)
    ours, other = max(speeds), max(plain)
    growth = (peak - before) / 2**20
    return [
        Result(f"upload of {UPLOAD_BYTES / 1e9:.1f} GB over loopback", ours, other,
               "a plain socket to a file", "MB/s", "at least 80 % of it", ours >= 0.8 * other),
        Result("growth of the server's memory meanwhile", growth, None, "", "MiB",
               "flat: below 64 MiB", growth < 64),
    ]  # fmt: skip


def _socket_copy(source: Path, target: Path) -> float:
    """Seconds for a file through a loopback socket to disk, flushed as an upload is."""
    listener = socket.create_server(("127.0.0.1", 0))

    def send() -> None:
        with socket.create_connection(listener.getsockname()) as out, source.open("rb") as handle:
            while piece := handle.read(2**20):
                out.sendall(piece)

    started = perf_counter()
    sender = threading.Thread(target=send)
    sender.start()
    connection, _ = listener.accept()
    with connection, target.open("wb") as out:
        while piece := connection.recv(2**20):
            out.write(piece)
        out.flush()
        os.fsync(out.fileno())
    sender.join()
    listener.close()
    seconds = perf_counter() - started
    target.unlink()
    return seconds
