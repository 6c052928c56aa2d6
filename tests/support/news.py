"""What the store announces while something is done."""

import json
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

import psycopg

from kitesort.store.news import CHANNEL

MOST_SECONDS = 10.0
News = dict[str, Any]


@contextmanager
def listening(address: str, is_last: Callable[[list[News]], bool]) -> Iterator[list[News]]:
    """All that is heard from now on; afterwards the list is complete: up to the last, or what came
    in ten seconds."""
    heard: list[News] = []
    ready = threading.Event()

    def listen() -> None:
        with psycopg.connect(address, autocommit=True) as connection:
            connection.execute(f"LISTEN {CHANNEL}")
            ready.set()
            for notice in connection.notifies(timeout=MOST_SECONDS):
                heard.append(json.loads(notice.payload))
                if is_last(heard):
                    return

    listener = threading.Thread(target=listen)
    listener.start()
    assert ready.wait(MOST_SECONDS)
    yield heard
    listener.join(2 * MOST_SECONDS)
