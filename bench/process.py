"""A program measured in a process of its own: seconds, and its memory at the highest."""

import json
import subprocess
import sys
from pathlib import Path


def print_used(seconds: float) -> None:
    """Seconds and this process's own memory at its highest (MiB), for the one that measures."""
    status = Path("/proc/self/status").read_text()
    highest = next(line for line in status.splitlines() if line.startswith("VmHWM"))
    print(json.dumps([seconds, int(highest.split()[1]) / 1024]))


def measure(program: str, *arguments: str) -> tuple[float, float]:
    done = subprocess.run(
        [sys.executable, "-W", "ignore", "-c", program, *arguments],
        capture_output=True, text=True, check=True,
    )  # fmt: skip
    seconds, memory = json.loads(done.stdout)
    return seconds, memory
