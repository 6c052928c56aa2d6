"""A program measured in a process of its own: seconds, and its memory at the highest."""

import json
import resource
import subprocess
import sys
from pathlib import Path

# A comparator that wants more dies alone, and its row says so.
MOST_MEMORY = 8 * 2**30


def print_used(seconds: float) -> None:
    """Seconds and this process's own memory at its highest (MiB), for the one that measures."""
    status = Path("/proc/self/status").read_text()
    highest = next(line for line in status.splitlines() if line.startswith("VmHWM"))
    print(json.dumps([seconds, int(highest.split()[1]) / 1024]))


def measure(program: str, *arguments: str) -> tuple[float, float]:
    """Of our own: seconds and MiB.

    Raises
    ------
    subprocess.CalledProcessError : it died.
    """
    done = _run(program, *arguments)
    done.check_returncode()
    seconds, memory = json.loads(done.stdout)
    return seconds, memory


def compare(program: str, *arguments: str) -> tuple[float, float] | tuple[None, None]:
    """Of a comparator: the same, or nothing when it died; what it said is printed."""
    done = _run(program, *arguments)
    if done.returncode:
        last = done.stderr.strip().splitlines()[-1:] or ["killed"]
        print(f"  a comparator died: {last[0]}", file=sys.stderr, flush=True)
        return None, None
    seconds, memory = json.loads(done.stdout)
    return seconds, memory


def _run(program: str, *arguments: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-W", "ignore", "-c", program, *arguments],
        capture_output=True, text=True, check=False, preexec_fn=_limit_memory,
    )  # fmt: skip


def _limit_memory() -> None:
    resource.setrlimit(resource.RLIMIT_DATA, (MOST_MEMORY, MOST_MEMORY))
