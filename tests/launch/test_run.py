"""./run's own part: start, start again, recover from a crash, stop cleanly."""

import json
import os
import re
import signal
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import psutil
import pytest

from kitesort.launch.__main__ import main
from kitesort.launch.postgres import free_port
from support.eventually import eventually

pytestmark = pytest.mark.slow("starts the whole program, database and all, up to three times")

START_SECONDS = 60.0


@pytest.fixture
def data() -> Iterator[Path]:
    """A data folder that the database server's user can reach."""
    with tempfile.TemporaryDirectory(prefix="kitesort-run-", ignore_cleanup_errors=True) as name:
        folder = Path(name)
        folder.chmod(0o755)
        yield folder


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

    def health(self) -> str:
        return str(self.get("health"))

    def get(self, path: str) -> Any:
        address = f"http://127.0.0.1:{self.port}/api/{path}"
        with urllib.request.urlopen(address, timeout=5) as response:
            return json.load(response)

    def stop(self, number: int = signal.SIGINT) -> int:
        self.process.send_signal(number)
        return self.process.wait(30)


def gone(processes: list[psutil.Process]) -> bool:
    _, alive = psutil.wait_procs(processes, timeout=10)
    return not alive


def test_a_day_from_start_to_stop(data: Path) -> None:
    """It answers, reaches what it was told and nothing else, is not started twice on one folder,
    gets over the death of its worker, and leaves nobody behind."""
    allowed = data / "allowed"
    allowed.mkdir()
    running = Running(data, "--folder", str(allowed), "--catalogue", "https://elsewhere.invalid/")
    running.wait_for(rf"ready: http://127\.0\.0\.1:{running.port}/")
    assert "ok" in running.health()
    assert [entry["name"] for entry in running.get("folders")] == ["allowed"]
    (catalogue,) = running.get("catalogues")
    assert catalogue == {"address": "https://elsewhere.invalid/", "is_stand_in": False}

    second = Running(data)
    assert second.process.wait(30) == 1
    assert "runs already on the data folder" in second.output
    assert "ok" in running.health()

    (worker,) = [p for p in running.family() if "worker" in p.cmdline()]
    worker.kill()
    running.wait_for("worker stopped; it is started again")
    eventually(lambda: [p for p in running.family() if "worker" in p.cmdline() and p != worker])

    family = running.family()
    assert len(family) >= 3, "database, worker, server"
    assert running.stop() == 0
    assert "Stopped." in running.output
    assert gone(family)


def test_starts_after_crashes_find_everything_in_order(data: Path) -> None:
    """First everything is killed at once, so that the lock file of the database stays behind; then
    the starter alone, whose parts end with it but for the database, which the next start takes
    over."""
    first = Running(data)
    first.wait_for("ready")
    family = first.family()
    for process in (psutil.Process(first.process.pid), *family):
        process.kill()
    first.process.wait(10)
    assert gone(family)
    assert any(data.rglob("postmaster.pid"))

    second = Running(data)
    second.wait_for(f"ready.*{second.port}")
    assert "ok" in second.health()
    family = second.family()
    parts = [p for p in family if "kitesort.launch" in p.cmdline()]
    second.process.kill()
    second.process.wait(10)
    assert gone(parts)

    third = Running(data)
    third.wait_for(f"ready.*{third.port}")
    assert third.stop(signal.SIGTERM) == 0
    assert gone(family)


def test_a_port_that_is_taken_is_told(data: Path, tmp_path_factory: pytest.TempPathFactory) -> None:
    import socket

    with socket.socket() as other:
        other.bind(("127.0.0.1", 0))
        other.listen()
        running = Running(data, "--port", str(other.getsockname()[1]))
        assert running.process.wait(30) == 1
    assert "is taken by another program" in running.output
    assert tmp_path_factory


@pytest.mark.parametrize("host", ["0.0.0.0", "192.168.1.5", "example.org", "::"])
def test_any_address_but_loopback_is_refused_with_a_reason(
    capsys: pytest.CaptureFixture[str], host: str
) -> None:
    assert main(["run", "--host", host]) == 1
    assert "no sign-in yet" in capsys.readouterr().err
