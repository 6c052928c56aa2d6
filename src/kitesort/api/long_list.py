"""Answers with thousands of rows, written as JSON in one go."""

from collections.abc import Sequence
from typing import TypeVar

from fastapi import Response
from pydantic import BaseModel, TypeAdapter

from kitesort.core.newest import remembered

M = TypeVar("M", bound=BaseModel)
KEPT_WRITERS = 16


def long_list(schema: type[M], rows: Sequence[M]) -> Response:
    """Rows that the program made itself: they are not checked again on their way out."""
    return Response(_writer(schema).dump_json(list(rows)), media_type="application/json")


@remembered(KEPT_WRITERS)
def _writer(schema: type[BaseModel]) -> TypeAdapter[list[BaseModel]]:
    return TypeAdapter(list[schema])  # type: ignore[valid-type]
