"""The worker as a process of its own: it works, and can be killed at any moment."""

import os
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
import rasterio

from kitesort.runs.make_map import MapTask
from kitesort.runs.queue import RunQueue
from kitesort.store.files import layer_folder, layer_path
from kitesort.store.records import Run
from kitesort.store.runs import get_run, request_cancel
from kitesort.study.maps import list_maps
from support.study import SmallStudy, map_order

pytestmark = pytest.mark.slow("starts worker processes anew, and kills them in the middle")
# Slows every block down, so that there is a middle of the run to be killed in.
SLOW_WORKER = """
import os, time
from kitesort.core.raster import keeping
read = keeping._PartsOf.__call__
def slow(self, window):
    time.sleep(float(os.environ["SECONDS_PER_BLOCK"]))
    return read(self, window)
keeping._PartsOf.__call__ = slow
from kitesort.runs import keep_layer, reporter
reporter.SECONDS_BETWEEN_REPORTS = 0.0
write = keep_layer.write_class_map
keep_layer.write_class_map = lambda *a, **k: write(*a, block_size=16, **k)
from kitesort.launch.__main__ import main
main(["worker"])
"""


@contextmanager
def worker(seconds_per_block: float = 0.0) -> Iterator[subprocess.Popen[bytes]]:
    process = subprocess.Popen(
        [sys.executable, "-c", SLOW_WORKER],
        env=os.environ | {"PYTHONPATH": "src", "SECONDS_PER_BLOCK": str(seconds_per_block)},
    )
    try:
        yield process
    finally:
        if process.poll() is None:
            process.terminate()
            process.wait(20)


@pytest.fixture
def queue(small_study: SmallStudy, database: str) -> Iterator[RunQueue]:
    assert small_study
    made = RunQueue(database).open()
    yield made
    made.close()


def submit(queue: RunQueue, s: SmallStudy) -> int:
    task = MapTask.model_validate(map_order(s))
    return queue.submit(s.id, "Classifying", "map", task).id


def wait_until(run_id: int, *states: str, percent: float = 0, seconds: float = 40) -> Run:
    deadline = time.monotonic() + seconds
    while True:
        run = get_run(run_id)
        if run.state in states and run.percent >= percent:
            return run
        assert time.monotonic() < deadline, run
        time.sleep(0.05)


def test_a_queued_run_is_done(queue: RunQueue, small_study: SmallStudy) -> None:
    run_id = submit(queue, small_study)
    with worker():
        run = wait_until(run_id, "done")
    assert run.log[0] == "Waiting for its turn."
    assert "Kept as" in run.log[-1]
    assert list_maps(small_study.id)


def test_a_worker_killed_in_the_middle_leaves_nothing_and_the_run_is_taken_up_again(
    queue: RunQueue, small_study: SmallStudy
) -> None:
    run_id = submit(queue, small_study)
    with worker(0.2) as process:
        wait_until(run_id, "running", percent=15)  # beyond the tenth in which sites are read
        process.kill()
        process.wait(10)
    assert list_maps(small_study.id) == []
    assert list(layer_folder().glob("*.part.tif")), "the half-written file lies there still"
    with worker():
        run = wait_until(run_id, "done")
    assert run.attempts == 2
    assert "Interrupted; it starts again from the beginning." in run.log
    assert list(layer_folder().glob(".*")) == [], "and has been swept away"
    (layer,) = list_maps(small_study.id)
    with rasterio.open(layer_path(layer.kept_path or "")) as dataset:
        assert dataset.read(1).any()


def test_a_running_run_is_cancelled(queue: RunQueue, small_study: SmallStudy) -> None:
    run_id = submit(queue, small_study)
    with worker(0.2):
        wait_until(run_id, "running", percent=5)
        request_cancel(run_id)
        wait_until(run_id, "cancelled", seconds=10)
    assert list_maps(small_study.id) == []
    assert list(layer_folder().glob(".*")) == []


def test_runs_queue_up_behind_one_another(queue: RunQueue, small_study: SmallStudy) -> None:
    run_ids = [submit(queue, small_study) for _ in range(3)]
    with worker():
        ended = [wait_until(run_id, "done").finished_at for run_id in run_ids]
    assert ended == sorted(ended, key=lambda at: at or 0)
    names = {layer.title for layer in list_maps(small_study.id)}
    assert names == {f"June pass, class map {n}" for n in (1, 2, 3)}


def test_a_stopped_worker_ends_at_once(tmp_path: Path, database: str) -> None:
    assert tmp_path
    assert database
    with worker() as process:
        time.sleep(3)
        process.terminate()
        assert process.wait(10) in (0, -15)
