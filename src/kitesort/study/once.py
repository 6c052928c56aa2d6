"""Remembered results that many ask for at the same moment: computed by one, waited for by all."""

from collections.abc import Callable, Hashable
from functools import lru_cache, wraps
from threading import Lock
from typing import Any, ParamSpec, TypeVar

P = ParamSpec("P")
T = TypeVar("T")
N_LOCKS = 64


def never_changes(*_args: Any) -> Hashable:
    """For results that stay true for ever."""
    return None


def remember_once(
    maxsize: int, version: Callable[..., Hashable] = never_changes
) -> Callable[[Callable[P, T]], Callable[P, T]]:
    """Like ``lru_cache``, but equal calls that overlap do the work once: a view's tiles all want
    the same stretch. Arguments must be hashable. ``version`` is asked with the positional
    arguments; when it answers differently, the work is done anew."""

    def decorate(compute: Callable[P, T]) -> Callable[P, T]:
        @lru_cache(maxsize)
        def cached(_version: Hashable, *args: Any, **kwargs: Any) -> T:
            return compute(*args, **kwargs)

        locks = [Lock() for _ in range(N_LOCKS)]

        @wraps(compute)
        def ask(*args: P.args, **kwargs: P.kwargs) -> T:
            now = version(*args)
            key = hash((now, args, tuple(sorted(kwargs.items()))))
            with locks[key % N_LOCKS]:
                return cached(now, *args, **kwargs)  # type: ignore[arg-type]  # hashable, see above

        return ask

    return decorate
