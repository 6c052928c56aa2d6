"""The application behind a real socket, in a thread of the test."""

import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager

import uvicorn
from fastapi import FastAPI

from kitesort.launch.postgres import free_port

START_SECONDS = 15.0
KEEP_ALIVE = 120  # seconds; a client that uses a connection again must not find it closed


@contextmanager
def live_server(app: FastAPI) -> Iterator[str]:
    """Its address, without a slash at the end."""
    port = free_port()
    config = uvicorn.Config(
        app, "127.0.0.1", port, log_level="critical", timeout_keep_alive=KEEP_ALIVE
    )
    server = uvicorn.Server(config)
    thread = threading.Thread(target=server.run)
    thread.start()
    try:
        deadline = time.monotonic() + START_SECONDS
        while not server.started:
            assert time.monotonic() < deadline and thread.is_alive(), "the server does not start"
            time.sleep(0.01)
        yield f"http://127.0.0.1:{port}"
    finally:
        server.should_exit = True
        thread.join(START_SECONDS)
