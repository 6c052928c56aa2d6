"""The run that tries a range of numbers of clusters, and tells them row by row."""

from typing import Any

import numpy as np
from pydantic import BaseModel

from kitesort.core.cluster.counts import CountTried, Suggestion, counts_between, suggest, try_counts
from kitesort.core.cluster.groups import has_mixed_units
from kitesort.core.cluster.protocol import CountedSettings
from kitesort.core.cluster.registry import CLUSTERINGS
from kitesort.core.errors import InputError
from kitesort.runs.reporter import watch_run
from kitesort.store.records import Run
from kitesort.store.runs import finish_run, report_rows
from kitesort.study.clustering import make_order, sample_of
from kitesort.study.rasters import open_layer

KIND = "count-clusters"


class CountTask(BaseModel):
    scene_id: int
    roles: tuple[str, ...]
    method: str
    settings: dict[str, Any]
    seed: int
    fewest: int
    most: int


class CountRow(BaseModel):
    """``ratio``: variance ratio; ``explained``: share of the variance; ``criterion``: less is
    better."""

    n_clusters: int
    ratio: float | None
    explained: float
    criterion: float


def count_clusters(run: Run) -> None:
    task, watch = CountTask.model_validate(run.task), watch_run(run.id)
    order = make_order(
        run.study_id, task.scene_id, task.roles, task.method, task.settings, task.seed
    )
    if not isinstance(order.settings, CountedSettings):
        raise InputError("This method finds the number of clusters itself.")
    rows: list[CountRow] = []
    for one in try_counts(
        sample_of(order),
        order.spec,
        order.settings,
        order.seed,
        counts_between(task.fewest, task.most),
        mixed_units=has_mixed_units(open_layer(task.scene_id), order.roles),
        watch=watch,
    ):
        rows.append(_row(one))
        report_rows(run.id, [row.model_dump(mode="json") for row in rows])
    finish_run(run.id, [f"{len(rows)} numbers of clusters tried."])


def suggestion_of(run: Run) -> Suggestion | None:
    """Which number the rows of such a run speak for."""
    rows = [CountRow.model_validate(row) for row in run.rows]
    by = CLUSTERINGS[run.task["method"]].judged_by
    nan = float("nan")
    return suggest(
        [CountTried(r.n_clusters, r.ratio or nan, r.explained, r.criterion) for r in rows], by
    )


def _row(one: CountTried) -> CountRow:
    ratio = float(one.ratio) if np.isfinite(one.ratio) else None
    return CountRow(
        n_clusters=one.n_clusters, ratio=ratio, explained=one.explained, criterion=one.criterion
    )
