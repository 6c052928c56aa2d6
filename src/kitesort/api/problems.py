"""RFC 9457 problem details: how every refusal looks."""

from http import HTTPStatus

from fastapi.responses import JSONResponse
from pydantic import BaseModel

MEDIA_TYPE = "application/problem+json"


class Problem(BaseModel):
    """RFC 9457 problem details; ``detail`` is the sentence to show."""

    type: str
    title: str
    status: int
    detail: str


def problem_response(status: HTTPStatus, code: str, detail: str) -> JSONResponse:
    body = Problem(
        type=f"urn:kitesort:{code}", title=status.phrase, status=status.value, detail=detail
    )
    return JSONResponse(body.model_dump(), status.value, media_type=MEDIA_TYPE)
