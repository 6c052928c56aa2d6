"""Which reference pictures there are: the demo's own, and those that the administrator lists."""

import json
from collections.abc import Sequence
from pathlib import Path

from pydantic_core import to_jsonable_python

from kitesort.catalogue.pictures import PictureSource, read_sources
from kitesort.core.errors import InputError
from kitesort.launch.postgres import LaunchError

DEMO_TAKEN = "2024-07-18"


def pictures_json(files: Sequence[Path], standin_port: int | None) -> str:
    """All sources as one JSON list, for the parts.

    Raises
    ------
    LaunchError : a list that cannot be read or used.
    """
    sources = [_demo_picture(standin_port)] if standin_port else []
    for path in files:
        try:
            sources += read_sources(path.read_text("utf-8"))
        except (OSError, UnicodeDecodeError, InputError) as error:
            raise LaunchError(f"{path}: {error}") from error
    return json.dumps(to_jsonable_python(sources))


def _demo_picture(port: int) -> PictureSource:
    return PictureSource.model_validate(
        {
            "id": "demo-photo",
            "title": "Reference photo",
            "address": f"http://127.0.0.1:{port}/picture/{{z}}/{{x}}/{{y}}.png",
            "source": "the demo’s generator, 2.5 m",
            "taken": DEMO_TAKEN,
            "max_level": 16,
        }
    )
