"""Time as this machine had it: what its host gave to others meanwhile is taken off."""

import time
from pathlib import Path

STEAL = 7  # of the columns of /proc/stat: jiffies that the host gave to others


class StopWatch:
    """Started when it is made."""

    def __init__(self) -> None:
        self._started = time.monotonic()
        self._all, self._stolen = _jiffies()

    @property
    def seconds(self) -> float:
        everything, stolen = _jiffies()
        spent = everything - self._all
        share = (stolen - self._stolen) / spent if spent else 0.0
        return (time.monotonic() - self._started) * (1 - share)


def _jiffies() -> tuple[int, int]:
    """Of all cores together: all of them that were not idle, and those that were stolen."""
    try:
        first = Path("/proc/stat").read_text().splitlines()[0].split()
    except OSError:
        return 0, 0
    counts = [int(text) for text in first[1:9]]
    idle = counts[3] + counts[4]
    return sum(counts) - idle, counts[STEAL]
