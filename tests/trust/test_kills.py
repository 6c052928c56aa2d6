"""Whatever is killed is started again, or ends altogether; what was acknowledged is there."""

import time
import urllib.error
from collections.abc import Callable
from pathlib import Path

import psutil
import pytest

from support.eventually import eventually
from support.running import Running, gone

pytestmark = [
    pytest.mark.slow("starts the whole program, database and all, twice"),
    pytest.mark.thorough,
]
END_SECONDS = 10.0


def answers(running: Running) -> Callable[[], bool]:
    def ask() -> bool:
        try:
            return isinstance(running.get("studies"), list)
        except (urllib.error.URLError, ConnectionError, TimeoutError):
            return False

    return ask


def test_a_day_with_accidents(run_folder: Path) -> None:
    """It answers, reaches what it was told and nothing else, and is not started twice on one
    folder. Worker, server and database die one after the other and are started again; a study that
    was there is there still. Nobody is left behind."""
    allowed = run_folder / "allowed"
    allowed.mkdir()
    running = Running(
        run_folder, "--folder", str(allowed), "--catalogue", "https://elsewhere.invalid/"
    )
    running.wait_for(rf"ready: http://127\.0\.0\.1:{running.port}/")
    assert "ok" in running.health()
    assert [entry["name"] for entry in running.get("folders")] == ["allowed"]
    (catalogue,) = running.get("catalogues")
    assert catalogue == {"address": "https://elsewhere.invalid/", "is_stand_in": False}

    second = Running(run_folder)
    assert second.process.wait(30) == 1
    assert "runs already on the data folder" in second.output
    assert "ok" in running.health()

    running.send("studies", {"name": "Kept"})
    for word, words in (("worker", "The worker"), ("server", "The server")):
        part = running.part(word)
        assert part is not None
        part.kill()
        running.wait_for(f"{words} stopped; it is started again")
        eventually(lambda w=word, p=part: running.part(w) not in (None, p))
        eventually(answers(running))

    server, worker = running.part("server"), running.part("worker")
    database = running.part("postgres")
    assert database is not None
    database.kill()
    running.wait_for("The database answers again")
    eventually(answers(running))
    assert [study["name"] for study in running.get("studies")] == ["Kept"]
    assert running.part("server") == server
    eventually(lambda: running.part("worker") not in (None, worker))

    family = running.family()
    assert len(family) >= 3, "database, worker, server"
    assert running.stop() == 0
    assert "Stopped." in running.output
    assert gone(family)


def test_starts_after_crashes_find_everything_in_order(run_folder: Path) -> None:
    """First everything is killed at once, so that the lock file of the database stays behind; then
    the starter alone, with which all others end."""
    first = Running(run_folder)
    first.wait_for("ready")
    family = first.family()
    for process in (psutil.Process(first.process.pid), *family):
        process.kill()
    first.process.wait(10)
    assert gone(family)
    assert any(run_folder.rglob("postmaster.pid"))
    left_behind = run_folder / "temporary" / "kitesort-vector-x"
    left_behind.mkdir()

    second = Running(run_folder)
    second.wait_for(f"ready.*{second.port}")
    assert "ok" in second.health()
    assert not left_behind.exists()
    family = second.family()
    assert any("postgres" in " ".join(p.cmdline()) for p in family)
    second.process.kill()
    second.process.wait(10)
    killed = time.monotonic()
    assert gone(family)
    assert time.monotonic() - killed < END_SECONDS
    assert not any(run_folder.rglob("postmaster.pid")), "the database has ended in order"
