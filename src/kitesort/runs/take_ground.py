"""The run that brings in training sites of others."""

from pydantic import BaseModel

from kitesort.core.training.ground_file import GroundOptions
from kitesort.runs.reporter import watch_run
from kitesort.store.database import transaction
from kitesort.store.ground import WantedClass
from kitesort.store.records import Run
from kitesort.store.runs import finish_run
from kitesort.study.ground import GroundSource, prepare_ground

KIND = "take-ground"


class WantedTask(BaseModel):
    class_id: int | None
    name: str
    code: int | None
    colour: str | None


class GroundTask(BaseModel):
    """A kept file, what was said of it, and the class that each value stands for."""

    token: str
    name: str
    scene_id: int
    crs: str | None
    x: str | None
    y: str | None
    attribute: str | None
    wanted: dict[str, WantedTask]

    @property
    def source(self) -> GroundSource:
        options = GroundOptions(self.crs, self.x, self.y, self.attribute)
        return GroundSource(self.token, self.name, self.scene_id, options)


def bring_in_ground(run: Run) -> None:
    task = GroundTask.model_validate(run.task)
    wanted = {value: WantedClass(**one.model_dump()) for value, one in task.wanted.items()}
    taking = prepare_ground(run.study_id, task.source, wanted, watch_run(run.id))
    said = [
        f"{len(taking.sites):,} sites taken.",
        *(f"{n:,} {reason} not taken." for reason, n in taking.found.left_out.items()),
    ]
    with transaction():
        taking.put_in(run.study_id)
        finish_run(run.id, said)
