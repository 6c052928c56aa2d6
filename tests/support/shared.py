"""What all processes of one test run share: a folder, and work that only the first of them does."""

import fcntl
import os
import shutil
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

NAMED = "KITESORT_TESTS_SHARED"


def make_shared_folder() -> Path:
    """Once per run, before its processes start; the database server's user can reach it."""
    folder = Path(tempfile.mkdtemp(prefix="kitesort-tests-"))
    folder.chmod(0o755)
    os.environ[NAMED] = str(folder)
    return folder


def remove_shared_folder() -> None:
    shutil.rmtree(os.environ.pop(NAMED), ignore_errors=True)


def shared_folder() -> Path:
    return Path(os.environ[NAMED])


def process_name() -> str:
    """Which of the run's processes this is, as a word for names of databases and folders."""
    return os.environ.get("PYTEST_XDIST_WORKER", "alone")


@contextmanager
def one_at_a_time(what: str) -> Iterator[None]:
    """The first one in does the work; whoever waited finds it done."""
    with (shared_folder() / f"{what}.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        yield
