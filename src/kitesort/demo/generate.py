"""Make the whole demo study as files in a folder: same seed, same pixels."""

import json
import shutil
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from kitesort.demo import aids
from kitesort.demo.catalogue import write_catalogue
from kitesort.demo.cover import WATER, Codes
from kitesort.demo.delivery import Pass, write_pass
from kitesort.demo.samples import Mask, coarse_truth, make_points, make_sites
from kitesort.demo.scene import (
    GroundReflectance,
    Landscape,
    Moment,
    make_landscape,
    make_reflectance,
)
from kitesort.demo.sensor import (
    BANDS,
    Sky,
    make_sky,
    quality_flags,
    sense_band,
    slanted_fill,
)

SEED = 20240718
STUDY_NAME = "Ulverhythe Levels"
UNUSABLE_BITS = 0b10111  # fill, cloud, cloud shadow, saturated


@dataclass(frozen=True)
class PassPlan:
    """A pass, the moment it sees, its sky, and by how many fine pixels it is misplaced."""

    taken: Pass
    moment: Moment
    haze: float
    cloud_share: float
    cloud_centre: tuple[float, float] | None
    edge: tuple[float, float]
    shift_px: float = 0.0


# fmt: off
PLANS = (
    PassPlan(Pass("earlier", "Two years earlier", "2022-07-21T11:02:40Z", 60.4),
             Moment("summer", 0.60, False, 60.4), 0.7, 0.012, (0.80, 0.85), (90, 0.10), 0.8),
    PassPlan(Pass("spring", "Spring pass", "2024-05-09T11:03:15Z", 53.1),
             Moment("spring", 0.75, True, 53.1), 0.6, 0.045, (0.66, 0.22), (70, 0.12)),
    PassPlan(Pass("summer", "Summer pass", "2024-07-18T11:04:10Z", 61.0),
             Moment("summer", 0.45, True, 61.0), 0.35, 0.012, (0.93, 0.12), (120, 0.16)),
    PassPlan(Pass("autumn", "Autumn pass", "2024-09-26T11:05:02Z", 36.2),
             Moment("autumn", 0.95, True, 36.2), 1.6, 0.008, (0.35, 0.93), (60, 0.14)),
)
# Passes that are not in the study yet, but in the catalogue.
OFFERED = (
    PassPlan(Pass("drought", "Early summer pass", "2023-06-17T11:03:28Z", 61.9),
             Moment("summer", 0.70, True, 61.9), 0.5, 0.02, (0.30, 0.25), (80, 0.14)),
    PassPlan(Pass("cloudy", "Spring pass under cloud", "2024-04-14T11:02:51Z", 46.3),
             Moment("spring", 0.55, True, 46.3), 0.9, 0.42, None, (100, 0.12)),
    PassPlan(Pass("late", "Late summer pass", "2024-08-21T11:04:36Z", 52.4),
             Moment("summer", 0.85, True, 52.4), 1.1, 0.03, (0.20, 0.75), (110, 0.15)),
)
# fmt: on
COVERS = (
    (1, "Tidal water", "Sea, channels and creeks that hold water at the time of the pass"),
    (2, "Mudflat", "Bare wet mud between the tides"),
    (3, "Salt marsh", "Low salt-tolerant plants on the upper flat"),
    (4, "Reedbed", "Tall reeds along the upper creeks"),
    (5, "Pasture", "Grass, grazed or cut"),
    (6, "Barley", "Barley, from green crop to stubble"),
    (7, "Conifer wood", "Evergreen plantation on the higher ground"),
    (8, "Shingle", "Bare pebbles: the bar off the coast and beaches"),
    (9, "Built-up", "Buildings, yards and roads"),
)


@dataclass(frozen=True)
class DemoStudy:
    """Where everything was written, and the truth at 10 m of the summer pass."""

    folder: Path
    metadata: dict[str, Path]
    truth: Codes


def generate_demo(
    folder: Path, seed: int = SEED, say: Callable[[str], None] = lambda _: None
) -> DemoStudy:
    """Write scenes, sites, points, class scheme, photo, series and boundary."""
    folder.mkdir(parents=True, exist_ok=True)
    say("Shaping the ground")
    land = make_landscape(seed)
    metadata: dict[str, Path] = {}
    say("Taking four scenes")
    with ThreadPoolExecutor(2) as pool:
        views = dict(
            pool.map(
                lambda plan: (plan.taken.key, _take_scene(folder / "scenes", land, plan, seed)),
                PLANS,
            )
        )
    for key, view in views.items():
        metadata[key] = view.metadata
    say("Walking the ground for sites and reference points")
    summer = views["summer"]
    truth = coarse_truth(summer.ground.cover)
    _write_samples(folder, truth, summer, seed)
    say("Adding the photo, a year of index composites and the boundary")
    aids.write_photo(folder / "reference_photo.tif", summer.ground, seed)
    aids.write_series(folder / "series", summer.ground, seed, 2024)
    aids.write_boundary(folder / "boundary.geojson")
    return DemoStudy(folder, metadata, truth)


def generate_catalogue(demo_folder: Path, seed: int = SEED) -> Path:
    """Fill ``catalogue`` beside the demo's scenes: those and more; complete or not there at all."""
    folder, making = demo_folder / "catalogue", demo_folder / "catalogue.part"
    if folder.exists():
        return folder
    shutil.rmtree(making, ignore_errors=True)
    land = make_landscape(seed)
    with ThreadPoolExecutor(2) as pool:
        list(pool.map(lambda p: _take_scene(making / "deliveries", land, p, seed), OFFERED))
    passes = [(p.taken, demo_folder / "scenes" / p.taken.stem) for p in PLANS]
    passes += [(p.taken, making / "deliveries" / p.taken.stem) for p in OFFERED]
    write_catalogue(making, passes)
    making.rename(folder)
    return folder


@dataclass(frozen=True)
class _View:
    metadata: Path
    ground: GroundReflectance
    clear: Mask
    imaged: Mask


def _take_scene(folder: Path, land: Landscape, plan: PassPlan, seed: int) -> _View:
    ground = make_reflectance(land, plan.moment)
    sky: Sky = make_sky(
        np.random.default_rng([seed, sum(plan.taken.key.encode())]),
        plan.haze, plan.cloud_share, plan.cloud_centre,
    )  # fmt: skip
    fill = slanted_fill(*plan.edge)
    noise_seed = seed + int(plan.taken.acquired[5:7])
    bands = [sense_band(ground, i, sky, fill, plan.shift_px, noise_seed) for i in range(len(BANDS))]
    flags = quality_flags(sky, fill, ground.cover == WATER)
    path = write_pass(folder / plan.taken.stem, plan.taken, bands, flags)
    return _View(path, ground, (flags & UNUSABLE_BITS) == 0, (flags & 1) == 0)


def _write_samples(folder: Path, truth: Codes, summer: _View, seed: int) -> None:
    sites = make_sites(truth, summer.clear, seed)
    points = make_points(truth, summer.imaged, sites, seed)
    scheme = [{"code": c, "name": name, "description": text} for c, name, text in COVERS]
    _write_json(folder / "class_scheme.json", {"classes": scheme})
    _write_json(folder / "training_sites.json", {"type": "FeatureCollection", "features": sites})
    _write_json(folder / "reference_points.json", {"type": "FeatureCollection", "features": points})


def _write_json(path: Path, data: dict[str, Any]) -> None:
    path.write_text(json.dumps(data, indent=1), "utf-8")
