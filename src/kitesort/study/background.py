"""Training that takes longer than a user waits: one after another, the newest wish first served."""

from collections.abc import Callable, Hashable
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, field
from threading import Event, Lock
from typing import Any, Generic, TypeVar

from kitesort.core.engine import Watch
from kitesort.core.errors import CancelledError

T = TypeVar("T")


@dataclass(frozen=True)
class _Order(Generic[T]):
    version: str
    future: Future[T]
    unwanted: Event = field(default_factory=Event)
    found: list[Any] = field(default_factory=list)


class Background(Generic[T]):
    """At most one order at work or waiting for each ``line``: a new version puts an end to the one
    before, which nobody will look at any more."""

    def __init__(self) -> None:
        self._pool = ThreadPoolExecutor(1, thread_name_prefix="train")
        self._orders: dict[Hashable, _Order[T]] = {}
        self._lock = Lock()

    def ask(
        self, line: Hashable, version: str, make: Callable[[Watch], T], wait: float
    ) -> T | None:
        """What was ordered, if it is there within ``wait`` seconds, else None: ask again.

        Raises what ``make`` raises.
        """
        with self._lock:
            order = self._orders.get(line)
            if order is None or order.version != version or order.future.cancelled():
                if order is not None:
                    order.unwanted.set()
                    order.future.cancel()
                order = self._begin(version, make)
                self._orders[line] = order
        try:
            made = order.future.result(timeout=wait)
        except (TimeoutError, CancelledError):
            return None
        finally:
            if order.future.done():
                self._forget(line, order)
        return made

    def found_so_far(self, line: Hashable) -> list[Any]:
        """What the order at work has come to on its way; nothing where none is."""
        with self._lock:
            order = self._orders.get(line)
        return list(order.found) if order else []

    def _begin(self, version: str, make: Callable[[Watch], T]) -> _Order[T]:
        unwanted, found = Event(), list[Any]()
        watch = Watch(is_cancelled=unwanted.is_set, found=found.append)
        return _Order(version, self._pool.submit(make, watch), unwanted, found)

    def _forget(self, line: Hashable, order: _Order[T]) -> None:
        with self._lock:
            if self._orders.get(line) is order:
                del self._orders[line]
