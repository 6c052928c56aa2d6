"""One pooled connection per thread, opened inside store functions and nowhere else."""

import os
import select
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import peewee
from playhouse.postgres_ext import PooledPsycopg3Database

from kitesort.core.errors import NewerDatabaseError


class _Database(PooledPsycopg3Database):
    """Connections that the server has left while they lay in the pool are not handed out, so that
    work goes on at once when it has been started again."""

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
    try:
        with db.atomic():
            yield
    finally:
        if opened:
            db.close()


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
