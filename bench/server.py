"""The application as it runs for a user, on a database and data folder of the bench's own."""

import os
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from pathlib import Path

from kitesort.core.delivery import read_delivery
from kitesort.launch.demo_study import install_study
from kitesort.launch.postgres import free_port, open_cluster
from kitesort.runs.queue import RunQueue
from kitesort.store.database import connect_database, db, migrate, transaction
from kitesort.store.scenes import add_scene, list_scenes


@dataclass(frozen=True)
class Served:
    """Where it answers, and the ids of what is measured."""

    url: str
    study_id: int
    demo_scene_id: int
    large_scene_id: int
    server_pid: int


@contextmanager
def served(folder: Path, demo_folder: Path, large: Path) -> Iterator[Served]:
    cluster = open_cluster(folder)
    cluster.start()
    os.environ |= {
        "KITESORT_DATABASE": cluster.conninfo,
        "KITESORT_DATA": str(folder),
        "KITESORT_FOLDERS": str(folder),
    }
    connect_database(cluster.conninfo)
    migrate()
    RunQueue(cluster.conninfo).open().close()
    with transaction():
        db.execute_sql("TRUNCATE study CASCADE")
    study_id = install_study(demo_folder)
    summer = next(s for s in list_scenes(study_id) if s.title == "Summer pass")
    large_id = add_scene(study_id, "Large scene", read_delivery(large)).id
    port = free_port()
    part = [sys.executable, "-m", "kitesort.launch"]
    process = subprocess.Popen([*part, "server", "--port", str(port)])
    worker = subprocess.Popen([*part, "worker"])
    try:
        url = f"http://127.0.0.1:{port}"
        _wait_for(f"{url}/api/health")
        yield Served(url, study_id, summer.id, large_id, process.pid)
    finally:
        for one in (process, worker):
            one.terminate()
        for one in (process, worker):
            one.wait(20)
        db.close_all()
        cluster.stop()


def _wait_for(address: str) -> None:
    deadline = time.monotonic() + 60
    while time.monotonic() < deadline:
        with suppress(OSError), urllib.request.urlopen(address, timeout=2):
            return
        time.sleep(0.1)
    raise TimeoutError(address)
