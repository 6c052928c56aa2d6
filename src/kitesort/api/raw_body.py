"""Bodies that are just bytes: how the API's document describes them, and how they are read."""

from typing import Any

from fastapi import Request

RAW_BODY: dict[str, Any] = {
    "requestBody": {
        "required": True,
        "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
    }
}


async def read_body(request: Request, most: int) -> bytes:
    """The body, or no more than a piece beyond ``most`` bytes of it: whoever reads it refuses what
    is longer."""
    content = bytearray()
    async for piece in request.stream():
        content += piece
        if len(content) > most:
            break
    return bytes(content)
