"""PostgreSQL of the tests' own on loopback: one cluster for a run, databases for each process.

A process has two stores, so that tests of the store never meet the worker of the browser's: an
empty one, and one with the demo study. Their ids lie far apart: what is remembered goes by id.
"""

import os
import time
from dataclasses import dataclass
from pathlib import Path

import psycopg
from psycopg import sql
from psycopg.conninfo import make_conninfo

from kitesort.launch.demo_study import install_study
from kitesort.launch.postgres import DATABASE, Cluster, open_cluster
from kitesort.runs.queue import RunQueue
from kitesort.store.database import connect_database, db, migrate, transaction
from kitesort.store.scenes import list_scenes
from kitesort.store.studies import update_study
from support.shared import one_at_a_time, process_name, shared_folder

# Nothing here has to outlive a power failure.
CARELESS = ("fsync=off", "synchronous_commit=off", "full_page_writes=off")
FIRST_PAGE_ID = 3_000_000
IDLE_SECONDS = 30.0
ROWS = """SELECT tablename FROM pg_tables WHERE schemaname = 'public'
    AND tablename <> 'migration' AND tablename NOT LIKE 'procrastinate%%'"""
AT_WORK = """SELECT (SELECT count(*) FROM procrastinate_jobs WHERE status = 'doing')
    + (SELECT count(*) FROM pg_stat_activity WHERE datname = current_database()
       AND pid <> pg_backend_pid() AND state IN ('active', 'idle in transaction'))"""


_started: list[Cluster] = []  # held, so that its process is not given up as forgotten


@dataclass(frozen=True)
class TestStore:
    """A database of this process, and its folder of files."""

    __test__ = False
    address: str
    data: Path

    def use(self) -> None:
        """Point the store at it, here and in parts that are started from now on."""
        if os.environ.get("KITESORT_DATABASE") == self.address:
            return
        if not db.deferred:
            db.close_all()
        os.environ["KITESORT_DATABASE"] = self.address
        os.environ["KITESORT_DATA"] = str(self.data)
        connect_database(self.address)


def make_store(kind: str, template: str = DATABASE) -> TestStore:
    """A database for this process alone, made from a template."""
    name = f"{kind}_{process_name()}"
    address = _create(name, template)
    data = shared_folder() / "data" / name
    data.mkdir(parents=True)
    return TestStore(address, data)


def make_page_store(demo: Path, view: dict[str, object]) -> TestStore:
    """One with the demo study, whose summer pass is open in a view, and a copy of all rows."""
    template = "page_template"
    with one_at_a_time(template):
        done = shared_folder() / f"{template}.done"
        if not done.exists():
            made = TestStore(_create(template, DATABASE), shared_folder() / "data" / template)
            made.use()
            _install(demo, view)
            db.close_all()
            del os.environ["KITESORT_DATABASE"]
            done.touch()
    return make_store("page", template)


def empty_store() -> None:
    """Forget all rows; ids go on counting, so that nothing remembered by id can be wrong."""
    with transaction():
        db.execute_sql("TRUNCATE study, procrastinate_jobs CASCADE")


def reset_store() -> None:
    """All rows as they were at first, once nothing is at work on them any more."""
    _wait_until_idle()
    with transaction():
        db.execute_sql("SET LOCAL session_replication_role = replica")  # no foreign keys meanwhile
        for (table,) in db.execute_sql(ROWS).fetchall():
            db.execute_sql(f"DELETE FROM {table}")
            db.execute_sql(f"INSERT INTO {table} SELECT * FROM pristine.{table}")


def stop_cluster() -> None:
    """At the end of the run, whichever process had started it."""
    if _told().exists():
        _cluster().stop()


def _told() -> Path:
    return shared_folder() / "cluster.address"


def _cluster() -> Cluster:
    made = open_cluster(shared_folder())
    made.settings = CARELESS
    return made


def _address() -> str:
    """Of the template of all databases; the first process that asks starts the cluster."""
    with one_at_a_time("cluster"):
        if not _told().exists():
            cluster = _cluster()
            cluster.start()
            connect_database(cluster.conninfo)
            migrate()
            RunQueue(cluster.conninfo).open().close()
            db.close_all()
            _started.append(cluster)
            _told().write_text(cluster.conninfo)
        return _told().read_text()


def _create(name: str, template: str) -> str:
    """A new database; the address of it."""
    address = _address()
    with psycopg.connect(make_conninfo(address, dbname="postgres"), autocommit=True) as connection:
        connection.execute(
            sql.SQL("CREATE DATABASE {} TEMPLATE {}").format(
                sql.Identifier(name), sql.Identifier(template)
            )
        )
    return make_conninfo(address, dbname=name)


def _install(demo: Path, view: dict[str, object]) -> None:
    with transaction():
        for (name,) in db.execute_sql(
            "SELECT sequencename FROM pg_sequences WHERE schemaname = 'public'"
        ).fetchall():
            db.execute_sql(f"ALTER SEQUENCE {name} RESTART WITH {FIRST_PAGE_ID}")
    study_id = install_study(demo)
    summer = next(scene for scene in list_scenes(study_id) if scene.title == "Summer pass")
    update_study(study_id, view={"sceneId": summer.id, **view})
    with transaction():
        db.execute_sql("CREATE SCHEMA pristine")
        for (table,) in db.execute_sql(ROWS).fetchall():
            db.execute_sql(f"CREATE TABLE pristine.{table} AS TABLE public.{table}")


def _wait_until_idle() -> None:
    """Cancel what still runs, and wait for it and for requests on their way."""
    with transaction():
        db.execute_sql(
            "UPDATE run SET cancel_requested = true WHERE state IN ('waiting', 'running')"
        )
        db.execute_sql("DELETE FROM procrastinate_jobs WHERE status = 'todo'")
    deadline = time.monotonic() + IDLE_SECONDS
    while _n_at_work():
        assert time.monotonic() < deadline, "something is still at work on the last test's study"
        time.sleep(0.02)


def _n_at_work() -> int:
    with transaction():
        return int(db.execute_sql(AT_WORK).fetchone()[0])
