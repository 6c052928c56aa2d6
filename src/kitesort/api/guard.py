"""Headers that keep other pages out, as plain ASGI: a body that is streamed stays streamed."""

from collections.abc import MutableMapping
from typing import Any

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import JSONResponse
from starlette.types import ASGIApp, Receive, Scope, Send

# Everything ships with the application: nothing may be loaded from, or sent to, anywhere else.
CONTENT_POLICY = (
    "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; "
    "worker-src 'self' blob:; frame-ancestors 'none'; base-uri 'none'; form-action 'self'"
)


class GuardHeaders:
    """Refuses what another page sends, and tells the browser to load nothing from elsewhere."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        origin = headers.get("origin")
        is_write = scope["method"] not in ("GET", "HEAD")
        if origin and is_write and origin.split("://")[-1] != headers.get("host"):
            refusal = JSONResponse({"detail": "Requests from other pages are refused."}, 403)
            await refusal(scope, receive, send)
            return

        async def send_guarded(message: MutableMapping[str, Any]) -> None:
            if message["type"] == "http.response.start":
                answer = MutableHeaders(scope=message)
                answer.setdefault("Content-Security-Policy", CONTENT_POLICY)
                answer.setdefault("X-Content-Type-Options", "nosniff")
            await send(message)

        await self._app(scope, receive, send_guarded)
