"""A measurement beside what a user would otherwise use, and the table of them all."""

import os
import platform
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from time import perf_counter

import psutil


@dataclass(frozen=True)
class Result:
    """``ours`` and ``other`` in ``unit``; ``wanted`` says in words what is aimed at."""

    what: str
    ours: float
    other: float | None
    other_is: str
    unit: str
    wanted: str
    reached: bool

    @property
    def ratio(self) -> str:
        if self.other is None:
            return "–"
        if self.ours <= self.other:
            return f"{self.other / self.ours:.1f} × as good"
        return f"{self.ours / self.other:.2f} × as much"


def timed(act: Callable[[], object], repeats: int = 1) -> float:
    """Best of several times in seconds."""
    times = []
    for _ in range(repeats):
        started = perf_counter()
        act()
        times.append(perf_counter() - started)
    return min(times)


def percentile_95(times: list[float]) -> float:
    return sorted(times)[max(0, round(0.95 * len(times)) - 1)]


def machine() -> str:
    model = platform.processor() or platform.machine()
    for line in Path("/proc/cpuinfo").read_text().splitlines():
        if line.startswith("model name"):
            model = line.split(":", 1)[1].strip()
            break
    memory = psutil.virtual_memory().total / 2**30
    return f"{model}, {os.cpu_count()} cores, {memory:.0f} GiB, Python {platform.python_version()}"


def is_below(ours: float, factor: float, other: float | None) -> bool:
    """Whether ours is less than so many times the other; true where there is no other."""
    return other is None or ours < factor * other


def print_result(row: str, r: Result) -> None:
    """One line, as soon as it is known: what is measured later may die."""
    other = "–" if r.other is None else f"{r.other:,.2f} {r.unit}"
    against = f" against {other} ({r.other_is}): {r.ratio}" if r.other_is else ""
    wanted = f"; wanted {r.wanted}: {'yes' if r.reached else 'NO'}" if r.wanted else ""
    print(f"{row:<16} {r.what}: {r.ours:,.2f} {r.unit}{against}{wanted}", flush=True)
