"""A small scene catalogue that speaks the open STAC API, over the demo's made-up scenes.

It answers what the specification calls core, item search and features, from JSON items in a
folder; addresses inside them are made absolute when they are handed out.
"""

import json
from datetime import datetime
from pathlib import Path
from typing import Annotated, Any

from fastapi import FastAPI, HTTPException, Query, Request
from fastapi.staticfiles import StaticFiles
from pydantic import BaseModel, Field
from shapely.geometry import box, shape

from kitesort.standin.picture import picture_router

Json = dict[str, Any]
VERSION = "1.0.0"
COLLECTION = "whimbrel-8"
CONFORMS_TO = [
    "https://api.stacspec.org/v1.0.0/core",
    "https://api.stacspec.org/v1.0.0/item-search",
    "https://api.stacspec.org/v1.0.0/ogcapi-features",
    "http://www.opengis.net/spec/ogcapi-features-1/1.0/conf/core",
    "http://www.opengis.net/spec/ogcapi-features-1/1.0/conf/geojson",
]


class Search(BaseModel):
    """The body of an item search; what is not known is passed over, as the specification says."""

    bbox: list[float] | None = None
    intersects: Json | None = None
    datetime: str | None = None
    collections: list[str] | None = None
    ids: list[str] | None = None
    limit: int = Field(100, ge=1, le=1000)


def create_catalogue(folder: Path) -> FastAPI:
    """The application over ``folder``: ``items/*.json`` and the files they name."""
    app = FastAPI(title="Made-up scenes", docs_url=None, redoc_url=None)
    app.mount("/files", StaticFiles(directory=folder), name="files")
    app.include_router(picture_router(folder.parent / "reference_photo.tif"))

    @app.get("/")
    def get_landing(request: Request) -> Json:
        base = str(request.base_url)
        return {
            "type": "Catalog",
            "stac_version": VERSION,
            "id": "made-up-scenes",
            "title": "Made-up scenes of the Ulverhythe Levels",
            "description": "Scenes that the demo's generator made; none is of a real place.",
            "conformsTo": CONFORMS_TO,
            "links": [
                _link("self", base),
                _link("root", base),
                _link("conformance", f"{base}conformance"),
                _link("data", f"{base}collections"),
                _link("child", f"{base}collections/{COLLECTION}"),
                _link("search", f"{base}search", "application/geo+json") | {"method": "GET"},
                _link("search", f"{base}search", "application/geo+json") | {"method": "POST"},
            ],
        }

    @app.get("/conformance")
    def get_conformance() -> Json:
        return {"conformsTo": CONFORMS_TO}

    @app.get("/collections")
    def get_collections(request: Request) -> Json:
        return {"collections": [_collection(request, folder)], "links": []}

    @app.get("/collections/{collection_id}")
    def get_collection(request: Request, collection_id: str) -> Json:
        _require_collection(collection_id)
        return _collection(request, folder)

    @app.get("/collections/{collection_id}/items")
    def get_items(request: Request, collection_id: str) -> Json:
        _require_collection(collection_id)
        return _answer(request, folder, Search())

    @app.get("/collections/{collection_id}/items/{item_id}")
    def get_item(request: Request, collection_id: str, item_id: str) -> Json:
        _require_collection(collection_id)
        found = _answer(request, folder, Search(ids=[item_id]))["features"]
        if not found:
            raise HTTPException(404, "There is no such item.")
        item: Json = found[0]
        return item

    @app.get("/search")
    def get_search(
        request: Request,
        bbox: str | None = None,
        datetime: str | None = None,
        collections: str | None = None,
        ids: str | None = None,
        limit: Annotated[int, Query(ge=1, le=1000)] = 100,
    ) -> Json:
        numbers = [float(v) for v in bbox.split(",")] if bbox else None
        named = collections.split(",") if collections else None
        return _answer(
            request, folder,
            Search(bbox=numbers, datetime=datetime, collections=named,
                   ids=ids.split(",") if ids else None, limit=limit),
        )  # fmt: skip

    @app.post("/search")
    def post_search(request: Request, body: Search) -> Json:
        return _answer(request, folder, body)

    return app


def _link(rel: str, href: str, kind: str = "application/json") -> Json:
    return {"rel": rel, "href": href, "type": kind}


def _require_collection(collection_id: str) -> None:
    if collection_id != COLLECTION:
        raise HTTPException(404, "There is no such collection.")


def _load_items(folder: Path) -> list[Json]:
    return [json.loads(p.read_text("utf-8")) for p in sorted((folder / "items").glob("*.json"))]


def _collection(request: Request, folder: Path) -> Json:
    base = str(request.base_url)
    items = _load_items(folder)
    boxes = [item["bbox"] for item in items]
    times = sorted(item["properties"]["datetime"] for item in items)
    whole = [f(b[i] for b in boxes) for i, f in enumerate((min, min, max, max))] if boxes else []
    return {
        "type": "Collection",
        "stac_version": VERSION,
        "id": COLLECTION,
        "title": "Whimbrel-8",
        "description": "Eight bands of a made-up sensor.",
        "license": "CC0-1.0",
        "extent": {
            "spatial": {"bbox": [whole or [-180, -90, 180, 90]]},
            "temporal": {"interval": [[times[0], times[-1]] if times else [None, None]]},
        },
        "links": [
            _link("self", f"{base}collections/{COLLECTION}"),
            _link("root", base),
            _link("items", f"{base}collections/{COLLECTION}/items", "application/geo+json"),
        ],
    }


def _answer(request: Request, folder: Path, search: Search) -> Json:
    items = [item for item in _load_items(folder) if _matches(item, search)]
    features = [_absolute(item, str(request.base_url)) for item in items[: search.limit]]
    return {
        "type": "FeatureCollection",
        "features": features,
        "links": [],
        "numberMatched": len(items),
        "numberReturned": len(features),
    }


def _matches(item: Json, search: Search) -> bool:
    if search.ids is not None and item["id"] not in search.ids:
        return False
    if search.collections is not None and item["collection"] not in search.collections:
        return False
    footprint = shape(item["geometry"])
    if search.bbox is not None and not footprint.intersects(
        box(*search.bbox[:2], *search.bbox[-2:])
    ):
        return False
    if search.intersects is not None and not footprint.intersects(shape(search.intersects)):
        return False
    return _within(item["properties"]["datetime"], search.datetime)


def _within(moment: str, interval: str | None) -> bool:
    """An instant, or an interval with both ends included; ``..`` leaves an end open."""
    if not interval:
        return True
    first, _, last = interval.partition("/")
    last = last or first
    when = datetime.fromisoformat(moment)
    after = first in ("", "..") or when >= datetime.fromisoformat(first)
    before = last in ("", "..") or when <= datetime.fromisoformat(last)
    return after and before


def _absolute(item: Json, base: str) -> Json:
    assets = {
        key: asset | {"href": f"{base}files/{asset['href']}"}
        for key, asset in item["assets"].items()
    }
    links = [
        _link("self", f"{base}collections/{COLLECTION}/items/{item['id']}", "application/geo+json"),
        _link("collection", f"{base}collections/{COLLECTION}"),
        _link("root", base),
    ]
    return item | {"assets": assets, "links": links}
