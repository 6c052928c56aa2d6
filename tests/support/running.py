"""The whole program, started as ./run starts it."""

import json
import os
import re
import signal
import subprocess
import sys
import time
import urllib.request
from contextlib import suppress
from pathlib import Path
from typing import Any

import psutil

from kitesort.launch.postgres import free_port

START_SECONDS = 60.0


class Running:
    """A started Kite Sort; ``output`` is what it said so far."""

    def __init__(self, data: Path, *options: str) -> None:
        self.port = free_port()
        self._log = data / "said.txt"
        with self._log.open("ab") as log:
            self.process = subprocess.Popen(
                [sys.executable, "-m", "kitesort.launch", "run", "--data", str(data),
                 "--port", str(self.port), "--no-demo", *options],
                stdout=log, stderr=log, env=os.environ | {"PYTHONPATH": "src"},
            )  # fmt: skip

    @property
    def output(self) -> str:
        return self._log.read_text()

    def wait_for(self, pattern: str) -> None:
        deadline = time.monotonic() + START_SECONDS
        while not re.search(pattern, self.output):
            assert self.process.poll() is None, self.output
            assert time.monotonic() < deadline, self.output
            time.sleep(0.05)

    def family(self) -> list[psutil.Process]:
        return psutil.Process(self.process.pid).children(recursive=True)

    def part(self, word: str) -> psutil.Process | None:
        """The process that has a word in its command line: a part's name, or "postgres"."""
        for process in self.family():
            with suppress(psutil.NoSuchProcess):  # it has ended meanwhile, or is about to
                if any(word in w for w in process.cmdline()[:4]):
                    return process
        return None

    def health(self) -> str:
        return str(self.get("health"))

    def get(self, path: str) -> Any:
        address = f"http://127.0.0.1:{self.port}/api/{path}"
        with urllib.request.urlopen(address, timeout=5) as response:
            return json.load(response)

    def send(self, path: str, content: Any) -> Any:
        address = f"http://127.0.0.1:{self.port}/api/{path}"
        headers = {"content-type": "application/json"}
        asked = urllib.request.Request(address, json.dumps(content).encode(), headers)
        with urllib.request.urlopen(asked, timeout=5) as response:
            return json.load(response)

    def stop(self, number: int = signal.SIGINT) -> int:
        self.process.send_signal(number)
        return self.process.wait(30)


def gone(processes: list[psutil.Process]) -> bool:
    _, alive = psutil.wait_procs(processes, timeout=10)
    return not alive
