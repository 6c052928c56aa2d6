"""Every promise names tests that are there."""

import re
from pathlib import Path

TESTS = Path(__file__).parents[1]
PROMISES = TESTS.parent / "docs" / "trust.md"


def test_promises_name_tests_that_are_there() -> None:
    named = set(re.findall(r"`(?:\./test tests/)?(\w+/test_\w+\.py)", PROMISES.read_text("utf-8")))
    assert len(named) > 15
    assert [name for name in sorted(named) if not (TESTS / name).is_file()] == []
