"""The API's own routers: what all of their routes have in common."""

from collections.abc import Iterable
from types import ModuleType

from fastapi import APIRouter, FastAPI
from fastapi.routing import APIRoute

from kitesort.api.document import RESPONSES

PREFIX = "/api"


def api_router(tag: str) -> APIRouter:
    """Routes below ``/api``, called as their functions are, with refusals described."""
    return APIRouter(
        prefix=PREFIX,
        tags=[tag],
        responses=RESPONSES,
        generate_unique_id_function=_operation_id,
    )


def add_routes(app: FastAPI, parts: Iterable[ModuleType]) -> None:
    """Every ``router`` of the parts, route by route: whole routers inside the application are gone
    through twice for each request, which took longer than most answers."""
    for part in parts:
        app.router.routes.extend(part.router.routes)


def _operation_id(route: APIRoute) -> str:
    return route.name
