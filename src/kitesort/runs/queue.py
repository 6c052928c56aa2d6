"""The queue: runs are handed over by id, at most one waiting job per run."""

from collections.abc import Sequence

import procrastinate
from procrastinate.exceptions import AlreadyEnqueued
from procrastinate.psycopg_connector import PsycopgConnector
from procrastinate.sync_psycopg_connector import SyncPsycopgConnector
from pydantic import BaseModel

from kitesort.runs.perform import perform_run
from kitesort.store.database import db, transaction
from kitesort.store.records import Run
from kitesort.store.runs import create_run, fail_run

QUEUE = "kitesort"
TASK = "kitesort.run"


class RunQueue:
    """The side that hands runs over; safe to use from several threads."""

    def __init__(self, conninfo: str) -> None:
        self._app = procrastinate.App(connector=SyncPsycopgConnector(conninfo=conninfo))

    def open(self) -> "RunQueue":
        self._app.open()
        if not _has_schema():
            self._app.schema_manager.apply_schema()
        return self

    def close(self) -> None:
        self._app.close()

    def submit(self, study_id: int, title: str, kind: str, task: BaseModel) -> Run:
        """Record a run of a kind and queue it; ``task`` is all that it needs."""
        (run,) = self.submit_all(study_id, kind, [(title, task)])
        return run

    def submit_all(
        self, study_id: int, kind: str, tasks: Sequence[tuple[str, BaseModel]]
    ) -> list[Run]:
        """Runs of a kind, each with its title, in order: all of them, or none.

        Raises
        ------
        ConflictError : not all of them have room among those that wait.
        """
        with transaction():
            runs = [
                create_run(study_id, title, kind, task.model_dump(mode="json"))
                for title, task in tasks
            ]
        try:
            for run in runs:
                self.enqueue(run.id)
        except procrastinate.exceptions.ProcrastinateException:
            for run in runs:
                fail_run(run.id, "The run could not be queued. Start it again.")
            raise
        return runs

    def enqueue(self, run_id: int) -> None:
        job = self._app.configure_task(TASK, queue=QUEUE, queueing_lock=f"run-{run_id}")
        try:
            job.defer(run_id=run_id)
        except AlreadyEnqueued:
            return


def make_worker_app(conninfo: str) -> procrastinate.App:
    """The side that does the work."""
    app = procrastinate.App(connector=PsycopgConnector(conninfo=conninfo))
    app.task(name=TASK, queue=QUEUE)(perform_run)
    return app


def _has_schema() -> bool:
    with transaction():
        return bool(db.execute_sql("SELECT to_regclass('procrastinate_jobs')").fetchone()[0])
