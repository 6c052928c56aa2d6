"""Keeping, counting and taking as runs: cancelled, failing, and leaving nothing behind."""

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from pydantic import BaseModel

from kitesort.core.errors import DiskFullError
from kitesort.runs import keep_layer, reporter, statistics, take_scene
from kitesort.runs.perform import KINDS, perform_run
from kitesort.store.files import layer_folder, uploads_folder
from kitesort.store.layers import get_layer
from kitesort.store.records import Run
from kitesort.store.runs import create_run, get_run, request_cancel
from kitesort.store.scenes import list_scenes
from support.catalogue import fill_catalogue, served_catalogue
from support.study import SmallStudy


@pytest.fixture(autouse=True)
def reports_at_once(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(reporter, "SECONDS_BETWEEN_REPORTS", 0.0)


@pytest.fixture
def catalogue(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[str]:
    with served_catalogue(fill_catalogue(tmp_path / "catalogue")) as address:
        monkeypatch.setenv("KITESORT_CATALOGUES", address)
        yield address


def start(s: SmallStudy, kind: str, task: BaseModel) -> Run:
    return create_run(s.id, f"Doing {kind}", kind, task.model_dump(mode="json"))


def take_task(address: str) -> take_scene.TakeTask:
    return take_scene.TakeTask(
        catalogue=address, collection="whimbrel-8", item_id="A", title="June pass"
    )


def files() -> set[Path]:
    return {*layer_folder().iterdir(), *uploads_folder().iterdir()}


def test_every_kind_of_run_is_known(small_study: SmallStudy) -> None:
    assert {keep_layer.KIND, statistics.KIND, take_scene.KIND} < set(KINDS)
    assert small_study


def test_taking_gives_a_free_name_and_says_it(small_study: SmallStudy, catalogue: str) -> None:
    run = start(small_study, take_scene.KIND, take_task(catalogue))
    perform_run(run.id)
    done = get_run(run.id)
    assert done.state == "done" and done.layer_id is not None
    assert get_layer(done.layer_id).title == "June pass 2", "the name was taken"
    assert done.log[-1] == "Taken as “June pass 2”."


def test_cancelling_while_files_are_fetched(
    small_study: SmallStudy, catalogue: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    before = files()
    run = start(small_study, take_scene.KIND, take_task(catalogue))
    original = take_scene.fetch_file

    def fetch(*args: Any) -> None:
        request_cancel(run.id)
        original(*args)
        original(*args)  # the wish is heard at the latest before the next file

    monkeypatch.setattr(take_scene, "fetch_file", fetch)
    perform_run(run.id)
    assert get_run(run.id).state == "cancelled"
    assert files() == before
    assert len(list_scenes(small_study.id)) == 1


def test_files_that_cannot_be_understood(
    small_study: SmallStudy, catalogue: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    before = files()

    def fetch(_url: str, path: Path, *_: Any) -> None:
        path.write_bytes(b"no picture")

    monkeypatch.setattr(take_scene, "fetch_file", fetch)
    run = start(small_study, take_scene.KIND, take_task(catalogue))
    perform_run(run.id)
    failed = get_run(run.id)
    assert failed.state == "failed"
    assert failed.problem is not None and "cannot be understood" in failed.problem
    assert files() == before


def test_a_catalogue_that_was_allowed_once(small_study: SmallStudy) -> None:
    run = start(small_study, take_scene.KIND, take_task("http://127.0.0.1:9/"))
    perform_run(run.id)
    assert "not among those" in (get_run(run.id).problem or "")


def test_cancelling_while_a_scene_is_kept(
    small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    before = files()
    run = start(small_study, keep_layer.KIND, keep_layer.KeepTask(layer_id=small_study.scene_id))
    original = keep_layer.write_scene

    def slow(*args: Any, **kwargs: Any) -> Any:
        request_cancel(run.id)
        return original(*args, block_size=16, **kwargs)

    monkeypatch.setattr(keep_layer, "write_scene", slow)
    perform_run(run.id)
    assert get_run(run.id).state == "cancelled"
    assert files() == before
    assert get_layer(small_study.scene_id).kept_path is None


def test_a_full_disk_while_a_scene_is_kept(
    small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    def full(*_: Any, **__: Any) -> None:
        raise DiskFullError("The disk is full: 0 MiB left in the data folder.")

    monkeypatch.setattr(keep_layer, "write_scene", full)
    run = start(small_study, keep_layer.KIND, keep_layer.KeepTask(layer_id=small_study.scene_id))
    perform_run(run.id)
    assert (get_run(run.id).problem or "").startswith("The disk is full")


def test_counting_is_cancelled_between_blocks(
    small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    run = start(
        small_study, statistics.KIND, statistics.StatisticsTask(scene_id=small_study.scene_id)
    )
    original = statistics.exact_statistics

    def slow(*args: Any, **kwargs: Any) -> Any:
        request_cancel(run.id)
        return original(*args, block_size=16, **kwargs)

    monkeypatch.setattr(statistics, "exact_statistics", slow)
    perform_run(run.id)
    assert get_run(run.id).state == "cancelled"


def test_a_run_that_ended_is_not_done_again(small_study: SmallStudy) -> None:
    task = statistics.StatisticsTask(scene_id=small_study.scene_id)
    run = start(small_study, statistics.KIND, task)
    perform_run(run.id)
    said = get_run(run.id).log
    perform_run(run.id)
    assert get_run(run.id).log == said


def test_an_unforeseen_error_is_told_and_raised(
    small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: Any, **__: Any) -> None:
        raise ZeroDivisionError

    monkeypatch.setattr(statistics, "exact_statistics", broken)
    task = statistics.StatisticsTask(scene_id=small_study.scene_id)
    run = start(small_study, statistics.KIND, task)
    with pytest.raises(ZeroDivisionError):
        perform_run(run.id)
    assert "Something unexpected" in (get_run(run.id).problem or "")
