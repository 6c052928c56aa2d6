"""The tiny real scenes that Debian's package r-cran-satellite carries; none of its code is used."""

import os
from pathlib import Path

import pytest

from kitesort.core.delivery.inventory import take_inventory
from kitesort.core.delivery.recognise import recognise
from kitesort.core.delivery.scene import DeliveredScene


@pytest.fixture(scope="session")
def chips() -> Path:
    named = os.environ.get("KITESORT_OPEN_DATA")
    assert named, "run ./test, which fetches the open data, or set KITESORT_OPEN_DATA"
    return Path(named) / "satellite"


@pytest.fixture(scope="session")
def scenes(chips: Path) -> dict[str, DeliveredScene]:
    found = recognise(take_inventory(chips / "extdata"))
    assert found.problems == ()
    return {r.scene.name: r.scene for r in found.scenes}
