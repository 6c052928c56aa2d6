"""Tiles over HTTP, warm, at every zoom; and the way from a drawn site to the new map."""

import io
import random
from pathlib import Path
from time import perf_counter
from typing import Any
from uuid import uuid4

import httpx
import numpy as np
import rasterio
from PIL import Image
from sklearn.discriminant_analysis import QuadraticDiscriminantAnalysis

from bench.classify import demo_samples
from bench.result import Result, percentile_95
from bench.scene import ROLES
from bench.server import Served
from bench.sizes import size
from kitesort.core.delivery import DeliveredScene, open_delivery
from kitesort.core.grid import Window

COMPOSITE = "nir,red,green"
N_TILES, N_LIVE, N_DRAWN = size((150, 60, 12), (6, 4, 3))


def random_tiles(grid: dict[str, Any], n: int, seed: int = 4) -> list[tuple[int, int, int]]:
    """Random tiles (level, row, column), all levels alike."""
    rng = random.Random(seed)
    chosen = []
    for _ in range(n):
        level = rng.randrange(grid["n_levels"])
        side = grid["tile_size"] * 2 ** (grid["n_levels"] - 1 - level)
        rows, columns = -(-grid["rows"] // side), -(-grid["columns"] // side)
        chosen.append((level, rng.randrange(rows), rng.randrange(columns)))
    return chosen


def tile_seconds(
    client: httpx.Client, address: str, tiles: list[tuple[int, int, int]]
) -> list[float]:
    """How long each tile takes, one after the other."""
    times = []
    for level, row, column in tiles:
        started = perf_counter()
        client.get(address.format(z=level, y=row, x=column)).raise_for_status()
        times.append(perf_counter() - started)
    return times


def imagery(served: Served, scene_id: int, scene: DeliveredScene, limit_ms: float) -> Result:
    with httpx.Client(base_url=served.url) as client:
        scenes = client.get(f"/api/studies/{served.study_id}/scenes").json()
        (grid,) = [s["grid"] for s in scenes if s["id"] == scene_id]
        tiles = random_tiles(grid, N_TILES)
        address = f"/api/scenes/{scene_id}/tiles/{{z}}/{{y}}/{{x}}.png?roles={COMPOSITE}"
        tile_seconds(client, address, tiles)
        ours = percentile_95(tile_seconds(client, address, tiles)) * 1000
    other = percentile_95([_plain_tile(scene, grid, tile) for tile in tiles]) * 1000
    side = f"{grid['rows']} × {grid['columns']}"
    return Result(f"imagery tile, {side}, any zoom, 95 of 100 below", ours, other,
                  "rasterio and Pillow, no server", "ms", f"below {limit_ms:.0f} ms",
                  ours < limit_ms)  # fmt: skip


def _plain_tile(scene: DeliveredScene, grid: dict[str, Any], tile: tuple[int, int, int]) -> float:
    """The same picture as a script would make it: open, read decimated, stretch, pack."""
    level, row, column = tile
    side = 256 * 2 ** (grid["n_levels"] - 1 - level)
    started = perf_counter()
    channels = []
    for role in COMPOSITE.split(","):
        band = next(b for b in scene.bands if b.role == role)
        with rasterio.open(Path(scene.folder) / band.file) as dataset:
            window = rasterio.windows.Window(column * side, row * side, side, side)
            values = dataset.read(1, window=window, boundless=True, fill_value=0,
                                  out_shape=(256, 256)).astype(np.float32)  # fmt: skip
        low, high = np.percentile(values, [2, 98])
        channels.append((255 * (values - low) / max(high - low, 1)).clip(0, 255).astype(np.uint8))
    Image.fromarray(np.dstack(channels)).save(io.BytesIO(), "PNG")
    return perf_counter() - started


def live(served: Served, demo: DeliveredScene, sites: Path) -> Result:
    samples = demo_samples(demo, sites)
    reference = QuadraticDiscriminantAnalysis(priors=[1 / 9] * 9, tol=1e-12)
    reference.fit(samples.values, samples.codes)
    raster = open_delivery(demo)
    query = f"scene_id={served.demo_scene_id}&roles={','.join(ROLES)}"
    with httpx.Client(base_url=served.url) as client:
        base = f"/api/studies/{served.study_id}"
        version = client.get(f"{base}/training?{query}").json()["version"]
        scenes = client.get(f"{base}/scenes").json()
        (grid,) = [s["grid"] for s in scenes if s["id"] == served.demo_scene_id]
        tiles = random_tiles(grid, N_LIVE)
        address = f"{base}/live/{version}/{{z}}/{{y}}/{{x}}.png?{query}"
        tile_seconds(client, address, tiles)
        ours = percentile_95(tile_seconds(client, address, tiles)) * 1000
    others = []
    for _ in range(5):
        started = perf_counter()
        block = raster.read(Window(200, 300, 256, 256), ROLES)
        reference.predict(block.values.reshape(len(ROLES), -1).T)
        others.append(perf_counter() - started)
    return Result("live class map tile, 95 of 100 below", ours, 1000 * min(others),
                  "scikit-learn QDA on the tile", "ms", "below 200 ms", ours < 200)  # fmt: skip


def redraw(served: Served, demo: DeliveredScene, sites: Path) -> Result:
    """Store a site, train anew, fetch the six tiles of a pane; the browser's own part is small."""
    times = []
    with httpx.Client(base_url=served.url) as client:
        base = f"/api/studies/{served.study_id}"
        scene = f"scene_id={served.demo_scene_id}"
        (class_row, *_) = client.get(f"{base}/classes").json()
        scenes = client.get(f"{base}/scenes").json()
        (grid,) = [s["grid"] for s in scenes if s["id"] == served.demo_scene_id]
        for i in range(N_DRAWN):
            left = grid["extent"]["left"] + 1000 + 60 * i
            top = grid["extent"]["top"] - 3000
            ring = [[left, top], [left + 90, top], [left + 90, top - 90], [left, top - 90]]
            geometry = {"type": "Polygon", "coordinates": [[*ring, ring[0]]]}
            started = perf_counter()
            made = client.post(
                f"{base}/sites?{scene}",
                json={"class_id": class_row["id"], "geometry": geometry, "key": str(uuid4())},
            )
            made.raise_for_status()
            version = client.get(f"{base}/training?{scene}").json()["version"]
            for row in range(2):
                for column in range(3):
                    client.get(f"{base}/live/{version}/2/{row}/{column}.png?{scene}")
            times.append(perf_counter() - started)
    ours, other = percentile_95(times), _plain_redraw(demo, sites)
    return Result("from a drawn site to six new tiles, 95 of 100 below", ours, other,
                  "scikit-learn QDA, fit and six tiles", "s", "below 0.5 s",
                  ours < 0.5)  # fmt: skip


def _plain_redraw(demo: DeliveredScene, sites: Path) -> float:
    """Read the sites, fit, and classify the same view, without server and pictures."""
    raster = open_delivery(demo)
    started = perf_counter()
    samples = demo_samples(demo, sites)
    reference = QuadraticDiscriminantAnalysis(priors=[1 / 9] * 9, tol=1e-12)
    reference.fit(samples.values, samples.codes)
    block = raster.read(Window(0, 0, 512, 768), ROLES)
    reference.predict(block.values[:, block.valid].T)
    return perf_counter() - started
