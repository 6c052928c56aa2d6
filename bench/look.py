"""Looking: crosshair to values, feature space, a circled cloud, many viewers, panes dragged."""

import random
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from time import perf_counter
from typing import Any

import httpx
import numpy as np
import rasterio
from playwright.sync_api import CDPSession, sync_playwright

from bench.page import CHROMIUM, FLAGS
from bench.result import Result, percentile_95
from bench.server import Served
from bench.sizes import size
from bench.tiles import COMPOSITE, random_tiles, tile_seconds
from kitesort.core.delivery import DeliveredScene

N_PLACES = size(200, 60)
N_VIEWERS, TILES_EACH = size((40, 30), (4, 3))
REST_MS, N_MOVES = size((4_000, 90), (500, 10))
CLOUD = "0.02 0.2, 0.09 0.2, 0.09 0.5, 0.02 0.5"
COUNT_FRAMES = """() => new Promise((done) => {
  const times = []; const end = performance.now() + 3000;
  const tick = (now) => { times.push(now); now < end ? requestAnimationFrame(tick) : done(times); };
  requestAnimationFrame(tick);
})"""


def _scene_grid(client: httpx.Client, study_id: int, scene_id: int) -> dict[str, Any]:
    scenes = client.get(f"/api/studies/{study_id}/scenes").json()
    grid: dict[str, Any] = next(s["grid"] for s in scenes if s["id"] == scene_id)
    return grid


def _pointer_path(rng: random.Random, extent: dict[str, float]) -> list[tuple[float, float]]:
    """Places as a pointer passes them: 30 m from one to the next, and now and then elsewhere."""
    places: list[tuple[float, float]] = []
    for i in range(N_PLACES):
        if i % 25 == 0:
            x = rng.uniform(extent["left"] + 1500, extent["right"] - 1500)
            y = rng.uniform(extent["bottom"], extent["top"])
            step = rng.choice((-30.0, 30.0))
        x += step
        places.append((x, y))
    return places


def readout(served: Served, scene: DeliveredScene) -> Result:
    """All bands of the four dates along a pointer's path, as four panes ask for them."""
    rng = random.Random(5)
    with httpx.Client(base_url=served.url) as client:
        scenes = client.get(f"/api/studies/{served.study_id}/scenes").json()
        dates = [
            s["id"] for s in scenes if s["series"] is None and s["id"] != served.large_scene_id
        ]
        extent = _scene_grid(client, served.study_id, served.demo_scene_id)["extent"]
        places = _pointer_path(rng, extent)
        times = []
        for x, y in places:
            started = perf_counter()
            query: dict[str, Any] = {"x": x, "y": y, "scenes": dates[:4]}
            client.get(f"/api/studies/{served.study_id}/readout", params=query).raise_for_status()
            times.append(perf_counter() - started)
    ours = percentile_95(times[10:]) * 1000
    others = []
    for x, y in places[:40]:
        started = perf_counter()
        for _ in range(4):
            for band in scene.bands:
                with rasterio.open(Path(scene.folder) / band.file) as dataset:
                    list(dataset.sample([(x, y)]))
        others.append(perf_counter() - started)
    return Result("crosshair to four spectra, 95 of 100 below", ours,
                  percentile_95(others) * 1000, "rasterio's sample, no server", "ms",
                  "below 50 ms", ours < 50)  # fmt: skip


def feature_space(served: Served, large: DeliveredScene) -> Result:
    """Red and near infrared of the large scene, which nobody has asked for before."""
    order = {"x": f"{served.large_scene_id}:red", "y": f"{served.large_scene_id}:nir"}
    with httpx.Client(base_url=served.url, timeout=60) as client:
        started = perf_counter()
        answer = client.post(f"/api/studies/{served.study_id}/feature-space", json=order)
        ours = perf_counter() - started
    answer.raise_for_status()
    started = perf_counter()
    values = []
    for role in ("red", "nir"):
        band = next(b for b in large.bands if b.role == role)
        with rasterio.open(Path(large.folder) / band.file) as dataset:
            values.append(dataset.read(1, out_shape=(1024, 1024)).ravel())
    red, nir = values
    np.histogram2d(red, nir, bins=128)
    other = perf_counter() - started
    return Result("feature space of the large scene, first time", ours, other,
                  "rasterio decimated and numpy", "s", "below 1.5 s", ours < 1.5)  # fmt: skip


