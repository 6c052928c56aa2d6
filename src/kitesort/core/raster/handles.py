"""Open files of this process: a few per thread, and never more than the system lets it have.

Handles of the raster library must not be shared by threads. So each thread keeps its own, the
newest last; all threads together keep to one bound, half of the descriptors that the process may
have, since pipes, sockets and libraries need some, too.
"""

import resource
import threading
from collections import OrderedDict
from collections.abc import Callable
from contextlib import suppress

import rasterio

MOST_PER_THREAD = 96
LEAST_PER_THREAD = 4  # so that what is being read is not closed
MOST_IN_ALL = 1024
WANTED_DESCRIPTORS = 16_384
Key = tuple[str, int, int | None]  # path, time of the last change, overview level

_counting = threading.Lock()
_n_open = 0


def raise_limit() -> int:
    """As many descriptors as the process may give itself; how many they are now."""
    soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    most = WANTED_DESCRIPTORS if hard == resource.RLIM_INFINITY else min(hard, WANTED_DESCRIPTORS)
    if soft == resource.RLIM_INFINITY or soft >= most:
        return soft
    resource.setrlimit(resource.RLIMIT_NOFILE, (most, hard))
    return most


def bound() -> int:
    """How many files all threads may have open together."""
    soft, _ = resource.getrlimit(resource.RLIMIT_NOFILE)
    return MOST_IN_ALL if soft == resource.RLIM_INFINITY else min(MOST_IN_ALL, soft // 2)


class _Handles:
    """What one thread has open. It ends with its thread."""

    def __init__(self) -> None:
        self._open: OrderedDict[Key, rasterio.DatasetReader] = OrderedDict()

    def get(self, key: Key, make: Callable[[], rasterio.DatasetReader]) -> rasterio.DatasetReader:
        if key in self._open:
            self._open.move_to_end(key)
            return self._open[key]
        most = LEAST_PER_THREAD if _n_open >= bound() else MOST_PER_THREAD
        while len(self._open) >= most:
            self._open.popitem(last=False)[1].close()
            _count(-1)
        made = make()
        self._open[key] = made
        _count(1)
        return made

    def __del__(self) -> None:
        with suppress(TypeError):  # when the program ends, the function may be gone already
            _count(-len(self._open))


def _count(change: int) -> None:
    global _n_open
    with _counting:
        _n_open += change


_of_thread = threading.local()


def handle(key: Key, make: Callable[[], rasterio.DatasetReader]) -> rasterio.DatasetReader:
    """This thread's handle under a key, made where there is none; the oldest make room."""
    handles: _Handles | None = getattr(_of_thread, "handles", None)
    if handles is None:
        handles = _of_thread.handles = _Handles()
    return handles.get(key, make)
