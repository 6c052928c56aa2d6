"""News of runs and edits as they happen: PostgreSQL's notifications, handed on to listeners."""

import asyncio
import contextlib
from collections.abc import AsyncIterator

import psycopg

from kitesort.store.database import note_writing
from kitesort.store.news import CHANNEL

RECONNECT_SECONDS = 2.0


class NewsFeed:
    """One listening connection for the whole server, one queue per listener."""

    def __init__(self, conninfo: str) -> None:
        self._conninfo = conninfo
        self._listeners: set[asyncio.Queue[str]] = set()
        self._task: asyncio.Task[None] | None = None

    def start(self) -> None:
        self._task = asyncio.create_task(self._listen())

    async def stop(self) -> None:
        if self._task:
            self._task.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await self._task

    async def subscribe(self) -> AsyncIterator[str]:
        """Messages (JSON text) from now on; an empty string now and then as a sign of life."""
        queue: asyncio.Queue[str] = asyncio.Queue(maxsize=1000)
        self._listeners.add(queue)
        try:
            while True:
                try:
                    yield await asyncio.wait_for(queue.get(), timeout=15)
                except TimeoutError:
                    yield ""
        finally:
            self._listeners.discard(queue)

    async def _listen(self) -> None:
        while True:
            try:
                connection = await psycopg.AsyncConnection.connect(self._conninfo, autocommit=True)
                async with connection:
                    await connection.execute(f"LISTEN {CHANNEL}")
                    note_writing()  # whatever was written while nobody listened
                    async for notice in connection.notifies():
                        note_writing()
                        for queue in self._listeners:
                            with contextlib.suppress(asyncio.QueueFull):
                                queue.put_nowait(notice.payload)
            except psycopg.OperationalError:
                await asyncio.sleep(RECONNECT_SECONDS)
