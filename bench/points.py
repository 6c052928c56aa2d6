"""Thousands of labelled points and polygons: from a file to a kept map, and the lists of them."""

from collections.abc import Iterator
from pathlib import Path
from time import perf_counter

import httpx
import numpy as np
import numpy.typing as npt
import rasterio
from rasterio.features import sieve
from rasterio.windows import Window
from sklearn.neighbors import NearestCentroid

from bench.classify import demo_samples
from bench.desk import Desk
from bench.result import Result
from bench.scene import ROLES
from bench.server import Served
from bench.sizes import size
from kitesort.core.delivery import DeliveredScene, open_delivery

FEW, MANY = size((5_000, 50_000), (60, 200))
N_POLYGONS = size(20_000, 100)
N_BANDS = 36
BORDER = 8  # pixels of the demo scene, which has a slanted edge without data


def likely_classes(demo: DeliveredScene, sites: Path) -> npt.NDArray[np.uint8]:
    """What each pixel of the demo scene most likely is (rows, cols), without speckles; 0: no
    data."""
    samples, raster = demo_samples(demo, sites), open_delivery(demo)
    block = raster.read(raster.grid.whole, ROLES)
    model = NearestCentroid().fit(samples.values, samples.codes)
    codes = np.zeros(block.valid.shape, np.uint8)
    codes[block.valid] = model.predict(block.values[:, block.valid].T)
    return np.asarray(sieve(codes, 12), np.uint8) * block.valid


def point_file(demo: DeliveredScene, sites: Path, folder: Path, n: int) -> Path:
    """A table of n points, each in a pixel of its own."""
    path = folder / "points" / f"{n}_points.csv"
    if path.exists():
        return path
    codes, grid = likely_classes(demo, sites), open_delivery(demo).grid
    places = np.argwhere(codes > 0)
    rng = np.random.default_rng(n)
    rows, cols = places[rng.choice(len(places), n, replace=False)].T
    x, y = grid.transform @ (cols + rng.uniform(0.1, 0.9, n), rows + rng.uniform(0.1, 0.9, n))
    lines = [f"{a:.2f},{b:.2f},{c}" for a, b, c in zip(x, y, codes[rows, cols], strict=True)]
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_text("\n".join(["x,y,code", *lines]) + "\n")
    return path


def polygon_file(demo: DeliveredScene, sites: Path, folder: Path, n: int) -> Path:
    """A GeoJSON of n slanted squares of 30 m."""
    path = folder / "points" / f"{n}_polygons.geojson"
    if path.exists():
        return path
    codes, grid = likely_classes(demo, sites), open_delivery(demo).grid
    places = np.argwhere(codes[BORDER:-BORDER, BORDER:-BORDER] > 0) + BORDER
    rows, cols = places[np.random.default_rng(n).choice(len(places), n)].T
    corners = np.array([(0.2, 0), (3, 0.3), (2.8, 3), (0, 2.7), (0.2, 0)])
    x, y = grid.transform @ (cols[:, None] + corners[:, 0], rows[:, None] + corners[:, 1])
    rings = np.round(np.stack([x, y], axis=2), 2).tolist()
    features = ",".join(
        f'{{"type":"Feature","properties":{{"code":{code}}},'
        f'"geometry":{{"type":"Polygon","coordinates":[{ring}]}}}}'
        for code, ring in zip(codes[rows, cols], rings, strict=True)
    )
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_text(
        '{"type":"FeatureCollection","crs":{"type":"name","properties":{"name":"'
        f'{grid.crs}"}}}},"features":[{features}]}}'
    )
    return path


def add_wide_scene(served: Served, client: httpx.Client, demo: DeliveredScene, folder: Path) -> int:
    """A scene of 36 bands as large as the demo's, brought in from one file; its id."""
    path = folder / "wide" / "wide.tif"
    if not path.exists():
        _write_wide(demo, path)
    base = f"/api/studies/{served.study_id}"
    body = {"path": str(path.parent)}
    answer = client.post(f"{base}/folder-deliveries", json=body).raise_for_status()
    delivery = answer.json()["id"]
    (found,) = client.get(f"/api/deliveries/{delivery}/findings").json()["scenes"]
    bands = [{"position": b["position"], "role": f"band{i:02}", "wavelength_um": None,
              "gain": 2e-5, "offset": -0.05, "used": True}
             for i, b in enumerate(found["bands"])]  # fmt: skip
    order = {k: found[k] for k in ("position", "sensor", "acquired", "fill_value")}
    order |= {"title": f"Wide {delivery}", "bands": bands}
    answer = client.post(f"/api/deliveries/{delivery}/scenes", json={"scenes": [order]})
    return int(answer.raise_for_status().json()[0]["id"])


