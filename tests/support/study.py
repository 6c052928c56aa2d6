"""A study on the small scene, with a class, a site and reference points in each quarter."""

import shutil
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from kitesort.core.classify.operations.classify import SPEC as CLASSIFY
from kitesort.core.delivery import read_delivery
from kitesort.runs.make_map import MapTask
from kitesort.store.edits import forget_edits
from kitesort.store.scenes import add_scene
from kitesort.store.scheme import create_class
from kitesort.store.sites import create_sites
from kitesort.store.studies import add_points, create_study
from kitesort.study.training import make_training, map_recipe
from support.small_scene import COLOURS, GOOD_SITES, LEFT, NAMES, PIXEL, TOP, SmallScene

ROLES = ("blue", "red", "nir", "swir16")


@dataclass(frozen=True)
class SmallStudy:
    """Ids of what was made; classes and sites by class code."""

    id: int
    scene_id: int
    class_ids: dict[int, int]
    site_ids: dict[int, int]
    folder: Path


def make_small_study(folder: Path, scene: SmallScene, name: str = "Small study") -> SmallStudy:
    """On a copy of the scene's files, which the test may spoil."""
    shutil.copytree(scene.metadata.parent, folder)
    study = create_study(name)
    scene_row = add_scene(study.id, "June pass", read_delivery(folder / scene.metadata.name))
    class_ids = {
        code: create_class(study.id, name, COLOURS[code], "", code).id
        for code, name in NAMES.items()
    }
    drawn = [(class_ids[code], geometry, "") for code, geometry in GOOD_SITES.items()]
    sites = create_sites(study.id, drawn)
    site_ids = dict(zip(GOOD_SITES, (site.id for site in sites), strict=True))
    forget_edits(study.id)
    add_points(study.id, reference_points())
    return SmallStudy(study.id, scene_row.id, class_ids, site_ids, folder)


def reference_points() -> list[tuple[float, float, int]]:
    """Five points in each quarter, one of them told wrong; and one on fill."""
    points = []
    for code, (row, column) in {1: (5, 45), 2: (40, 110), 3: (90, 45), 4: (90, 110)}.items():
        for i in range(5):
            told = code % 4 + 1 if i == 0 else code
            points.append((*centre_of(row, column + 2 * i), told))
    return [*points, (*centre_of(50, 1), 3)]


def centre_of(row: int, column: int) -> tuple[float, float]:
    return LEFT + (column + 0.5) * PIXEL, TOP - (row + 0.5) * PIXEL


def map_order(s: SmallStudy) -> dict[str, Any]:
    """What a run needs that makes a class map of the study's sites as they are."""
    training = make_training(s.id, s.scene_id, ROLES)
    recipe = map_recipe(s.scene_id, CLASSIFY.id, training)
    return MapTask(recipe=recipe).model_dump(mode="json")
