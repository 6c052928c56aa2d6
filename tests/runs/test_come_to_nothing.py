"""Runs that fail or are cancelled when all is made and only their end is missing: no row and no
file is left."""

import errno
from pathlib import Path
from typing import Any

import pytest

from kitesort.runs.perform import perform_run
from kitesort.runs.reporter import watch_run
from kitesort.store import runs
from kitesort.store.classifiers import list_classifiers
from kitesort.store.files import data_folder
from kitesort.store.layers import get_layer, list_layers
from kitesort.store.runs import create_run, get_run, request_cancel
from support.study import SmallStudy, map_order

KINDS = ("map", "keep", "polygons")
END, SHALL_STOP = runs._end, runs.shall_stop


def full(run_id: int, state: str, *rest: Any, **columns: Any) -> None:
    if state == "done":
        raise OSError(errno.ENOSPC, "No space left on device")
    END(run_id, state, *rest, **columns)


def cancelled_at_the_end(run_id: int) -> bool:
    request_cancel(run_id)
    return SHALL_STOP(run_id)


ENDS = {
    "failed": ("_end", full, "The disk is full"),
    "cancelled": ("shall_stop", cancelled_at_the_end, ""),
}


def order(s: SmallStudy, kind: str) -> dict[str, Any]:
    """The task of a run that writes files."""
    if kind == "map":
        return map_order(s)
    if kind == "keep":
        return {"layer_id": s.scene_id}
    perform_run(create_run(s.id, "A map", "map", map_order(s)).id)
    (layer,) = list_layers(s.id, "classes")
    return {"layer_id": layer.id, "tolerance_m": 0.0, "form": "gpkg"}


def what_is_there(s: SmallStudy) -> tuple[Any, ...]:
    files = {path for path in data_folder().rglob("*") if path.is_file()}
    return files, list_layers(s.id, "classes"), list_classifiers(s.id), get_layer(s.scene_id)


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("state", ENDS)
def test_nothing_is_left_of_it(
    small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch, kind: str, state: str
) -> None:
    run = create_run(small_study.id, "A run", kind, order(small_study, kind))
    before = what_is_there(small_study)
    name, instead, problem = ENDS[state]
    with monkeypatch.context() as patch:
        patch.setattr(runs, name, instead)
        perform_run(run.id)
    found = get_run(run.id)
    assert found.state == state and (found.problem or "").startswith(problem)
    assert what_is_there(small_study) == before


def test_files_of_other_runs_stay(small_study: SmallStudy) -> None:
    """Run 1 is not run 11."""
    run = create_run(small_study.id, "A run", "keep", {"layer_id": 0})
    others = [f"scene-1-run-{run.id}1.tif", f"scene-{run.id}-run-1{run.id}.tif", "scene-1.tif"]
    folder: Path = data_folder() / "layers"
    for name in others:
        (folder / name).touch()
    perform_run(run.id)
    assert get_run(run.id).state == "failed"
    assert {path.name for path in folder.iterdir()} >= set(others)
    for name in others:
        (folder / name).unlink()


def test_work_that_does_not_know_how_far_it_is_can_be_cancelled(small_study: SmallStudy) -> None:
    run = create_run(small_study.id, "A run", "keep", {"layer_id": small_study.scene_id})
    watch = watch_run(run.id)
    runs.start_run(run.id)
    assert not watch.is_cancelled()
    request_cancel(run.id)
    later = watch_run(run.id)
    assert later.is_cancelled()
