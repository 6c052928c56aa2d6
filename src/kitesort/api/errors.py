"""From typed errors to RFC 9457 problem details, in one table."""

import logging
from collections.abc import Callable
from http import HTTPStatus
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from peewee import DataError, IntegrityError, OperationalError
from pydantic import BaseModel
from starlette.exceptions import HTTPException

from kitesort.core import errors

log = logging.getLogger(__name__)

# The nearest class on the way up decides; a test walks all error classes.
STATUS: dict[type[errors.KiteSortError], HTTPStatus] = {
    errors.KiteSortError: HTTPStatus.BAD_REQUEST,
    errors.InputError: HTTPStatus.UNPROCESSABLE_ENTITY,
    errors.NotFoundError: HTTPStatus.NOT_FOUND,
    errors.ConflictError: HTTPStatus.CONFLICT,
    errors.CatalogueError: HTTPStatus.BAD_GATEWAY,
    errors.StorageError: HTTPStatus.INSUFFICIENT_STORAGE,
    errors.CancelledError: HTTPStatus.CONFLICT,
}
# Errors of the libraries below us, where they are the user's business at all.
FOREIGN: dict[type[Exception], tuple[HTTPStatus, str, str]] = {
    OperationalError: (
        HTTPStatus.SERVICE_UNAVAILABLE,
        "database",
        "The database does not answer just now. Nothing is lost; try again in a moment.",
    ),
    IntegrityError: (
        HTTPStatus.CONFLICT,
        "collision",
        "That does not fit what is there now: it was changed elsewhere at the same moment. "
        "Nothing was written; reload and try again.",
    ),
    DataError: (
        HTTPStatus.UNPROCESSABLE_ENTITY,
        "impossible-value",
        "A number or text in the request is out of bounds. Nothing was written.",
    ),
    Exception: (
        HTTPStatus.INTERNAL_SERVER_ERROR,
        "unforeseen",
        "Something unexpected went wrong in the server. Nothing half-done was kept; "
        "its log says more.",
    ),
}
MEDIA_TYPE = "application/problem+json"


class Problem(BaseModel):
    """RFC 9457 problem details; ``detail`` is the sentence to show."""

    type: str
    title: str
    status: int
    detail: str


def status_of(error: type[errors.KiteSortError]) -> HTTPStatus:
    return next(STATUS[kind] for kind in error.__mro__ if kind in STATUS)


def problem_response(status: HTTPStatus, code: str, detail: str) -> JSONResponse:
    body = Problem(
        type=f"urn:kitesort:{code}", title=status.phrase, status=status.value, detail=detail
    )
    return JSONResponse(body.model_dump(), status.value, media_type=MEDIA_TYPE)


def add_error_handlers(app: FastAPI) -> None:
    @app.exception_handler(errors.KiteSortError)
    def _known(_: Request, error: errors.KiteSortError) -> JSONResponse:
        return problem_response(status_of(type(error)), error.code, error.sentence)

    @app.exception_handler(RequestValidationError)
    def _invalid(_: Request, error: RequestValidationError) -> JSONResponse:
        return problem_response(
            HTTPStatus.UNPROCESSABLE_ENTITY, "invalid-request", _first_sentence(error.errors())
        )

    @app.exception_handler(HTTPException)
    def _http(_: Request, error: HTTPException) -> JSONResponse:
        return problem_response(HTTPStatus(error.status_code), "http", str(error.detail))

    for kind, (status, code, sentence) in FOREIGN.items():
        app.add_exception_handler(kind, _foreign_handler(status, code, sentence))


def _foreign_handler(
    status: HTTPStatus, code: str, sentence: str
) -> Callable[[Request, Exception], JSONResponse]:
    def handle(request: Request, error: Exception) -> JSONResponse:
        log.error("%s %s: %s", request.method, request.url.path, error, exc_info=error)
        return problem_response(status, code, sentence)

    return handle


def _first_sentence(details: Any) -> str:
    first = details[0]
    where = " ".join(str(part) for part in first["loc"][1:]) or "The request"
    return f"{where.replace('_', ' ')}: {first['msg']}."


RESPONSES: dict[int | str, dict[str, Any]] = {"default": {"model": Problem}}
