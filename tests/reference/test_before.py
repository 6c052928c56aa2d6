"""What came out before statistics read native pixels and validity had one rule comes out still.

``before.json`` was written by ``support.outcome`` with the program as it was then, on the demo's
summer pass: only what was wrong may have changed, and none of this was.
"""

import json
from pathlib import Path

import pytest

from kitesort.demo.generate import DemoStudy
from support.outcome import outcomes

BEFORE = json.loads((Path(__file__).parent / "before.json").read_text())


@pytest.fixture(scope="module")
def now(demo: DemoStudy) -> dict[str, list[float]]:
    return outcomes(demo.metadata["summer"], demo.truth)


@pytest.mark.parametrize("name", sorted(BEFORE))
def test_the_same_pixels_as_before(now: dict[str, list[float]], name: str) -> None:
    assert now[name] == pytest.approx(BEFORE[name], rel=1e-6, abs=1e-7)
    assert set(now) == set(BEFORE)
