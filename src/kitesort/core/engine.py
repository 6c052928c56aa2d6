"""Run a block function over a grid: threads here, any executor when one is given.

The engine owns blocks, progress and cancelling; block functions see one window and nothing else.
"""

import os
import time
from collections import deque
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import Executor, Future, ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass
from typing import TypeVar

from kitesort.core.errors import CancelledError
from kitesort.core.grid import Grid, Window

BLOCK_SIZE = 1024
T = TypeVar("T")


@dataclass(frozen=True)
class Progress:
    """Share done (0 to 1) and the estimated seconds left (None while unknown)."""

    done: float
    seconds_left: float | None


ProgressCallback = Callable[[Progress], None]
CancelCheck = Callable[[], bool]


def no_progress(_: Progress) -> None:
    """For callers that do not watch."""


def never_cancelled() -> bool:
    return False


def share_of(progress: ProgressCallback, share: float) -> ProgressCallback:
    """For a part of the work that is only so much of the whole."""
    return lambda p: progress(Progress(p.done * share, p.seconds_left))


def rest_of(progress: ProgressCallback, share: float) -> ProgressCallback:
    """For the part of the work that is left when so much of the whole is done."""
    return lambda p: progress(Progress(share + p.done * (1 - share), p.seconds_left))


@dataclass(frozen=True)
class Watch:
    """Told how far a piece of work is; asked whether it shall stop."""

    progress: ProgressCallback = no_progress
    is_cancelled: CancelCheck = never_cancelled


UNWATCHED = Watch()


def steps(
    items: Sequence[T],
    progress: ProgressCallback = no_progress,
    is_cancelled: CancelCheck = never_cancelled,
) -> Iterator[T]:
    """One item of some work after another, each told of when it is done.

    Raises
    ------
    CancelledError : ``is_cancelled`` said so between two of them.
    """
    started = time.monotonic()
    for n_done, item in enumerate(items, start=1):
        if is_cancelled():
            raise CancelledError("Cancelled. Nothing was written.")
        yield item
        elapsed = time.monotonic() - started
        progress(Progress(n_done / len(items), elapsed * (len(items) / n_done - 1)))


@contextmanager
def thread_executor(workers: int | None = None) -> Iterator[Executor]:
    with ThreadPoolExecutor(workers or os.cpu_count() or 2) as executor:
        yield executor


def run_blocks(
    grid: Grid,
    compute: Callable[[Window], T],
    consume: Callable[[Window, T], None],
    executor: Executor | None = None,
    *,
    block_size: int = BLOCK_SIZE,
    in_flight: int = 4,
    progress: ProgressCallback = no_progress,
    is_cancelled: CancelCheck = never_cancelled,
) -> None:
    """Compute every block, hand results to ``consume`` in row order, in the calling thread.

    Without an ``executor`` the blocks are computed by threads, one for each core. At most
    ``in_flight`` blocks are held at a time, whatever the size of the grid.

    Raises
    ------
    CancelledError : ``is_cancelled`` said so between two blocks.
    """
    if executor is None:
        with thread_executor() as pool:
            run_blocks(
                grid, compute, consume, pool, block_size=block_size, in_flight=in_flight,
                progress=progress, is_cancelled=is_cancelled,
            )  # fmt: skip
        return
    started = time.monotonic()
    pending: deque[tuple[Window, Future[T]]] = deque()
    done_pixels = 0

    def finish_oldest() -> None:
        nonlocal done_pixels
        window, future = pending.popleft()
        consume(window, future.result())
        done_pixels += window.n_pixels
        share = done_pixels / grid.whole.n_pixels
        elapsed = time.monotonic() - started
        progress(Progress(share, elapsed * (1 - share) / share))

    try:
        for window in grid.blocks(block_size):
            if is_cancelled():
                raise CancelledError("Cancelled. Nothing was written.")
            pending.append((window, executor.submit(compute, window)))
            if len(pending) >= in_flight:
                finish_oldest()
        while pending:
            if is_cancelled():
                raise CancelledError("Cancelled. Nothing was written.")
            finish_oldest()
    finally:
        for _, future in pending:
            future.cancel()
