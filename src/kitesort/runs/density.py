"""The run that counts a feature space over every pixel."""

from pydantic import BaseModel

from kitesort.core.display.feature_space import Axis
from kitesort.runs.reporter import watch_run
from kitesort.store.records import Run
from kitesort.store.runs import finish_run
from kitesort.study.plane import PlaneLayers, count_density

KIND = "density"


class DensityTask(BaseModel):
    x_scene: int
    x_role: str
    y_scene: int
    y_role: str
    x: tuple[float, float]
    y: tuple[float, float]


def count_plane(run: Run) -> None:
    task = DensityTask.model_validate(run.task)
    layers = PlaneLayers(task.x_scene, task.x_role, task.y_scene, task.y_role)
    found = count_density(layers, Axis(*task.x), Axis(*task.y), watch_run(run.id))
    finish_run(run.id, [f"Counted {found.n_valid:,} valid pixels."], task.x_scene)
