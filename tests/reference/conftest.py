"""Scenes that several files look at: the demo's summer pass, and the tiny real ones that Debian's
package r-cran-satellite carries (none of its code is used)."""

import os
from pathlib import Path

import numpy as np
import numpy.typing as npt
import pytest

from kitesort.core.delivery import open_delivery, read_delivery
from kitesort.core.delivery.inventory import take_inventory
from kitesort.core.delivery.recognise import recognise
from kitesort.core.delivery.scene import DeliveredScene
from kitesort.core.raster.protocol import Raster
from kitesort.core.training.samples import TrainingSamples
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


@pytest.fixture(scope="session")
def demo_samples(demo: DemoStudy) -> tuple[TrainingSamples, npt.NDArray[np.float32]]:
    """120 random pixels of each cover of the summer scene, and every valid pixel of the scene."""
    scene = read_delivery(demo.metadata["summer"])
    raster = open_delivery(scene)
    block = raster.read(raster.grid.whole)
    rng = np.random.default_rng(11)
    values, codes = [], []
    for code in range(1, 10):
        rows, columns = np.nonzero((demo.truth == code) & block.valid)
        pick = rng.choice(len(rows), 120, replace=False)
        values.append(block.values[:, rows[pick], columns[pick]].T)
        codes.append(np.full(120, code, np.uint16))
    samples = TrainingSamples.of_pixels(
        np.concatenate(values), np.concatenate(codes), scene.roles,
        {code: str(code) for code in range(1, 10)},
    )  # fmt: skip
    return samples, np.ascontiguousarray(block.values[:, block.valid])
