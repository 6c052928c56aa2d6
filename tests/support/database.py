"""A PostgreSQL of the tests' own on loopback, and an empty store for each test."""

import os
import shutil
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from kitesort.launch.postgres import open_cluster
from kitesort.runs.queue import RunQueue
from kitesort.store.database import connect_database, db, migrate, transaction


@contextmanager
def running_database() -> Iterator[str]:
    """Start a cluster in a folder that the server's user can reach; yields its address."""
    folder = Path(tempfile.mkdtemp(prefix="kitesort-tests-"))
    folder.chmod(0o755)
    cluster = open_cluster(folder)
    try:
        cluster.start()
        address = cluster.conninfo
        os.environ["KITESORT_DATABASE"] = address
        os.environ["KITESORT_DATA"] = str(folder)
        connect_database(address)
        migrate()
        RunQueue(address).open().close()
        yield address
    finally:
        db.close_all()
        cluster.stop()
        shutil.rmtree(folder, ignore_errors=True)


def empty_store() -> None:
    """Forget all rows; ids go on counting, so that nothing remembered by id can be wrong."""
    with transaction():
        db.execute_sql("TRUNCATE study, procrastinate_jobs CASCADE")
