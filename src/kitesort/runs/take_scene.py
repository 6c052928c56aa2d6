"""The take run: fetch a catalogue's scene, recognise it, and put it into the study."""

import json
from pathlib import Path
from typing import Any

from pydantic import BaseModel

from kitesort.catalogue.client import fetch_file, get_item, wanted_assets
from kitesort.core.delivery.archive import remove_quietly
from kitesort.core.delivery.recognise import recognise
from kitesort.core.delivery.scene import require_complete
from kitesort.core.engine import Progress
from kitesort.core.errors import CatalogueError
from kitesort.runs.reporter import Reporter
from kitesort.store.database import transaction
from kitesort.store.deliveries import create_delivery, inventory_of
from kitesort.store.layers import free_title
from kitesort.store.records import Delivery, Run
from kitesort.store.runs import finish_run
from kitesort.store.scenes import add_scene

KIND = "take-scene"
USUAL_FILE_BYTES = 50 * 2**20


class TakeTask(BaseModel):
    catalogue: str
    collection: str
    item_id: str
    title: str


def take_scene(run: Run) -> None:
    task = TakeTask.model_validate(run.task)
    item = get_item(task.catalogue, task.collection, task.item_id)
    assets = wanted_assets(item)
    delivery = create_delivery(run.study_id, task.title, "catalogue")
    try:
        _fetch_all(delivery, item, assets, Reporter(run.id))
        found = recognise(inventory_of(delivery))
        if not found.scenes:
            raise CatalogueError(
                " ".join(found.problems) or "The catalogue's files could not be understood."
            )
        scene = found.scenes[0].scene
        require_complete(scene)
        with transaction():
            row = add_scene(run.study_id, free_title(run.study_id, task.title), scene)
            finish_run(run.id, [f"Taken as “{row.title}”."], row.id)
    except BaseException:
        remove_quietly(Path(delivery.folder))
        raise


def _fetch_all(
    delivery: Delivery, item: dict[str, Any], assets: dict[str, str], reporter: Reporter
) -> None:
    """Every file, then the item itself with addresses that point beside it."""
    folder = Path(delivery.folder)
    for n, (url, name) in enumerate(assets.items()):
        fetched = 0

        def advance(n_bytes: int, n: int = n) -> None:
            nonlocal fetched
            fetched += n_bytes
            part = min(1.0, fetched / USUAL_FILE_BYTES)  # sizes are not told beforehand
            reporter(Progress((n + part) / len(assets), None))

        fetch_file(url, folder / name, advance, reporter.is_cancelled)
    kept = {key: asset | {"href": f"./{assets[asset['href']]}"}
            for key, asset in item["assets"].items() if asset.get("href") in assets}  # fmt: skip
    text = json.dumps(item | {"assets": kept, "links": []}, indent=1)
    (folder / "item.json").write_text(text, "utf-8")
