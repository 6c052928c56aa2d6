"""Tests of the front end's pure logic: Vitest runs them once, pytest counts each of them."""

import json
import os
import shutil
import subprocess
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from support.shared import one_at_a_time, shared_folder

WEB = Path(__file__).parents[2] / "web"
# West of Greenwich, where a careless date is the day before.
PLACE = {"TZ": "America/Anchorage"}


class WebTest(pytest.Item):
    """One test as Vitest told of it."""

    def __init__(self, *, told: dict[str, Any], **kwargs: Any) -> None:
        super().__init__(**kwargs)
        self._told = told

    def runtest(self) -> None:
        if self._told["status"] != "passed":
            raise WebTestFailedError("\n".join(self._told["failureMessages"]) or "it was not run")

    def repr_failure(self, excinfo: pytest.ExceptionInfo[BaseException], *_: Any) -> str:  # type: ignore[override]
        return str(excinfo.value)


class WebTestFailedError(Exception):
    """What Vitest says of a failed test."""


class WebFile(pytest.File):
    """A file of Vitest's."""

    def collect(self) -> Iterator[WebTest]:
        results = [r for r in _report()["testResults"] if Path(r["name"]) == self.path]
        if not results or not results[0]["assertionResults"]:
            raise self.CollectError(results[0]["message"] if results else "Vitest knows no tests.")
        seen: dict[str, int] = {}
        for told in results[0]["assertionResults"]:
            name = " ".join(told["fullName"].split())
            seen[name] = seen.get(name, 0) + 1
            number = f" ({seen[name]})" if seen[name] > 1 else ""
            yield WebTest.from_parent(self, name=name + number, told=told)


def pytest_collect_file(file_path: Path, parent: pytest.Collector) -> pytest.Collector | None:
    if file_path.name.endswith(".test.ts"):
        return WebFile.from_parent(parent, path=file_path)
    return None


def _report() -> dict[str, Any]:
    """Of the whole folder; the first process that collects has it run."""
    path = shared_folder() / "vitest.json"
    with one_at_a_time("vitest"):
        if not path.exists():
            _run(path)
        report: dict[str, Any] = json.loads(path.read_text())
    return report


def _run(path: Path) -> None:
    npx = shutil.which("npx")
    assert npx, "run ./test, which installs Node.js where it is missing"
    done = subprocess.run(
        [npx, "--no-install", "vitest", "run", "--reporter=json", f"--outputFile={path}"],
        cwd=WEB, env=os.environ | PLACE, capture_output=True, text=True, check=False,
    )  # fmt: skip
    if not path.exists():
        raise pytest.UsageError(f"Vitest did not run:\n{done.stderr[-3000:]}")
