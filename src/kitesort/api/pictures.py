"""Pictures over HTTP: entity tags, caching, and an answer for tiles that do not exist."""

import hashlib
from collections.abc import Callable

from fastapi import Request, Response

IMMUTABLE = "private, max-age=31536000, immutable"
CHECK_FIRST = "private, no-cache"


def picture_response(
    request: Request, key: str, make: Callable[[], bytes], cache_control: str = CHECK_FIRST
) -> Response:
    """304 when the browser has this picture already, else the picture with its entity tag.

    ``key`` names everything that the pixels depend on.
    """
    tag = f'"{hashlib.blake2s(key.encode(), digest_size=12).hexdigest()}"'
    headers = {"ETag": tag, "Cache-Control": cache_control}
    if request.headers.get("if-none-match") == tag:
        return Response(status_code=304, headers=headers)
    return Response(make(), media_type="image/png", headers=headers)
