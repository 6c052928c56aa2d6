"""News of runs and edits as they happen: PostgreSQL's notifications, handed on to listeners."""

import asyncio
import contextlib
import json
from collections.abc import AsyncIterator

import psycopg

from kitesort.store.database import note_writing
from kitesort.store.news import CHANNEL

RECONNECT_SECONDS = 2.0


class NewsFeed:
    """One listening connection for the whole server, one queue per listener, who hears of one
    study."""

    def __init__(self, conninfo: str) -> None:
        self._conninfo = conninfo
        self._study_of: dict[asyncio.Queue[str], int] = {}
        self._task: asyncio.Task[None] | None = None

    def start(self) -> None:
        self._task = asyncio.create_task(self._listen())

    async def stop(self) -> None:
        if self._task:
            self._task.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await self._task

    async def subscribe(self, study_id: int) -> AsyncIterator[str]:
        """Messages (JSON text) of a study from now on; an empty string now and then as a sign of
        life."""
        queue: asyncio.Queue[str] = asyncio.Queue(maxsize=1000)
        self._study_of[queue] = study_id
        try:
            while True:
                try:
                    yield await asyncio.wait_for(queue.get(), timeout=15)
                except TimeoutError:
                    yield ""
        finally:
            self._study_of.pop(queue, None)

    async def _listen(self) -> None:
        while True:
            try:
                connection = await psycopg.AsyncConnection.connect(self._conninfo, autocommit=True)
                async with connection:
                    await connection.execute(f"LISTEN {CHANNEL}")
                    note_writing()  # whatever was written while nobody listened
                    async for notice in connection.notifies():
                        note_writing()
                        self._hand_on(notice.payload)
            except psycopg.OperationalError:
                await asyncio.sleep(RECONNECT_SECONDS)

    def _hand_on(self, message: str) -> None:
        about = json.loads(message)["study_id"]
        for queue, study_id in self._study_of.items():
            if study_id == about:
                with contextlib.suppress(asyncio.QueueFull):
                    queue.put_nowait(message)
