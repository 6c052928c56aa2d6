"""Answers with thousands of rows: written as JSON in one go, and remembered."""

from collections.abc import Callable
from typing import Any

from fastapi import Response
from pydantic_core import to_json

from kitesort.core.newest import Newest

KEPT_BYTES = 128 * 2**20
_written: Newest[str, bytes] = Newest(KEPT_BYTES, len)


def long_answer(version: str, make: Callable[[], Any]) -> Response:
    """An answer of plain data that the program makes itself, so that it is not checked again on its
    way out; asked for again while its ``version`` stands, it is the same text. The route declares
    its schema, and the tests hold the answer against it."""
    text = _written.get(version, lambda: to_json(make(), inf_nan_mode="null"))
    return Response(text, media_type="application/json")
