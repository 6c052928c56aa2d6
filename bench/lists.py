"""Maps by the dozen and reference points by the thousand, over HTTP."""

from collections.abc import Iterator

import httpx
import numpy as np

from bench.desk import Desk
from bench.result import Result, timed
from bench.server import Served
from bench.sizes import size
from kitesort.core.delivery import DeliveredScene, open_delivery
from kitesort.store.database import db, transaction
from kitesort.store.studies import add_points

N_POINTS = size(10_000, 100)
N_MAPS = size(80, 5)
ROLES = ["red", "nir"]


def accuracy(served: Served, large: DeliveredScene) -> Iterator[Result]:
    """Reference points all over a kept map, for the first time and again."""
    grid = open_delivery(large).grid
    rng = np.random.default_rng(0)
    x, y = grid.transform @ rng.uniform((0, 0), (grid.width, grid.height), (N_POINTS, 2)).T
    with httpx.Client(base_url=served.url, timeout=900) as client:
        desk = Desk(client, served, served.large_scene_id)
        codes = rng.choice([c["code"] for c in desk.classes], N_POINTS)
        layer_id = desk.keep_map(ROLES)
        add_points(served.study_id, list(zip(x.tolist(), y.tolist(), codes.tolist(), strict=True)))

        def ask() -> None:
            client.get(f"/api/maps/{layer_id}/accuracy").raise_for_status()

        times = {"for the first time": timed(ask), "again": timed(ask)}
    for when, seconds in times.items():
        yield Result(f"accuracy from {N_POINTS:,} points on a kept map of {grid.width} × "
                     f"{grid.height}, {when}", seconds, None, "", "s", "below 1 s",
                     seconds < 1)  # fmt: skip


def layer_names(served: Served) -> Result:
    """The names that formulas call layers by, beside dozens of maps."""
    with httpx.Client(base_url=served.url, timeout=900) as client:
        desk = Desk(client, served, served.demo_scene_id)
        _copy_map(desk.keep_map(ROLES), N_MAPS - 1)
        seconds = desk.seconds("layer-names")
    return Result(f"names of layers, with {N_MAPS} maps", seconds, None, "", "s", "below 0.5 s",
                  seconds < 0.5)  # fmt: skip


def _copy_map(layer_id: int, n: int) -> None:
    """More rows of the same recipe: what a list costs does not hang on what made its maps."""
    with transaction():
        db.execute_sql(
            "INSERT INTO layer (study_id, kind, title, recipe, told, areas, kept_path)"
            " SELECT study_id, kind, title || ' ' || k, recipe, told, areas, kept_path"
            " FROM layer, generate_series(1, %s) AS k WHERE id = %s",
            (n, layer_id),
        )
