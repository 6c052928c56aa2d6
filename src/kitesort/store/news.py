"""What is told to every open window, when the transaction that it stands in is done."""

import json
from typing import Any, Literal

from kitesort.store.database import db

CHANNEL = "kitesort_news"
Kind = Literal["run", "edit"]


def announce(kind: Kind, **message: Any) -> None:
    """To be called inside of a transaction; nothing is told of one that is rolled back."""
    db.execute_sql("SELECT pg_notify(%s, %s)", (CHANNEL, json.dumps({"kind": kind, **message})))