def _write_wide(demo: DeliveredScene, path: Path) -> None:
    """The demo's bands again and again, each time with other noise."""
    path.parent.mkdir(parents=True, exist_ok=True)
    rng, grid = np.random.default_rng(0), open_delivery(demo).grid
    fine = [band for band in demo.bands if band.pixel_size == 10]
    with rasterio.open(
        path, "w", driver="GTiff", height=grid.height, width=grid.width, count=N_BANDS,
        dtype="uint16", crs=grid.crs, transform=grid.transform, nodata=0, tiled=True,
        blockxsize=256, blockysize=256, compress="deflate",
    ) as out:  # fmt: skip
        whole = Window(0, 0, grid.width, grid.height)
        for i in range(N_BANDS):
            with rasterio.open(Path(demo.folder) / fine[i % len(fine)].file) as source:
                numbers = source.read(1, window=whole).astype(np.int32)
            noisy = (numbers + rng.integers(-300, 300, numbers.shape)).clip(1, 65_000)
            out.write(np.where(numbers > 0, noisy, 0).astype(np.uint16), i + 1)


def points_to_map(served: Served, demo: DeliveredScene, sites: Path, folder: Path,
                  n_bands: int) -> Iterator[Result]:  # fmt: skip
    """From a file with points to a map that is kept, beside the sites of the demo study."""
    wanted = {FEW: 5.0, MANY: 20.0}
    with httpx.Client(base_url=served.url, timeout=900) as client:
        if n_bands == N_BANDS:
            scene_id, roles = add_wide_scene(served, client, demo, folder), []
        else:
            scene_id, roles = served.demo_scene_id, list(ROLES[:n_bands])
        desk = Desk(client, served, scene_id)
        if not roles:
            roles = [f"band{i:02}" for i in range(N_BANDS)]
        for n, limit in wanted.items():
            path = point_file(demo, sites, folder, n)
            crs = open_delivery(demo).grid.crs
            started = perf_counter()
            token = desk.keep_file(path)
            desk.take(path, token, crs, desk.look_at(path, token, crs))
            times = {"brought in": perf_counter() - started}
            times["listed"] = desk.seconds("sites")
            started = perf_counter()
            state = desk.training(roles=",".join(roles))
            times["training state"] = perf_counter() - started
            started = perf_counter()
            desk.keep_map(roles)
            times["kept map, from the order on"] = perf_counter() - started
            if sum(c["n_pixels"] for c in state["classes"]) < n:
                raise RuntimeError(f"not all points train: {state['problem']}")
            desk.undo()
            for what, seconds in times.items():
                is_map = what.startswith("kept")
                yield Result(f"{n:,} points, {n_bands} bands: {what}", seconds, None, "", "s",
                             f"below {limit:g} s" if is_map else "",
                             not is_map or seconds < limit)  # fmt: skip


def polygons_in(served: Served, demo: DeliveredScene, sites: Path, folder: Path
                ) -> Iterator[Result]:  # fmt: skip
    """A file of polygons looked at and taken, and what lists and acts over them cost."""
    path = polygon_file(demo, sites, folder, N_POLYGONS)
    with httpx.Client(base_url=served.url, timeout=900) as client:
        desk = Desk(client, served, served.demo_scene_id)
        token = desk.keep_file(path)
        started = perf_counter()
        found = desk.look_at(path, token, None)
        looked = perf_counter() - started
        started = perf_counter()
        desk.take(path, token, None, found)
        taken = perf_counter() - started
        listed = desk.seconds("sites")
        again = desk.seconds("sites")
        started = perf_counter()
        desk.post("sites-aside", {"share": 0.3, "seed": 1})
        aside = perf_counter() - started
        desk.undo()
        judged = desk.seconds("judgement")
        desk.undo()
    for what, seconds, limit in (
        ("looked at", looked, 5), ("taken", taken, 20), ("listed for the first time", listed, 10),
        ("listed again", again, 2), ("a third set aside", aside, 5),
        ("judged, with advice", judged, 20),
    ):  # fmt: skip
        yield Result(f"{N_POLYGONS:,} polygons, {what}", seconds, None, "", "s",
                     f"below {limit} s", seconds < limit)  # fmt: skip
