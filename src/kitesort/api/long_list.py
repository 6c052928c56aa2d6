"""Answers with thousands of rows, written as JSON in one go."""

from typing import Any

from fastapi import Response
from pydantic_core import to_json


def json_response(answer: Any) -> Response:
    """Plain data that the program made itself: it is not checked again on its way out. The route
    declares its schema, and the tests hold the answer against it."""
    return Response(to_json(answer, inf_nan_mode="null"), media_type="application/json")
