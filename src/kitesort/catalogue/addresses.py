"""Which addresses may be contacted at all: those that the administrator named, and no other."""

import json
import os
from typing import Any
from urllib.parse import urlsplit

import requests
from requests.adapters import HTTPAdapter

from kitesort.core.errors import CatalogueError, RefusedAddressError

TIMEOUT_SECONDS = (4.0, 20.0)
MAX_ANSWER_BYTES = 32 * 2**20


def configured_catalogues() -> list[str]:
    """Addresses of catalogues, the shipped stand-in first."""
    return os.environ.get("KITESORT_CATALOGUES", "").split()


def _allowed_origins() -> set[str]:
    hosts = os.environ.get("KITESORT_DOWNLOADS", "").split()
    pictures = json.loads(os.environ.get("KITESORT_PICTURES") or "[]")
    tiles = [str(picture.get("address", "")) for picture in pictures]
    return {origin_of(url) for url in [*configured_catalogues(), *hosts, *tiles]}


def origin_of(url: str) -> str:
    parts = urlsplit(url)
    port = parts.port or {"http": 80, "https": 443}.get(parts.scheme, 0)
    return f"{parts.scheme}://{(parts.hostname or '').lower()}:{port}"


def is_on_this_machine(url: str) -> bool:
    return urlsplit(url).hostname in ("127.0.0.1", "localhost", "::1")


def require_allowed_address(url: str) -> str:
    """The address, when its host is one that the administrator allowed.

    Raises
    ------
    RefusedAddressError
    """
    try:
        allowed = urlsplit(url).scheme in ("http", "https") and origin_of(url) in _allowed_origins()
    except ValueError:
        allowed = False
    if not allowed:
        raise RefusedAddressError(
            f"The address {url[:120]} is not among those that the server may contact. Whoever runs "
            "it can allow it."
        )
    return url


class _Guard(HTTPAdapter):
    """Looks at every address just before it is contacted, after redirects too, and reads at most
    so much of an answer, unless it is streamed to disk."""

    def __init__(self, timeout: tuple[float, float]) -> None:
        self.timeout = timeout
        super().__init__(max_retries=0)

    def send(self, request: requests.PreparedRequest, *args: Any, **kwargs: Any) -> Any:
        require_allowed_address(request.url or "")
        streamed = kwargs.get("stream", False)
        kwargs |= {"stream": True, "timeout": self.timeout}
        response = super().send(request, *args, **kwargs)
        if not streamed:
            _read_bounded(response)
        return response


def _read_bounded(response: requests.Response) -> None:
    content = bytearray()
    for chunk in response.iter_content(2**16):
        content += chunk
        if len(content) > MAX_ANSWER_BYTES:
            response.close()
            raise CatalogueError("The catalogue's answer is far too large to be one.")
    response._content = bytes(content)


def guarded_session(timeout: tuple[float, float] | None = None) -> requests.Session:
    """A session that can only reach allowed addresses, and no proxy."""
    session = requests.Session()
    session.trust_env = False
    session.max_redirects = 5
    for scheme in ("http://", "https://"):
        session.mount(scheme, _Guard(timeout or TIMEOUT_SECONDS))
    return session
