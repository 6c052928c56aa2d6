"""The API's own description, where it has to say more than the framework does."""

from typing import Any

from fastapi import FastAPI
from fastapi.openapi.utils import get_openapi

from kitesort.api.problems import MEDIA_TYPE, Problem

RESPONSES: dict[int | str, dict[str, Any]] = {"default": {"model": Problem}}


class DocumentedApp(FastAPI):
    """An application whose refusals are described with their media type."""

    def openapi(self) -> dict[str, Any]:
        if self.openapi_schema is None:
            document = get_openapi(title=self.title, version=self.version, routes=self.routes)
            for operations in document["paths"].values():
                for operation in operations.values():
                    _name_media_type(operation["responses"]["default"])
            self.openapi_schema = document
        return self.openapi_schema


def _name_media_type(refusal: dict[str, Any]) -> None:
    refusal["description"] = "Refused, and why"
    refusal["content"] = {MEDIA_TYPE: refusal["content"].pop("application/json")}
