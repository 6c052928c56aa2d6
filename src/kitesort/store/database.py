"""One pooled connection per thread, opened inside store functions and nowhere else."""

import os
import select
import threading
from collections.abc import Hashable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import peewee
from playhouse.postgres_ext import PooledPsycopg3Database

from kitesort.core.errors import NewerDatabaseError


class _Database(PooledPsycopg3Database):
    """Connections that the server has left while they lay in the pool are not handed out, so that
    work goes on at once when it has been started again; and it is known when something was
    written."""

    def execute_sql(self, sql: str, *args: Any, **options: Any) -> Any:
        if not sql.lstrip().upper().startswith(_READS):
            _here.writes = True
        return super().execute_sql(sql, *args, **options)

    def _is_closed(self, connection: Any) -> bool:
        return super()._is_closed(connection) or _has_been_left(connection)


def _has_been_left(connection: Any) -> bool:
    """Whether there is something to be read where nothing was asked: a farewell, or the end."""
    poll = select.poll()
    try:
        poll.register(connection.fileno(), select.POLLIN)
    except Exception:  # the connection is no more; whatever the driver calls that
        return True
    return bool(poll.poll(0))


_READS = ("SELECT", "BEGIN", "COMMIT", "ROLLBACK", "SAVEPOINT", "RELEASE")
_here = threading.local()  # .writes: this thread has written since its transaction began
_n_written = 0  # transactions that have written, as far as this process knows
_counting = threading.Lock()

db = _Database(None, max_connections=32, stale_timeout=300, timeout=20)

MIGRATIONS = Path(__file__).parent / "migrations"


def dsn() -> str:
    """Where the database is, as the start command or the tests have set it."""
    return os.environ["KITESORT_DATABASE"]


def connect_database(address: str) -> None:
    """Point the store at a database; ``address`` is a libpq connection string."""
    from psycopg.conninfo import conninfo_to_dict

    parts = {k: v for k, v in conninfo_to_dict(address).items() if v is not None}
    db.init(parts.pop("dbname"), **parts)


@contextmanager
def transaction() -> Iterator[None]:
    """This thread's connection with a transaction; nested uses join the outer one."""
    opened = db.is_closed()
    if opened:
        db.connect()
        _here.writes = False
    try:
        with db.atomic():
            yield
    finally:
        if opened:
            db.close()
            _count_writing()


def _count_writing() -> None:
    if _here.writes:
        _here.writes = False
        note_writing()


def note_writing() -> None:
    """Something was written: by this process, or, as was heard, by another one."""
    global _n_written
    with _counting:
        _n_written += 1


def as_written(*_args: Any) -> Hashable:
    """Another one after everything that was written: what is read may be remembered by it. Within a
    transaction that has written, nothing may."""
    if getattr(_here, "writes", False):
        return object()
    return db.database, _n_written


def holds_no_connection() -> bool:
    """Whether this thread may wait for another one that asks the database."""
    return bool(db.is_closed())


def migrate() -> list[str]:
    """Apply what is missing of ``migrations/*.sql`` in order; return the names applied.

    Raises
    ------
    NewerDatabaseError : the database has had others; nothing is changed.
    """
    applied = []
    with transaction():
        db.execute_sql("SELECT pg_advisory_xact_lock(7461)")
        db.execute_sql(
            "CREATE TABLE IF NOT EXISTS migration (name text PRIMARY KEY, "
            "applied_at timestamptz NOT NULL DEFAULT now())"
        )
        done = {row[0] for row in db.execute_sql("SELECT name FROM migration").fetchall()}
        known = sorted(MIGRATIONS.glob("*.sql"))
        _require_known(done - {path.name for path in known})
        for path in known:
            if path.name not in done:
                db.execute_sql(path.read_text("utf-8"))
                db.execute_sql("INSERT INTO migration (name) VALUES (%s)", (path.name,))
                applied.append(path.name)
    return applied


def _require_known(strangers: set[str]) -> None:
    """Raises NewerDatabaseError where the database has had migrations that are not known here."""
    if strangers:
        raise NewerDatabaseError(
            f"The database was written by a newer version of the program ({max(strangers)}). Start "
            "that version; nothing was changed."
        )


DatabaseError = peewee.DatabaseError
