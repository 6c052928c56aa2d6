"""Sites carried to the demo's pass of two years earlier, whose truth is known, too."""

import numpy as np
import numpy.typing as npt
import pytest

from kitesort.core.delivery import open_delivery, read_delivery
from kitesort.core.raster.protocol import Block, Raster, roles_of
from kitesort.core.training.carried import carry
from kitesort.core.training.site_figures import site_figures
from kitesort.demo.cover import BARLEY, MARSH, MUD, PASTURE, REED, WATER
from kitesort.demo.generate import (
    PLANS,
    SEED,
    DemoStudy,
    make_landscape,
    make_reflectance,
)
from kitesort.demo.samples import coarse_truth
from support.pixels import in_sites

HALF = 3
Cell = tuple[int, int]
Codes = npt.NDArray[np.uint8]


def around(cell: Cell) -> tuple[slice, slice]:
    row, col = cell
    return slice(row - HALF, row + HALF + 1), slice(col - HALF, col + HALF + 1)


@pytest.fixture(scope="module")
def earlier_truth() -> Codes:
    plan = next(plan for plan in PLANS if plan.taken.key == "earlier")
    return coarse_truth(make_reflectance(make_landscape(SEED), plan.moment).cover)


def drawn(
    now: Codes, before: Codes, usable: npt.NDArray[np.bool_], rng: np.random.Generator
) -> list[Cell]:
    """Seven by seven pixels of one cover: some of each class where nothing changed, and some of
    those that are open to the tide now where fields were."""
    cells: list[Cell] = []
    for code in range(1, 10):
        for changed, wanted in ((False, 10), (True, 3 if code in (WATER, MUD, MARSH, REED) else 0)):
            kind = (now == code) & usable
            kind &= np.isin(before, (PASTURE, BARLEY)) if changed else before == code
            known = np.argwhere(kind)
            for i in rng.permutation(len(known)):
                if wanted == 0:
                    break
                cell = (int(known[i][0]), int(known[i][1]))
                window = kind[around(cell)]
                whole = window.shape == (7, 7) and usable[around(cell)].all()
                if whole and window.mean() > 0.9:
                    cells.append(cell)
                    wanted -= 1
    return cells


def pixels(cells: list[Cell], truth: Codes, block: Block) -> list[tuple[int, npt.NDArray]]:  # type: ignore[type-arg]
    n_bands = len(block.values)
    return [
        (int(truth[cell]), block.values[(slice(None), *around(cell))].reshape(n_bands, -1).T)
        for cell in cells
    ]


def test_sites_on_ground_that_changed_are_pointed_out(
    demo: DemoStudy, summer: Raster, earlier_truth: Codes
) -> None:
    """At least 80 % of them, with at most 10 % of the others; three draws."""
    earlier = open_delivery(read_delivery(demo.metadata["earlier"]))
    roles = roles_of(summer)
    now, then = (r.read(r.grid.whole, roles) for r in (summer, earlier))
    usable = now.valid & then.valid
    for seed in range(3):
        cells = drawn(demo.truth, earlier_truth, usable, np.random.default_rng(seed))
        here = site_figures(in_sites(pixels(cells, demo.truth, now)))
        there = site_figures(in_sites(pixels(cells, demo.truth, then)))
        found = np.array([carry(a, b).changed for a, b in zip(here, there, strict=True)])
        changed = np.array([earlier_truth[cell] != demo.truth[cell] for cell in cells])
        assert changed.sum() >= 6
        assert found[changed].mean() >= 0.8, seed
        assert found[~changed].mean() <= 0.1, seed
