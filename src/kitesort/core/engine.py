"""Run a block function over a grid: threads here, any executor when one is given.

The engine owns blocks, progress and cancelling; block functions see one window and nothing else.
"""

import os
import time
from collections import deque
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import Executor, Future, ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass, replace
from typing import Any, Protocol, Self, TypeVar

from kitesort.core.errors import CancelledError
from kitesort.core.grid import Grid, Window

BLOCK_SIZE = 1024
BLOCKS_PER_WORKER = 2
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


def to_nobody(_: Any) -> None:
    """For callers that wait for the end."""


def never_cancelled() -> bool:
    return False


@dataclass(frozen=True)
class Watch:
    """Told how far a piece of work is; asked whether it shall stop. ``found``: told what the work
    comes to on its way, of work that does."""

    progress: ProgressCallback = no_progress
    is_cancelled: CancelCheck = never_cancelled
    found: Callable[[Any], None] = to_nobody

    def first(self, share: float) -> "Watch":
        """For a part of the work that is only so much of the whole."""
        progress = self.progress
        return replace(self, progress=lambda p: progress(Progress(p.done * share, p.seconds_left)))

    def rest(self, share: float) -> "Watch":
        """For the part of the work that is left when so much of the whole is done."""
        progress = self.progress
        return replace(
            self,
            progress=lambda p: progress(Progress(share + p.done * (1 - share), p.seconds_left)),
        )

    def silently(self) -> "Watch":
        """For a part that can be given up, and does not know how far it is."""
        return replace(self, progress=no_progress)

    def require_wanted(self) -> None:
        """Raises CancelledError when the work shall stop."""
        if self.is_cancelled():
            raise CancelledError


UNWATCHED = Watch()


def steps(items: Sequence[T], watch: Watch = UNWATCHED) -> Iterator[T]:
    """One item of some work after another, each told of when it is done.

    Raises
    ------
    CancelledError : between two of them.
    """
    started = time.monotonic()
    for n_done, item in enumerate(items, start=1):
        watch.require_wanted()
        yield item
        elapsed = time.monotonic() - started
        watch.progress(Progress(n_done / len(items), elapsed * (len(items) / n_done - 1)))


@contextmanager
def thread_executor(workers: int | None = None) -> Iterator[Executor]:
    with ThreadPoolExecutor(workers or os.cpu_count() or 2) as executor:
        yield executor


def map_blocks(
    grid: Grid,
    compute: Callable[[Window], T],
    consume: Callable[[Window, T], None],
    executor: Executor | None = None,
    *,
    block_size: int = BLOCK_SIZE,
    in_flight: int | None = None,
    watch: Watch = UNWATCHED,
) -> None:
    """Compute every block, hand results to ``consume`` in row order, in the calling thread.

    Without an ``executor`` the blocks are computed by threads, one for each core. At most
    ``in_flight`` blocks are held at a time, two for each worker where nothing is said, whatever the
    size of the grid.

    Raises
    ------
    CancelledError : between two blocks.
    """
    windows = list(grid.blocks(block_size))
    map_windows(windows, compute, consume, executor, in_flight=in_flight, watch=watch)


def map_windows(
    windows: Sequence[Window],
    compute: Callable[[Window], T],
    consume: Callable[[Window, T], None],
    executor: Executor | None = None,
    *,
    in_flight: int | None = None,
    watch: Watch = UNWATCHED,
) -> None:
    """As ``map_blocks``, for windows that need not tile a grid.

    Raises
    ------
    CancelledError : between two windows.
    """
    if executor is None:
        with thread_executor() as pool:
            map_windows(windows, compute, consume, pool, in_flight=in_flight, watch=watch)
        return
    handed = _hand_over(executor, compute)
    held = in_flight or BLOCKS_PER_WORKER * _workers_of(executor)
    started = time.monotonic()
    pending: deque[tuple[Window, Future[T]]] = deque()
    n_pixels = sum(window.n_pixels for window in windows)
    done_pixels = 0

    def finish_oldest() -> None:
        nonlocal done_pixels
        window, future = pending.popleft()
        consume(window, future.result())
        done_pixels += window.n_pixels
        share = done_pixels / n_pixels
        elapsed = time.monotonic() - started
        watch.progress(Progress(share, elapsed * (1 - share) / share))

    try:
        for window in windows:
            watch.require_wanted()
            pending.append((window, executor.submit(_call, handed, window)))
            if len(pending) >= held:
                finish_oldest()
        while pending:
            watch.require_wanted()
            finish_oldest()
    finally:
        for _, future in pending:
            future.cancel()


def _hand_over(executor: Executor, compute: Callable[[Window], T]) -> Any:
    """The block function where the workers are: those of a cluster get it once, not per block."""
    client: Any = getattr(executor, "_client", None)
    return client.scatter(compute, broadcast=True) if hasattr(client, "scatter") else compute


def _call(compute: Callable[[Window], T], window: Window) -> T:
    return compute(window)


def _workers_of(executor: Executor) -> int:
    """Those of a pool of this machine; of any other executor as many as there are cores here."""
    return int(getattr(executor, "_max_workers", 0)) or os.cpu_count() or 2


class Mergeable(Protocol):
    """A statistic of some pixels: added to that of others it is the statistic of both."""

    def __add__(self, other: Self, /) -> Self: ...


M = TypeVar("M", bound=Mergeable)


def reduce_blocks(
    grid: Grid,
    compute: Callable[[Window], M | None],
    executor: Executor | None = None,
    *,
    block_size: int = BLOCK_SIZE,
    watch: Watch = UNWATCHED,
) -> M | None:
    """The sum of a statistic over every block, in row order; None where no block has any. The same,
    to rounding, whatever the block size.

    Raises
    ------
    CancelledError
    """
    total: M | None = None

    def consume(_: Window, part: M | None) -> None:
        nonlocal total
        if part is not None:
            total = part if total is None else total + part

    map_blocks(grid, compute, consume, executor, block_size=block_size, watch=watch)
    return total
