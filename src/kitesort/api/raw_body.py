"""How a body that is just bytes is described in the API's document."""

from typing import Any

RAW_BODY: dict[str, Any] = {
    "requestBody": {
        "required": True,
        "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}},
    }
}
