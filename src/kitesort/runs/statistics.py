"""The statistics run: over every pixel of a scene."""

from pydantic import BaseModel

from kitesort.core.statistics import exact_statistics
from kitesort.runs.reporter import Reporter
from kitesort.store.database import transaction
from kitesort.store.rasters import working_scene
from kitesort.store.records import Run
from kitesort.store.runs import finish_run
from kitesort.store.scene_statistics import store_statistics

KIND = "statistics"


class StatisticsTask(BaseModel):
    scene_id: int


def count_exactly(run: Run) -> None:
    reporter = Reporter(run.id)
    scene_id = StatisticsTask.model_validate(run.task).scene_id
    found = exact_statistics(
        working_scene(scene_id), progress=reporter, is_cancelled=reporter.is_cancelled
    )
    with transaction():
        store_statistics(scene_id, found)
        said = f"Counted {found.n_valid:,} valid pixels of {found.n_pixels:,}."
        finish_run(run.id, [said], scene_id=scene_id)
