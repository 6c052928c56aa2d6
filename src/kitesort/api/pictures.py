"""Pictures over HTTP: entity tags, caching, and an answer for tiles that do not exist."""

import hashlib
from collections.abc import Callable

from fastapi import Request, Response

from kitesort.core.newest import Newest

IMMUTABLE = "private, max-age=31536000, immutable"
CHECK_FIRST = "private, no-cache"
KEPT_BYTES = 32 * 2**20

_newest: Newest[str, bytes] = Newest(KEPT_BYTES, len)


def picture_response(
    request: Request,
    key: str,
    make: Callable[[], bytes],
    cache_control: str = CHECK_FIRST,
    *,
    is_shared: bool = False,
) -> Response:
    """304 when the browser has this picture already, else the picture with its entity tag.

    ``key`` names everything that the pixels depend on. ``is_shared``: many viewers are likely to
    ask for the same one, so that it is remembered.
    """
    tag = f'"{hashlib.blake2s(key.encode(), digest_size=12).hexdigest()}"'
    headers = {"ETag": tag, "Cache-Control": cache_control}
    if request.headers.get("if-none-match") == tag:
        return Response(status_code=304, headers=headers)
    content = _newest.get(tag, make) if is_shared else make()
    return Response(content, media_type="image/png", headers=headers)
