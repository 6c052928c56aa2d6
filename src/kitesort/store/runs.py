"""Runs as rows: state, percentage, log, and the wish to cancel."""

from datetime import UTC, datetime
from typing import Any

from peewee import fn

from kitesort.core.errors import CancelledError, ConflictError, NotFoundError
from kitesort.store.database import transaction
from kitesort.store.models import RunRow
from kitesort.store.news import announce
from kitesort.store.records import Run
from kitesort.store.studies import fetch

UNFINISHED = ("waiting", "running")
MAX_ATTEMPTS = 3
MOST_WAITING = 100
BRIEF = [field for field in RunRow._meta.sorted_fields if field.name not in ("task", "brief")] + [
    fn.COALESCE(RunRow.brief, RunRow.task).alias("task")
]
ANNOUNCED = (
    RunRow.study_id,
    RunRow.state,
    RunRow.percent,
    RunRow.seconds_left,
    RunRow.cancel_requested,
    fn.jsonb_array_length(RunRow.rows).alias("n_rows"),
)


def create_run(study_id: int, title: str, kind: str, task: dict[str, Any]) -> Run:
    """Record a run that waits; ``task`` is all that it needs, as data.

    Raises
    ------
    ConflictError : so many are waiting that one more would be of no use to anybody.
    """
    with transaction():
        if RunRow.select().where(RunRow.state == "waiting").count() >= MOST_WAITING:
            raise ConflictError(
                f"{MOST_WAITING} runs are waiting for their turn already. Wait until some are "
                "done, or cancel those that are not needed."
            )
        row = RunRow.create(
            study_id=study_id, title=title, kind=kind, task=task, brief=without_sites(task),
            log=["Waiting for its turn."],
        )  # fmt: skip
        _change(row.id, state="waiting")
        return get_run(row.id)


def without_sites(task: Any) -> Any:
    """The same data without lists of training sites, at any depth."""
    if isinstance(task, dict):
        return {key: without_sites(one) for key, one in task.items() if key != "sites"}
    return [without_sites(one) for one in task] if isinstance(task, list | tuple) else task


def get_run(run_id: int) -> Run:
    """Raises NotFoundError."""
    with transaction():
        row = RunRow.select(*BRIEF).where(RunRow.id == run_id).get_or_none()
    if row is None:
        raise NotFoundError("The run is not there any more. Reload to see what is.")
    return Run.model_validate(row)


def list_runs(study_id: int, n_ended: int = 20) -> list[Run]:
    """All that wait or run, and the newest of those that have ended; newest first."""
    with transaction():
        rows = RunRow.select(*BRIEF).where(RunRow.study_id == study_id).order_by(RunRow.id.desc())
        open_ones = list(rows.where(RunRow.state.in_(UNFINISHED)))
        ended = list(rows.where(RunRow.state.not_in(UNFINISHED)).limit(n_ended))
        found = sorted([*open_ones, *ended], key=lambda row: row.id, reverse=True)
        return [Run.model_validate(row) for row in found]


def start_run(run_id: int) -> Run | None:
    """Mark a run as running; None when it was cancelled or finished in the meantime."""
    with transaction():
        run = get_run(run_id)
        if run.state not in UNFINISHED:
            return None
        _change(
            run_id, state="running", percent=0, attempts=run.attempts + 1,
            log=[*run.log, "Started." if run.attempts == 0 else "Started again."],
        )  # fmt: skip
        return fetch(RunRow, Run, run_id, "The run")


def report_progress(run_id: int, percent: float, seconds_left: float | None) -> bool:
    """Store how far a run is; answers whether it shall stop."""
    with transaction():
        return _change(run_id, percent=percent, seconds_left=seconds_left)


def shall_stop(run_id: int) -> bool:
    """Whether somebody wishes to cancel a run."""
    with transaction():
        return bool(RunRow.select().where(RunRow.id == run_id, RunRow.cancel_requested).exists())


def report_rows(run_id: int, rows: list[dict[str, Any]]) -> None:
    """Store what a run has told so far, of those that tell a table."""
    with transaction():
        _change(run_id, rows=rows)


def finish_run(run_id: int, log: list[str], layer_id: int | None = None) -> None:
    """``layer_id``: what was made, or looked at. Within the transaction that records what was made,
    so that a wish to cancel that comes before its end undoes all of it.

    Raises
    ------
    CancelledError
    """
    if shall_stop(run_id):
        raise CancelledError
    _end(run_id, "done", log, percent=100, layer_id=layer_id)


def fail_run(run_id: int, sentence: str) -> None:
    _end(run_id, "failed", [sentence], problem=sentence)


def end_cancelled(run_id: int) -> None:
    _end(run_id, "cancelled", [CancelledError().sentence])


def request_cancel(run_id: int) -> Run:
    """Cancel a waiting run at once, a running one at its next block.

    Raises
    ------
    NotFoundError, ConflictError
    """
    with transaction():
        run = get_run(run_id)
        if run.state not in UNFINISHED:
            raise ConflictError("The run has ended already; there is nothing to cancel.")
        _change(run_id, cancel_requested=True)
        if run.state == "waiting":
            end_cancelled(run_id)
        return get_run(run_id)


def take_interrupted() -> list[int]:
    """Runs that a worker left behind: put back to waiting, or given up after three attempts.

    Only call while no worker is at work. Returns the ids to be queued again.
    """
    again = []
    with transaction():
        rows = RunRow.select(*BRIEF).where(RunRow.state == "running")
        for run in [Run.model_validate(row) for row in rows]:
            if run.cancel_requested:
                end_cancelled(run.id)
            elif run.attempts >= MAX_ATTEMPTS:
                fail_run(
                    run.id,
                    "The run was interrupted three times and is given up. "
                    "Nothing half-written was kept; its settings are kept, start it again.",
                )
            else:
                _change(
                    run.id, state="waiting", percent=0, seconds_left=None,
                    log=[*run.log, "Interrupted; it starts again from the beginning."],
                )  # fmt: skip
                again.append(run.id)
    return again


def list_waiting() -> list[int]:
    """Ids of all runs that wait for their turn, oldest first."""
    with transaction():
        rows = RunRow.select(RunRow.id).where(RunRow.state == "waiting").order_by(RunRow.id)
        return [row.id for row in rows]


def _end(run_id: int, state: str, log: list[str], **columns: Any) -> None:
    with transaction():
        run = get_run(run_id)
        _change(
            run_id, state=state, seconds_left=None, finished_at=datetime.now(UTC),
            log=[*run.log, *log], **columns,
        )  # fmt: skip


def _change(run_id: int, **columns: Any) -> bool:
    """Change a row and announce it in two small statements; whether the run shall stop."""
    changed = RunRow.update(columns).where(RunRow.id == run_id).returning(*ANNOUNCED)
    (row,) = changed.dicts().execute()
    announce(
        "run", study_id=row["study_id"], run_id=run_id, state=row["state"],
        percent=round(row["percent"], 1), seconds_left=row["seconds_left"], n_rows=row["n_rows"],
    )  # fmt: skip
    return bool(row["cancel_requested"])
