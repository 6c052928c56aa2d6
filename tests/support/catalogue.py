"""The stand-in catalogue on loopback, over one small made-up scene; and servers that misbehave."""

import json
import socket
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any

import numpy as np
import uvicorn
from PIL import Image

from kitesort.standin.catalogue import create_catalogue
from support.deliveries import CRS, numbers, write_raster

FOOTPRINT = {
    "type": "Polygon",
    "coordinates": [[[9.0, 49.6], [9.1, 49.6], [9.1, 49.7], [9.0, 49.7], [9.0, 49.6]]],
}
ROLES = {"B1": "blue", "B2": "red", "B3": "nir"}


def make_item(folder: Path, item_id: str, day: str, cloud: float) -> dict[str, Any]:
    """An item with three bands of 20 × 20 pixels, a quality band and a quick-look."""
    here = folder / item_id
    for i, name in enumerate(ROLES, start=1):
        write_raster(here / f"{item_id}_{name}.tif", numbers(1000 * i, 20), 10)
    flags = np.zeros((20, 20), np.uint8)
    flags[5:8, 5:8] = 2
    write_raster(here / f"{item_id}_quality.tif", flags, 10)
    Image.fromarray(np.zeros((8, 8, 3), np.uint8)).save(here / "look.png")
    assets: dict[str, Any] = {
        name: {
            "href": f"{item_id}/{item_id}_{name}.tif",
            "roles": ["data"],
            "eo:bands": [{"name": name, "common_name": role, "center_wavelength": 0.4 + 0.1 * i}],
            "raster:bands": [{"scale": 0.0001, "offset": -0.05, "nodata": 0}],
        }
        for i, (name, role) in enumerate(ROLES.items(), start=1)
    }
    assets["quality"] = {
        "href": f"{item_id}/{item_id}_quality.tif",
        "roles": ["cloud"],
        "classification:bitfields": [
            {"offset": bit, "length": 1, "classes": [{"value": 1, "name": name}]}
            for bit, name in enumerate(("fill", "cloud"))
        ],
    }
    assets["look"] = {"href": f"{item_id}/look.png", "roles": ["thumbnail"]}
    return {
        "type": "Feature", "stac_version": "1.0.0", "stac_extensions": [], "id": item_id,
        "collection": "whimbrel-8", "geometry": FOOTPRINT, "bbox": [9.0, 49.6, 9.1, 49.7],
        "properties": {"title": f"Scene {item_id}", "datetime": f"{day}T10:30:00Z",
                       "platform": "Made-up", "eo:cloud_cover": cloud,
                       "view:sun_elevation": 55.0, "proj:epsg": int(CRS[5:])},
        "assets": assets, "links": [],
    }  # fmt: skip


def fill_catalogue(folder: Path) -> Path:
    """Three scenes: 10 June (clear), 20 June (40 % cloud), 30 June (5 %)."""
    (folder / "items").mkdir(parents=True)
    for item_id, day, cloud in (("A", "2023-06-10", 0.0), ("B", "2023-06-20", 40.0),
                                ("C", "2023-06-30", 5.0)):  # fmt: skip
        item = make_item(folder, item_id, day, cloud)
        (folder / "items" / f"{item_id}.json").write_text(json.dumps(item))
    return folder


@contextmanager
def served_catalogue(folder: Path) -> Iterator[str]:
    """The stand-in's address while it answers."""
    config = uvicorn.Config(create_catalogue(folder), port=0, log_level="error")
    server = uvicorn.Server(config)
    listener = socket.socket()
    listener.bind(("127.0.0.1", 0))
    thread = threading.Thread(target=server.run, args=([listener],), daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.02)
    yield f"http://127.0.0.1:{listener.getsockname()[1]}/"
    server.should_exit = True
    thread.join(10)
    listener.close()


@contextmanager
def misbehaving(status: int, body: bytes, pause: float = 0, **headers: str) -> Iterator[str]:
    """A server that always answers the same."""

    class Handler(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            time.sleep(pause)
            self.send_response(status)
            for name, value in headers.items():
                self.send_header(name.replace("_", "-"), value)
            self.end_headers()
            self.wfile.write(body)

        do_POST = do_GET  # noqa: N815 (the standard library's name)

        def log_message(self, *_: object) -> None:
            pass

    server = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    yield f"http://127.0.0.1:{server.server_port}/"
    server.shutdown()
    server.server_close()
    thread.join(10)
