"""Pictures over HTTP: entity tags, caching, and an answer for tiles that do not exist."""

import hashlib
from collections import OrderedDict
from collections.abc import Callable
from threading import Lock

from fastapi import Request, Response

IMMUTABLE = "private, max-age=31536000, immutable"
CHECK_FIRST = "private, no-cache"
KEPT_PICTURES = 256  # about 100 kB each


class _Newest:
    """The pictures asked for last, by entity tag."""

    def __init__(self, n_kept: int) -> None:
        self._n_kept = n_kept
        self._pictures: OrderedDict[str, bytes] = OrderedDict()
        self._lock = Lock()

    def get(self, tag: str, make: Callable[[], bytes]) -> bytes:
        with self._lock:
            known = self._pictures.get(tag)
            if known is not None:
                self._pictures.move_to_end(tag)
                return known
        content = make()
        with self._lock:
            self._pictures[tag] = content
            while len(self._pictures) > self._n_kept:
                self._pictures.popitem(last=False)
        return content


_newest = _Newest(KEPT_PICTURES)


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
