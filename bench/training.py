"""Training over HTTP, as a browser asks for it: a thousand sites, and a slow method's live map."""

import json
import random
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from time import perf_counter, sleep
from typing import Any
from uuid import uuid4

import httpx

from bench.result import Result, percentile_95
from bench.server import Served
from bench.sizes import size

N_SITES, N_CLASSES, N_EDITS, N_FORESTS = size((1_000, 20, 30, 24), (80, 12, 4, 2))
VIEW = [(2, row, column) for row in range(2) for column in range(3)]


class Desk:
    """Somebody who draws squares of 40 to 120 m all over the demo scene."""

    def __init__(self, client: httpx.Client, served: Served) -> None:
        self.client, self.base = client, f"/api/studies/{served.study_id}"
        self.scene: dict[str, Any] = {"scene_id": served.demo_scene_id}
        self.rng = random.Random(1)
        self.classes = [one["id"] for one in self.get("classes")]
        (self.extent,) = (
            s["grid"]["extent"] for s in self.get("scenes") if s["id"] == served.demo_scene_id
        )

    def get(self, what: str, **query: Any) -> Any:
        found = self.client.get(f"{self.base}/{what}", params=self.scene | query)
        found.raise_for_status()
        return found.json()

    def add_classes(self, n: int) -> None:
        for k in range(len(self.classes), n):
            told = {"name": f"Cover {k}", "colour": f"#{9 * k:02x}5588", "description": ""}
            made = self.client.post(f"{self.base}/classes", json=told).raise_for_status()
            self.classes.append(made.json()["id"])

    def draw(self) -> None:
        e, side = self.extent, self.rng.uniform(40, 120)
        x = self.rng.uniform(e["left"] + 200, e["right"] - 400)
        y = self.rng.uniform(e["bottom"] + 400, e["top"] - 200)
        ring = [[x, y], [x + side, y], [x + side, y - side], [x, y - side], [x, y]]
        told = {
            "class_id": self.rng.choice(self.classes),
            "geometry": {"type": "Polygon", "coordinates": [ring]},
            "key": str(uuid4()),
        }
        self.client.post(f"{self.base}/sites", params=self.scene, json=told).raise_for_status()

    def trained(self, **method: str) -> str:
        """The version of the live map, once the method has been trained."""
        while True:
            live = self.get("training", **method)["live"]
            if not live["pending"]:
                return str(live["version"])
            sleep(0.02)

    def look(self, pool: ThreadPoolExecutor, version: str, **method: str) -> list[float]:
        """Seconds for each of six tiles that are asked for at once."""

        def fetch(place: tuple[int, int, int]) -> float:
            started = perf_counter()
            level, row, column = place
            address = f"{self.base}/live/{version}/{level}/{row}/{column}.png"
            self.client.get(address, params=self.scene | method).raise_for_status()
            return perf_counter() - started

        return list(pool.map(fetch, VIEW))


def advice(served: Served) -> Iterator[Result]:
    """Ladder and advice are asked for at once, the tiles when the ladder is there."""
    ladder, tiles, told = [], [], []
    with httpx.Client(base_url=served.url, timeout=60) as client, ThreadPoolExecutor(8) as pool:
        desk = Desk(client, served)
        desk.add_classes(N_CLASSES)
        for _ in range(N_SITES - len(desk.get("sites"))):
            desk.draw()
        for i in range(N_EDITS):
            started = perf_counter()
            desk.draw()
            judged = pool.submit(desk.get, "judgement")
            version = desk.trained()
            ladder.append(perf_counter() - started)
            desk.look(pool, version)
            tiles.append(perf_counter() - started)
            judged.result()
            told.append(perf_counter() - started)
            if i < 2:  # what is read for the first time
                ladder, tiles, told = [], [], []
    for what, times in (("ladder", ladder), ("six live tiles", tiles), ("advice", told)):
        reached = percentile_95(times)
        yield Result(f"from a drawn site to the {what}, {N_SITES} sites in {N_CLASSES} classes, "
                     "95 of 100 below", reached, None, "", "s", "below 0.4 s",
                     reached < 0.4)  # fmt: skip


def live_forest(served: Served) -> Iterator[Result]:
    """Tiles of a forest trained anew after each edit: one after the other, as other tiles are
    measured here, and all six of a pane at once."""
    method = {"method": json.dumps({"id": "random-forest", "settings": {}, "seed": 0})}
    times: dict[int, list[float]] = {1: [], len(VIEW): []}
    with httpx.Client(base_url=served.url, timeout=60) as client:
        desk = Desk(client, served)
        for i in range(N_FORESTS):
            desk.draw()
            n_at_once = list(times)[i % 2]
            with ThreadPoolExecutor(n_at_once) as pool:
                times[n_at_once] += desk.look(pool, desk.trained(**method), **method)
    for n_at_once, found in times.items():
        reached = percentile_95(found)
        yield Result(f"live tile of a forest after an edit, {n_at_once} at once, 95 of 100 below",
                     reached, None, "", "s", "below 0.35 s", reached < 0.35)  # fmt: skip
