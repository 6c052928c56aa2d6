"""What was used last, up to a bound; shared by threads."""

from collections.abc import Callable, Hashable, Iterator
from contextlib import contextmanager, suppress
from functools import update_wrapper
from threading import Lock
from typing import Any, Generic, ParamSpec, TypeVar

from cachetools import LRUCache

K = TypeVar("K")
V = TypeVar("V")
P = ParamSpec("P")
T = TypeVar("T")


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

    def clear(self) -> None:
        with self._lock:
            self._kept.clear()

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


class Remembered(Generic[P, T]):
    """A function that remembers its newest results, see ``remembered``."""

    def __init__(
        self,
        compute: Callable[P, T],
        newest: Newest[Hashable, tuple[T]],
        version: Callable[..., Hashable],
        once: Callable[[], bool],
    ) -> None:
        self._compute, self._newest, self._version, self._once = compute, newest, version, once
        update_wrapper(self, compute)

    def __call__(self, *args: P.args, **kwargs: P.kwargs) -> T:
        key = self._version(*args), args, tuple(sorted(kwargs.items()))
        if self._once():
            return self._newest.get(key, lambda: (self._compute(*args, **kwargs),))[0]
        known = self._newest.find(key)
        if known is None:
            known = (self._compute(*args, **kwargs),)
            self._newest.put(key, known)
        return known[0]

    def forget(self) -> None:
        self._newest.clear()


def never_changes(*_args: Any) -> Hashable:
    """For results that stay true for ever."""
    return None


def always() -> bool:
    return True


def never() -> bool:
    return False


def remembered(
    bound: int,
    *,
    version: Callable[..., Hashable] = never_changes,
    once: Callable[[], bool] = never,
) -> Callable[[Callable[P, T]], Remembered[P, T]]:
    """Remember so many results by their arguments, which must be hashable. ``version`` is asked
    with the positional arguments; when it answers differently, the work is done anew.

    ``once``, asked at each call: equal calls that overlap do the work once, as a view's tiles that
    all want the same stretch. Of what asks the database only those that hold no connection: one
    that waits for a connection would be waited for by those who have them all.
    """
    return lambda compute: Remembered(compute, Newest(bound), version, once)
