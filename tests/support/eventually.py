"""For what becomes true a moment later, on a fast machine and on a slow one."""

import time
from collections.abc import Callable


def eventually(check: Callable[[], bool], seconds: float = 25.0) -> None:
    """Ask again until it is so."""
    deadline = time.monotonic() + seconds
    while not check():
        assert time.monotonic() < deadline, "it did not come about"
        time.sleep(0.03)
