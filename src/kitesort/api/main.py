"""Assemble the application: routers, errors, the queue, the built front end."""

import os
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager, suppress
from pathlib import Path

from fastapi import FastAPI
from fastapi.responses import FileResponse
from fastapi.staticfiles import StaticFiles

from kitesort import __version__
from kitesort.api import (
    boundaries,
    breaks,
    catalogue,
    class_statistics,
    cloud,
    clusters,
    comparing,
    correct,
    deliveries,
    derive,
    derive_aids,
    first_check,
    ground,
    growing,
    judging,
    layers,
    look,
    maps,
    notes,
    polygons,
    reference_pictures,
    runs,
    scene_tiles,
    scenes,
    scheme,
    series,
    site_files,
    studies,
    tables,
    tidy,
    trained,
    training,
    vocabulary,
)
from kitesort.api.document import RESPONSES, DocumentedApp
from kitesort.api.errors import add_error_handlers
from kitesort.api.guard import Guard
from kitesort.api.routes import add_routes
from kitesort.core.errors import NotFoundError
from kitesort.runs.feed import NewsFeed
from kitesort.runs.queue import RunQueue
from kitesort.store.database import connect_database, dsn

WEB = Path(__file__).resolve().parents[3] / "web" / "dist"
PARTS = (
    studies, scenes, scene_tiles, look, cloud, notes, reference_pictures, deliveries, catalogue,
    correct, boundaries, derive, derive_aids, breaks, series, training, judging, site_files, runs,
    first_check, class_statistics, ground, growing, scheme, layers, maps, comparing, tables,
    trained, clusters, tidy, polygons, vocabulary,
)  # fmt: skip


@asynccontextmanager
async def _lifespan(app: FastAPI) -> AsyncIterator[None]:
    address = dsn()
    connect_database(address)
    app.state.queue = RunQueue(address).open()
    app.state.feed = NewsFeed(address)
    app.state.feed.start()
    yield
    await app.state.feed.stop()
    app.state.queue.close()


def create_app() -> FastAPI:
    app = DocumentedApp(
        title="Kite Sort",
        version=__version__,
        lifespan=_lifespan,
        openapi_url="/api/openapi.json",
        docs_url=None,
        redoc_url=None,
        responses=RESPONSES,
    )
    add_error_handlers(app)
    add_routes(app, PARTS)

    @app.get("/api/health")
    def get_health() -> dict[str, str]:
        return {"status": "ok", "version": __version__}

    app.add_middleware(Guard)
    _serve_front_end(app)
    return app


def _serve_front_end(app: FastAPI) -> None:
    folder = Path(os.environ.get("KITESORT_WEB", WEB))
    if not (folder / "index.html").is_file():
        return
    app.mount("/assets", StaticFiles(directory=folder / "assets"), name="assets")

    @app.get("/{path:path}", include_in_schema=False)
    def get_page(path: str) -> FileResponse:
        """The one page; its stations are addresses of their own."""
        if path.startswith("api/"):
            raise NotFoundError("There is nothing at this address.")
        with suppress(OSError):  # a name longer than any file's
            wanted = (folder / path).resolve()
            if path and wanted.is_file() and wanted.is_relative_to(folder.resolve()):
                return FileResponse(wanted)
        return FileResponse(folder / "index.html", headers={"Cache-Control": "no-cache"})
