"""What was used last, up to a bound; shared by threads."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from threading import Lock
from typing import Generic, TypeVar

from cachetools import LRUCache

K = TypeVar("K")
V = TypeVar("V")


def one_each(_: object) -> int:
    """For what is bounded by its number."""
    return 1


class Newest(Generic[K, V]):
    """``bound``: how much all that is kept may cost; ``cost`` of one: its bytes, or 1."""

    def __init__(self, bound: int, cost: Callable[[V], int] = one_each) -> None:
        self._kept: LRUCache[K, V] = LRUCache(bound, getsizeof=cost)
        self._lock = Lock()
        self._makers: dict[K, Lock] = {}

    def find(self, key: K) -> V | None:
        with self._lock:
            return self._kept.get(key)

    def put(self, key: K, value: V) -> None:
        """What costs more than all that may be kept is not kept."""
        with self._lock:
            self._kept.pop(key, None)
            with suppress(ValueError):  # too large
                self._kept[key] = value

    def get(self, key: K, make: Callable[[], V]) -> V:
        """What is kept under a key; made where there is none, once by those who ask for it at the
        same time."""
        known = self.find(key)
        if known is not None:
            return known
        with self._one_maker(key):
            known = self.find(key)
            if known is not None:
                return known
            made = make()
            self.put(key, made)
            return made

    @contextmanager
    def _one_maker(self, key: K) -> Iterator[None]:
        with self._lock:
            lock = self._makers.setdefault(key, Lock())
        try:
            with lock:
                yield
        finally:
            with self._lock:
                self._makers.pop(key, None)
