"""From typed errors to RFC 9457 problem details, in one table."""

import logging
from collections.abc import Callable
from http import HTTPStatus
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse, Response
from peewee import DataError, IntegrityError, InterfaceError, OperationalError
from playhouse.pool import MaxConnectionsExceeded
from procrastinate.exceptions import ConnectorException
from starlette.exceptions import HTTPException

from kitesort.api.problems import problem_response
from kitesort.core import errors
from kitesort.core.storage import is_about_space

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
HTTP_WORDS = {
    404: "There is nothing at this address.",
    405: "This address answers to another method only.",
}
Told = tuple[HTTPStatus, str, str]
FULL: Told = (
    HTTPStatus.INSUFFICIENT_STORAGE,
    errors.DiskFullError.code,
    "The disk is full. Nothing half-written was kept and nothing is lost; make room and try again.",
)
NO_DATABASE: Told = (
    HTTPStatus.SERVICE_UNAVAILABLE,
    "database",
    "The database does not answer just now. Nothing is lost; try again in a moment.",
)
# Errors of the libraries below us, where they are the user's business at all.
FOREIGN: dict[type[Exception], Told] = {
    OperationalError: NO_DATABASE,
    InterfaceError: NO_DATABASE,
    ConnectorException: NO_DATABASE,
    MaxConnectionsExceeded: (
        HTTPStatus.SERVICE_UNAVAILABLE,
        "busy",
        "Too many ask at the same moment. Nothing is lost; try again in a moment.",
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


def status_of(error: type[errors.KiteSortError]) -> HTTPStatus:
    return next(STATUS[kind] for kind in error.__mro__ if kind in STATUS)


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
    def _http(_: Request, error: HTTPException) -> Response:
        answer = problem_response(
            HTTPStatus(error.status_code), "http", HTTP_WORDS.get(error.status_code, error.detail)
        )
        answer.headers.update(error.headers or {})
        return answer

    for kind, told in FOREIGN.items():
        app.add_exception_handler(kind, _foreign_handler(told))


def _foreign_handler(usually: Told) -> Callable[[Request, Exception], JSONResponse]:
    def handle(request: Request, error: Exception) -> JSONResponse:
        log.error("%s %s: %s", request.method, request.url.path, error, exc_info=error)
        return problem_response(*(FULL if is_about_space(error) else usually))

    return handle


def _first_sentence(details: Any) -> str:
    first = details[0]
    where = " ".join(str(part) for part in first["loc"][1:]) or "The request"
    return f"{where.replace('_', ' ')}: {first['msg'].removeprefix('Value error, ')}."
