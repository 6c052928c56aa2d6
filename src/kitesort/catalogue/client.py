"""Search a catalogue, look at a scene before it is taken, and fetch its files."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import date
from pathlib import Path
from typing import Any

import requests

from kitesort.catalogue.addresses import guarded_session, require_allowed_address
from kitesort.core.errors import CancelledError, CatalogueError, KiteSortError

MAX_FOUND = 200
MAX_PICTURE_BYTES = 4 * 2**20
CHUNK = 2**20
PICTURES = {b"\x89PNG": "image/png", b"\xff\xd8\xff": "image/jpeg"}
WANTED_ROLES = {"data", "reflectance", "metadata", "cloud", "saturation", "quality"}


@dataclass(frozen=True)
class Query:
    """``bbox`` west, south, east, north in degrees; dates with both ends included."""

    bbox: tuple[float, float, float, float] | None
    first: date | None
    last: date | None
    max_cloud_percent: float | None


@dataclass(frozen=True)
class FoundScene:
    """A scene as the catalogue describes it; the footprint is GeoJSON in degrees."""

    id: str
    collection: str
    title: str
    acquired: date | None
    cloud_percent: float | None
    platform: str
    footprint: dict[str, Any] | None
    bands: tuple[str, ...]
    picture: str | None


def search(address: str, query: Query) -> list[FoundScene]:
    """Scenes that meet the query, newest first, at most 200.

    Raises
    ------
    CatalogueError : down, slow, not allowed, or not a STAC API.
    """
    with _told_in_words(address):
        client = _open(address)
        found = client.search(
            bbox=query.bbox,
            datetime=_interval(query),
            max_items=MAX_FOUND,
            limit=100,
        )
        scenes = [_found(item) for item in found.items_as_dicts()]
    most = query.max_cloud_percent
    clear = [
        s for s in scenes if most is None or s.cloud_percent is None or s.cloud_percent <= most
    ]
    return sorted(clear, key=lambda s: (s.acquired or date.min, s.id), reverse=True)


def get_item(address: str, collection: str, item_id: str) -> dict[str, Any]:
    """The catalogue's full description of a scene.

    Raises
    ------
    CatalogueError
    """
    with _told_in_words(address):
        client = _open(address)
        found = client.search(collections=[collection], ids=[item_id], max_items=1)
        items = list(found.items_as_dicts())
    if not items:
        raise CatalogueError(f"The catalogue does not have the scene {item_id} any more.")
    return items[0]


def fetch_picture(url: str) -> tuple[bytes, str]:
    """A quick-look and its media type; nothing but PNG and JPEG is handed on.

    Raises
    ------
    CatalogueError
    """
    require_allowed_address(url)
    with _told_in_words(url), guarded_session() as session:
        answer = session.get(url)
        answer.raise_for_status()
        content = answer.content
    kind = next((k for head, k in PICTURES.items() if content.startswith(head)), None)
    if kind is None or len(content) > MAX_PICTURE_BYTES:
        raise CatalogueError("The catalogue's quick-look is no picture.")
    return content, kind


def wanted_assets(item: dict[str, Any]) -> dict[str, str]:
    """File name by asset address: bands, quality and metadata, no previews.

    Raises
    ------
    CatalogueError : nothing to fetch, or a file name that is none.
    """
    assets = item.get("assets") or {}
    wanted: dict[str, str] = {}
    for key, asset in assets.items():
        roles = set(asset.get("roles") or ())
        name = str(asset.get("href", "")).split("?")[0].rpartition("/")[2]
        if roles & WANTED_ROLES and not roles & {"thumbnail", "overview"} and name:
            if name.startswith(".") or name in wanted.values():
                raise CatalogueError(f"The catalogue names the file of {key} wrongly.")
            wanted[asset["href"]] = name
    if not wanted:
        raise CatalogueError("The catalogue offers no band files for this scene.")
    return wanted


def fetch_file(
    url: str, path: Path, advance: Callable[[int], None], is_cancelled: Callable[[], bool]
) -> None:
    """Stream a file to disk under a temporary name, then rename it.

    Raises
    ------
    CatalogueError, CancelledError
    """
    require_allowed_address(url)
    part = path.with_name(f".{path.name}.part")
    with _told_in_words(url), guarded_session() as session:
        answer = session.get(url, stream=True)
        answer.raise_for_status()
        announced = answer.headers.get("content-length")
        with part.open("wb") as out:
            for chunk in answer.iter_content(CHUNK):
                if is_cancelled():
                    part.unlink(missing_ok=True)
                    raise CancelledError("Cancelled. Nothing was taken.")
                out.write(chunk)
                advance(len(chunk))
    if (
        announced
        and "content-encoding" not in answer.headers
        and part.stat().st_size != int(announced)
    ):
        raise CatalogueError(f"{path.name} arrived cut short. Take the scene again.")
    part.replace(path)


def _open(address: str) -> Any:
    from pystac_client import Client  # slow to import, and only needed here
    from pystac_client.stac_api_io import StacApiIO

    require_allowed_address(address)
    io = StacApiIO(max_retries=None)
    io.session = guarded_session()
    return Client.open(address, stac_io=io)


def _interval(query: Query) -> str | None:
    if query.first is None and query.last is None:
        return None
    first = f"{query.first.isoformat()}T00:00:00Z" if query.first else ".."
    last = f"{query.last.isoformat()}T23:59:59Z" if query.last else ".."
    return f"{first}/{last}"


def _found(item: dict[str, Any]) -> FoundScene:
    told = item.get("properties") or {}
    assets = item.get("assets") or {}
    when = str(told.get("datetime") or told.get("start_datetime") or "")[:10]
    picture = next(
        (a["href"] for a in assets.values()
         if set(a.get("roles") or ()) & {"thumbnail", "overview"} and "href" in a), None,
    )  # fmt: skip
    described = [b for a in assets.values() for b in a.get("eo:bands") or a.get("bands") or ()]
    bands = [b.get("common_name") or b.get("eo:common_name") or b.get("name") for b in described]
    return FoundScene(
        id=str(item["id"]),
        collection=str(item.get("collection") or ""),
        title=str(told.get("title") or item["id"]),
        acquired=date.fromisoformat(when) if when else None,
        cloud_percent=told.get("eo:cloud_cover"),
        platform=str(told.get("platform") or ""),
        footprint=item.get("geometry"),
        bands=tuple(dict.fromkeys(b for b in bands if b)),
        picture=picture,
    )


@contextmanager
def _told_in_words(address: str) -> Iterator[None]:
    """One sentence for everything that can go wrong on the way to a catalogue."""
    try:
        yield
    except (KiteSortError, OSError) as error:
        if isinstance(error, requests.RequestException):
            raise _in_words(address, error) from error
        raise
    except Exception as error:  # whatever a parser makes of nonsense
        raise _in_words(address, error) from error


def _in_words(address: str, error: Exception) -> KiteSortError:
    """The client library wraps what went wrong below it; the innermost cause says it best."""
    causes = list(_causes(error))
    for cause in causes:
        if isinstance(cause, KiteSortError):
            return cause
    if any(isinstance(cause, requests.Timeout) for cause in causes):
        return CatalogueError(
            f"The catalogue at {address} does not answer in time. Try again later."
        )
    if any(isinstance(cause, requests.RequestException) for cause in causes):
        return CatalogueError(
            f"The catalogue at {address} cannot be reached. The study is untouched; "
            "try again later."
        )
    return CatalogueError(
        f"What {address} answers is not a STAC API, or not one that can be understood."
    )


def _causes(error: BaseException | None) -> Iterator[BaseException]:
    while error is not None:
        yield error
        error = error.__cause__ or error.__context__
