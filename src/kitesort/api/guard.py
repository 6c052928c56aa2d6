"""What is refused before anything looks at it, and headers that keep other pages out; as plain
ASGI: a body that is streamed stays streamed."""

from collections.abc import MutableMapping
from http import HTTPStatus
from typing import Any
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from kitesort.api.problems import problem_response
from kitesort.core.outside_json import OutsideJsonError, require_bounded
from kitesort.store.asker import NOBODY, asking_window

# Everything ships with the application: nothing may be loaded from, or sent to, anywhere else.
CONTENT_POLICY = (
    "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; "
    "worker-src 'self' blob:; frame-ancestors 'none'; base-uri 'none'; form-action 'self'"
)
LOCAL_HOSTS = ("127.0.0.1", "localhost", "::1")
MOST_BYTES = 8 * 2**20
# Bodies that are files; whoever takes one reads it piece by piece and has a bound of its own.
STREAMED = ("/file", "/boundaries", "/ground-files", "/scheme-files")


class Guard:
    """Refuses what another page sends and what is too much, and tells the browser to load nothing
    from elsewhere."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return

        async def send_guarded(message: MutableMapping[str, Any]) -> None:
            if message["type"] == "http.response.start":
                answer = MutableHeaders(scope=message)
                answer.setdefault("Content-Security-Policy", CONTENT_POLICY)
                answer.setdefault("X-Content-Type-Options", "nosniff")
                answer.setdefault("Cross-Origin-Resource-Policy", "same-origin")
            await send(message)

        refusal, receive = _refusal(scope), receive
        if refusal is None and not scope["path"].endswith(STREAMED):
            refusal, receive = await _whole_body(scope, receive)
        asking_window.set(Headers(scope=scope).get("x-window", NOBODY)[:64])
        await (refusal or self._app)(scope, receive, send_guarded)


def _refusal(scope: Scope) -> Response | None:
    if "\0" in scope["path"] or b"%00" in scope["query_string"]:
        return _problem(HTTPStatus.BAD_REQUEST, "The address holds a character that is none.")
    headers = Headers(scope=scope)
    host = headers.get("host", "")
    # A page elsewhere must not reach a server on loopback through a name that points here.
    if _host_name(host) not in LOCAL_HOSTS:
        return _problem(HTTPStatus.BAD_REQUEST, "This server is reached by a local name only.")
    origin = headers.get("origin")
    if origin and scope["method"] not in ("GET", "HEAD") and origin.split("://")[-1] != host:
        return _problem(HTTPStatus.FORBIDDEN, "Requests from other pages are refused.")
    return None


def _host_name(host: str) -> str | None:
    try:
        return urlsplit(f"//{host}").hostname
    except ValueError:
        return None


async def _whole_body(scope: Scope, receive: Receive) -> tuple[Response | None, Receive]:
    """Take a body in up to the bound, JSON bounded in itself; what hands it on once."""
    pieces: list[bytes] = []
    received, more = 0, True
    while more:
        message = await receive()
        if message["type"] != "http.request":
            break  # gone before all had come: the application sees that for itself
        pieces.append(message.get("body", b""))
        received += len(pieces[-1])
        if received > MOST_BYTES:
            most = MOST_BYTES // 2**20
            return _problem(
                HTTPStatus.REQUEST_ENTITY_TOO_LARGE,
                f"More than {most} MiB were sent at once; more than any form here needs.",
            ), receive
        more = message.get("more_body", False)
    body = b"".join(pieces)
    first: Message | None = {"type": "http.request", "body": body, "more_body": more}

    async def hand_on() -> Message:
        nonlocal first
        if first is None:
            return await receive()
        given, first = first, None
        return given

    is_json = "json" in Headers(scope=scope).get("content-type", "").lower()
    return _unbounded(body) if is_json else None, hand_on


def _unbounded(text: bytes) -> Response | None:
    """The refusal of JSON that nothing shall look at."""
    try:
        require_bounded(text)
    except OutsideJsonError as error:
        return _problem(HTTPStatus.UNPROCESSABLE_ENTITY, f"What was sent cannot be read. {error}")
    return None


def _problem(status: HTTPStatus, sentence: str) -> Response:
    return problem_response(status, "refused", sentence)