def cloud(served: Served) -> Result:
    """Six tiles of a pane with the pixels of a cloud that was just circled."""
    layer = f"x={served.demo_scene_id}:red&y={served.demo_scene_id}:nir"
    times = []
    with httpx.Client(base_url=served.url) as client:
        for i in range(8):
            corners = CLOUD.replace("0.5", f"0.5{i}")
            started = perf_counter()
            for tile in range(6):
                address = f"/api/studies/{served.study_id}/cloud-tiles/2/{tile % 2}/{tile // 2}.png"
                client.get(f"{address}?{layer}&cloud={corners}").raise_for_status()
            times.append(perf_counter() - started)
    ours = max(times[1:])
    return Result("circled cloud to six tiles, slowest of seven", ours, None, "", "s",
                  "below 0.4 s", ours < 0.4)  # fmt: skip


def restretch(served: Served) -> Result:
    """Six tiles of a pane after a limit has been dragged to where it never was."""
    base = f"/api/scenes/{served.demo_scene_id}/tiles/2"
    times = []
    with httpx.Client(base_url=served.url) as client:
        for i in range(20):
            limits = ",".join([f"0.0{i + 10}:0.3"] * 3)
            query = f"roles={COMPOSITE}&stretch=typed&limits={limits}"
            started = perf_counter()
            for tile in range(6):
                address = f"{base}/{tile % 2}/{tile // 2}.png?{query}"
                client.get(address).raise_for_status()
            times.append(perf_counter() - started)
    ours = percentile_95(times[2:]) * 1000
    return Result("moved limit to six new tiles, 95 of 100 below", ours, None, "", "ms",
                  "below 150 ms", ours < 150)  # fmt: skip


def viewers(served: Served) -> Result:
    """Forty clients at once, each with tiles of its own choice, on loopback."""
    with httpx.Client(base_url=served.url) as client:
        grid = _scene_grid(client, served.study_id, served.demo_scene_id)
    address = f"/api/scenes/{served.demo_scene_id}/tiles/{{z}}/{{y}}/{{x}}.png?roles={COMPOSITE}"

    def look(seed: int) -> list[float]:
        with httpx.Client(base_url=served.url, timeout=30) as viewer:
            return tile_seconds(viewer, address, random_tiles(grid, TILES_EACH, seed))

    with ThreadPoolExecutor(N_VIEWERS) as pool:
        times = [t for part in pool.map(look, range(N_VIEWERS)) for t in part]
    ours = percentile_95(times) * 1000
    what = f"imagery tile, {N_VIEWERS} viewers at once, 95 of 100 below"
    return Result(what, ours, None, "", "ms", "below 400 ms", ours < 400)


def panning(served: Served) -> Result:
    """Frames per second while four panes are dragged about for three seconds."""
    ours, _ = _four_panes(served, drag=True)
    return Result("four panes dragged, frames per second", ours, None, "", "/s",
                  "60, drawn without a graphics card", ours > 55)  # fmt: skip


def pointing(served: Served) -> list[Result]:
    """The same while the pointer only moves over a pane, and how busy the page is with that."""
    ours, busy = _four_panes(served, drag=False)
    return [
        Result("pointer over four panes, frames per second", ours, None, "", "/s",
               "60, drawn without a graphics card", ours > 55),
        Result("pointer over four panes, share of the time in scripts", 100 * busy, None, "", "%",
               "as little as can be", True),
    ]  # fmt: skip


def _four_panes(served: Served, *, drag: bool) -> tuple[float, float]:
    """Frames per second while the pointer goes in circles, and the share of the time in scripts."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"{served.url}/studies/{served.study_id}/scenes")
        page.get_by_role("button", name="Four panes").click()
        page.wait_for_timeout(REST_MS)
        pane = page.get_by_role("application").first.bounding_box()
        assert pane is not None
        x, y = pane["x"] + pane["width"] / 2, pane["y"] + pane["height"] / 2
        page.evaluate(f"() => {{ window.frames_ = ({COUNT_FRAMES})(); }}")
        tools = page.context.new_cdp_session(page)
        tools.send("Performance.enable")
        before, started = _script_seconds(tools), perf_counter()
        page.mouse.move(x, y)
        if drag:
            page.mouse.down()
        for i in range(N_MOVES):
            page.mouse.move(x + 60 * np.sin(i / 8), y + 40 * np.cos(i / 8))
            page.wait_for_timeout(25)
        page.mouse.up()
        busy = (_script_seconds(tools) - before) / (perf_counter() - started)
        times = np.diff(page.evaluate("() => window.frames_"))
        browser.close()
    return float(1000 / np.mean(times)), busy


def _script_seconds(tools: CDPSession) -> float:
    metrics = tools.send("Performance.getMetrics")["metrics"]
    return float(next(m["value"] for m in metrics if m["name"] == "ScriptDuration"))
