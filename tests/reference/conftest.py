"""Scenes that several files look at: the demo's summer pass, and the tiny real ones that Debian's
package r-cran-satellite carries (none of its code is used)."""

import os
from pathlib import Path

import pytest

from kitesort.core.delivery import open_delivery, read_delivery
from kitesort.core.delivery.inventory import take_inventory
from kitesort.core.delivery.recognise import recognise
from kitesort.core.delivery.scene import DeliveredScene
from kitesort.core.raster.protocol import Raster
from kitesort.demo.generate import DemoStudy


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


@pytest.fixture(scope="session")
def summer(demo: DemoStudy) -> Raster:
    """The summer pass of the demo study, as reflectance, without cloud."""
    return open_delivery(read_delivery(demo.metadata["summer"]))
