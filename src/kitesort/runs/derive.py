"""The run that derives layers for which every pixel has to be looked at first."""

import time
from typing import Any

from pydantic import BaseModel

from kitesort.runs.reporter import watch_run
from kitesort.store.database import transaction
from kitesort.store.records import Run
from kitesort.store.runs import finish_run
from kitesort.store.scenes import derive_scene
from kitesort.study.derive import prepare_derived

KIND = "derive"


class DeriveTask(BaseModel):
    scene_id: int
    operation: str
    settings: dict[str, Any]
    title: str | None


def derive_layers(run: Run) -> None:
    started = time.monotonic()
    task = DeriveTask.model_validate(run.task)
    watch = watch_run(run.id)
    recipe = prepare_derived(run.study_id, task.scene_id, task.operation, task.settings, watch)
    with transaction():
        scene = derive_scene(run.study_id, recipe, task.title)
        seconds = time.monotonic() - started
        finish_run(run.id, [f"Made “{scene.title}” after {seconds:.1f} s."], scene.id)
