"""The statistics run: over every pixel of a scene."""

from pydantic import BaseModel

from kitesort.core.statistics import exact_statistics
from kitesort.runs.reporter import watch_run
from kitesort.store.database import transaction
from kitesort.store.records import Run
from kitesort.store.runs import finish_run
from kitesort.study.rasters import open_layer
from kitesort.study.scene_statistics import remember_statistics

KIND = "statistics"


class StatisticsTask(BaseModel):
    scene_id: int


def count_exactly(run: Run) -> None:
    scene_id = StatisticsTask.model_validate(run.task).scene_id
    found = exact_statistics(open_layer(scene_id, "work"), watch=watch_run(run.id))
    with transaction():
        remember_statistics(scene_id, found)
        said = f"Counted {found.n_valid:,} valid pixels of {found.n_pixels:,}."
        finish_run(run.id, [said], scene_id)
