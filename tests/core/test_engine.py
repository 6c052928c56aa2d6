import threading
import time
from concurrent.futures import Executor, ThreadPoolExecutor
from typing import Any

import numpy as np
import pytest

from kitesort.core.engine import Progress, Watch, map_blocks, reduce_blocks, thread_executor
from kitesort.core.errors import CancelledError
from kitesort.core.grid import Window
from support.arrays import metric_grid

GRID = metric_grid(70, 90)


def test_results_come_in_row_order_in_the_calling_thread() -> None:
    seen: list[Window] = []
    threads = set()

    def slow_first(window: Window) -> int:
        if window.row == 0 and window.col == 0:
            time.sleep(0.05)
        return window.n_pixels

    def consume(window: Window, n: int) -> None:
        assert n == window.n_pixels
        seen.append(window)
        threads.add(threading.current_thread())

    with thread_executor(4) as executor:
        map_blocks(GRID, slow_first, consume, executor, block_size=32)
    assert seen == list(GRID.blocks(32))
    assert threads == {threading.current_thread()}


def test_progress_only_grows_and_ends_at_one() -> None:
    steps: list[Progress] = []
    with thread_executor(2) as executor:
        map_blocks(GRID, lambda w: w, lambda *_: None, executor, block_size=20,
                   watch=Watch(steps.append))  # fmt: skip
    shares = [step.done for step in steps]
    assert shares == sorted(shares)
    assert shares[-1] == 1
    assert all(step.seconds_left is not None and step.seconds_left >= 0 for step in steps)


def test_no_more_blocks_are_held_than_allowed() -> None:
    held, most = 0, 0
    lock = threading.Lock()

    def compute(_: Window) -> None:
        nonlocal held, most
        with lock:
            held += 1
            most = max(most, held)

    def consume(_: Window, __: None) -> None:
        nonlocal held
        with lock:
            held -= 1

    with thread_executor(8) as executor:
        map_blocks(GRID, compute, consume, executor, block_size=8, in_flight=3)
    assert most <= 3


def test_cancelling_stops_between_two_blocks() -> None:
    done: list[Window] = []
    with thread_executor(1) as executor, pytest.raises(CancelledError, match="Nothing was written"):
        map_blocks(
            GRID, lambda w: w, lambda w, _: done.append(w), executor,
            block_size=10, watch=Watch(is_cancelled=lambda: len(done) >= 5),
        )  # fmt: skip
    assert 5 <= len(done) < 63


def test_an_error_in_a_block_reaches_the_caller_and_ends_the_rest() -> None:
    started: list[Window] = []

    def fail(window: Window) -> None:
        started.append(window)
        raise ValueError("broken block")

    with thread_executor(1) as executor, pytest.raises(ValueError, match="broken block"):
        map_blocks(GRID, fail, lambda *_: None, executor, block_size=5)
    assert len(started) <= 8


@pytest.mark.parametrize("workers", [1, 2, 5])
@pytest.mark.parametrize("block_size", [9, 64, 500])
def test_results_do_not_depend_on_blocks_or_workers(workers: int, block_size: int) -> None:
    rng = np.random.default_rng(1)
    source = rng.random((GRID.height, GRID.width))
    out = np.zeros_like(source)

    def consume(window: Window, part: np.ndarray) -> None:
        out[window.slices] = part

    executor: Executor
    with thread_executor(workers) as executor:
        map_blocks(GRID, lambda w: source[w.slices] * 2, consume, executor, block_size=block_size)
    assert np.array_equal(out, source * 2)


def test_sums_over_blocks_are_the_same_whatever_their_size() -> None:
    sums = [reduce_blocks(GRID, lambda w: w.n_pixels, block_size=size) for size in (7, 32, 1024)]
    assert sums == [70 * 90] * 3


def test_blocks_without_a_statistic_are_passed_over() -> None:
    def compute(window: Window) -> int | None:
        return window.n_pixels if window.row == 0 else None

    assert reduce_blocks(GRID, compute, block_size=10) == 10 * 90
    assert reduce_blocks(GRID, lambda _: None, block_size=10) is None


class CountingPool(ThreadPoolExecutor):
    """Remembers how many blocks were handed over and not taken back, at most."""

    held = most = 0

    def submit(self, *args: Any, **kwargs: Any) -> Any:
        self.held += 1
        self.most = max(self.most, self.held)
        return super().submit(*args, **kwargs)


@pytest.mark.parametrize("workers", [1, 3])
def test_an_executor_is_kept_busy_whatever_its_size(workers: int) -> None:
    """Two blocks for each worker are under way, where nobody says how many."""
    with CountingPool(workers) as pool:

        def consume(_: Window, __: int) -> None:
            pool.held -= 1

        map_blocks(GRID, lambda w: w.n_pixels, consume, pool, block_size=10)
        assert pool.most == 2 * workers
