"""Runs as rows: state, percentage, log, and the wish to cancel."""

from datetime import UTC, datetime
from typing import Any

from kitesort.core.errors import ConflictError
from kitesort.store.database import transaction
from kitesort.store.models import RunRow
from kitesort.store.news import announce
from kitesort.store.records import Run
from kitesort.store.studies import fetch

UNFINISHED = ("waiting", "running")
MAX_ATTEMPTS = 3
MOST_WAITING = 100


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
            study_id=study_id, title=title, kind=kind, task=task, log=["Waiting for its turn."]
        )
        run = get_run(row.id)
        _announce(run)
    return run


def get_run(run_id: int) -> Run:
    return fetch(RunRow, Run, run_id, "The run")


def list_runs(study_id: int, n_ended: int = 20) -> list[Run]:
    """All that wait or run, and the newest of those that have ended; newest first."""
    with transaction():
        rows = RunRow.select().where(RunRow.study_id == study_id).order_by(RunRow.id.desc())
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
        return get_run(run_id)


def report_progress(run_id: int, percent: float, seconds_left: float | None) -> bool:
    """Store how far a run is; answers whether it shall stop."""
    with transaction():
        _change(run_id, percent=percent, seconds_left=seconds_left)
        return get_run(run_id).cancel_requested


def report_rows(run_id: int, rows: list[dict[str, Any]]) -> None:
    """Store what a run has told so far, of those that tell a table."""
    with transaction():
        _change(run_id, rows=rows)


def finish_run(run_id: int, log: list[str], layer_id: int | None = None) -> None:
    """``layer_id``: what was made, or looked at."""
    _end(run_id, "done", log, percent=100, layer_id=layer_id)


def fail_run(run_id: int, sentence: str) -> None:
    _end(run_id, "failed", [sentence], problem=sentence)


def end_cancelled(run_id: int) -> None:
    _end(run_id, "cancelled", ["Cancelled. Nothing was written."])


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
        rows = RunRow.select().where(RunRow.state == "running")
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


def _change(run_id: int, **columns: Any) -> None:
    RunRow.update(columns).where(RunRow.id == run_id).execute()
    _announce(get_run(run_id))


def _announce(run: Run) -> None:
    announce(
        "run", study_id=run.study_id, run_id=run.id, state=run.state,
        percent=round(run.percent, 1), seconds_left=run.seconds_left, n_rows=len(run.rows),
    )  # fmt: skip
