"""Put the generated demo files into the store, the way any delivered files would get there."""

import json
import shutil
from pathlib import Path
from typing import Any

from kitesort.core.delivery import METADATA_SUFFIX, read_delivery
from kitesort.core.delivery.inventory import take_inventory
from kitesort.core.delivery.recognise import recognise
from kitesort.demo.generate import PLANS, SEED, STUDY_NAME, generate_demo
from kitesort.store.database import transaction
from kitesort.store.edits import forget_edits
from kitesort.store.scenes import add_scene
from kitesort.store.scheme import create_class
from kitesort.store.sites import create_sites
from kitesort.store.studies import (
    add_points,
    create_study,
    list_studies,
    update_study,
)

SERIES = "Vegetation index 2024"
# "Muted" palette of Paul Tol, chosen by class so that neighbours differ; safe for colour-blind
# readers. Source: SRON technical note SRON/EPS/TN/09-002 (from memory).
COLOURS = {
    1: "#332288", 2: "#a39382", 3: "#44aa99", 4: "#999933", 5: "#77b255", 6: "#ddcc77",
    7: "#117733", 8: "#e6e0d4", 9: "#cc6677",
}  # fmt: skip


def ensure_demo_study(data_folder: Path, seed: int = SEED) -> bool:
    """Make the demo study if the store has no study yet; True when it was made."""
    if list_studies():
        return False
    folder = data_folder / "demo"
    if not folder.exists():
        making = data_folder / "demo.part"
        shutil.rmtree(making, ignore_errors=True)
        generate_demo(making, seed, say=lambda step: print(f"  {step} …", flush=True))
        making.rename(folder)
    install_study(folder)
    return True


def install_study(folder: Path) -> int:
    """Record a generated folder as a study, all or nothing; its id."""
    with transaction():
        study = create_study(STUDY_NAME)
        scene_ids = {}
        for plan in PLANS:
            stem = plan.taken.stem
            metadata = folder / "scenes" / stem / f"{stem}{METADATA_SUFFIX}"
            scene = add_scene(study.id, plan.taken.title, read_delivery(metadata))
            scene_ids[plan.taken.key] = scene.id
        class_ids = {
            c["code"]: create_class(
                study.id, c["name"], COLOURS[c["code"]], c["description"], c["code"]
            ).id
            for c in _load(folder / "class_scheme.json")["classes"]
        }
        features = _load(folder / "training_sites.json")["features"]
        create_sites(
            study.id,
            [
                (class_ids[f["properties"]["code"]], f["geometry"], f["properties"]["note"])
                for f in features
            ],
        )
        points = _load(folder / "reference_points.json")["features"]
        add_points(
            study.id, [(*f["geometry"]["coordinates"], f["properties"]["code"]) for f in points]
        )
        _add_series(study.id, folder / "series")
        forget_edits(study.id)
        update_study(study.id, view={"sceneId": scene_ids["summer"]})
    return study.id


def _add_series(study_id: int, folder: Path) -> None:
    """A year of index composites as one series of dates."""
    found = recognise(take_inventory(folder))
    for recognised in found.scenes:
        scene = recognised.scene
        title = f"Vegetation index, {scene.acquired:%-d %B %Y}"
        add_scene(study_id, title, scene.model_copy(update={"sensor": "16-day composite"}), SERIES)


def _load(path: Path) -> dict[str, Any]:
    loaded: dict[str, Any] = json.loads(path.read_text("utf-8"))
    return loaded
