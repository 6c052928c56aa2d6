"""What was used last, up to a bound; shared by threads."""

from collections import OrderedDict
from collections.abc import Callable
from threading import Lock
from typing import Generic, TypeVar

K = TypeVar("K")
V = TypeVar("V")


def one_each(_: object) -> int:
    """For what is bounded by its number."""
    return 1


class Newest(Generic[K, V]):
    """``bound``: how much all that is kept may cost; ``cost`` of one: its bytes, or 1."""

    def __init__(self, bound: int, cost: Callable[[V], int] = one_each) -> None:
        self._bound, self._cost = bound, cost
        self._kept: OrderedDict[K, V] = OrderedDict()
        self._sum = 0
        self._lock = Lock()

    def find(self, key: K) -> V | None:
        with self._lock:
            known = self._kept.get(key)
            if known is not None:
                self._kept.move_to_end(key)
            return known

    def put(self, key: K, value: V) -> None:
        with self._lock:
            old = self._kept.pop(key, None)
            self._sum += self._cost(value) - (0 if old is None else self._cost(old))
            self._kept[key] = value
            while self._sum > self._bound:
                self._sum -= self._cost(self._kept.popitem(last=False)[1])

    def get(self, key: K, make: Callable[[], V]) -> V:
        """What is kept under a key; made where there is none, outside of the lock: two threads may
        make the same at the same time."""
        known = self.find(key)
        if known is not None:
            return known
        made = make()
        self.put(key, made)
        return made
