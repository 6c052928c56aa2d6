"""The keep run: write a scene's values to disk."""

import time

from pydantic import BaseModel

from kitesort.core.raster.scene_file import write_scene
from kitesort.runs.reporter import Reporter
from kitesort.store.database import transaction
from kitesort.store.files import layer_path, remove_kept
from kitesort.store.rasters import usable_scene
from kitesort.store.records import Run
from kitesort.store.runs import finish_run
from kitesort.store.scenes import get_scene, set_kept

KIND = "keep-scene"


class KeepTask(BaseModel):
    scene_id: int


def keep_scene(run: Run) -> None:
    started = time.monotonic()
    reporter = Reporter(run.id)
    scene = get_scene(KeepTask.model_validate(run.task).scene_id)
    name = f"scene-{scene.id}-run-{run.id}.tif"
    tags = {"recipe": scene.recipe.portable, "recipe_in_words": scene.recipe.sentence}
    if scene.acquired:
        tags["acquired"] = scene.acquired.isoformat()
    kept = write_scene(
        usable_scene(scene.id),
        layer_path(name),
        tags=tags,
        progress=reporter,
        is_cancelled=reporter.is_cancelled,
    )
    share = 100 * kept.n_valid / kept.n_pixels
    with transaction():
        before = set_kept(scene.id, name)
        seconds = time.monotonic() - started
        said = f"Kept “{scene.title}” after {seconds:.1f} s; {share:.1f} % of its pixels usable."
        finish_run(run.id, [said], scene_id=scene.id)
    remove_kept(before)
