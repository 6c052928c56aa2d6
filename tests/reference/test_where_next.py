"""Where to draw next, on the demo, with its truth for the analyst's knowledge."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
import pytest

from kitesort.core.classify.methods.maximum_likelihood import MaximumLikelihoodSettings
from kitesort.core.classify.protocol import TrainedClassifier
from kitesort.core.classify.shares import shares_of
from kitesort.core.classify.where_next import where_next
from kitesort.core.raster.protocol import Block, Raster, roles_of
from kitesort.core.training.samples import TrainingSamples
from kitesort.demo.generate import DemoStudy
from support.fitting import fit
from support.pixels import in_sites

KIND = "log likelihood"
EVERY = 4  # pixel of the scene, in both directions, is looked at to count wrong ones
Cell = tuple[int, int]


@dataclass(frozen=True)
class Analyst:
    """Draws a site of the pixels around a place that are of its cover."""

    truth: npt.NDArray[np.uint8]
    block: Block
    roles: tuple[str, ...]

    def around(self, cell: Cell) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.int64]]:
        rows, cols = np.mgrid[
            max(cell[0] - 2, 0) : min(cell[0] + 3, self.truth.shape[0]),
            max(cell[1] - 2, 0) : min(cell[1] + 3, self.truth.shape[1]),
        ]
        same = (self.truth[rows, cols] == self.truth[cell]) & self.block.valid[rows, cols]
        return rows[same], cols[same]

    def samples(self, cells: list[Cell]) -> TrainingSamples:
        places = [self.around(cell) for cell in cells]
        found = in_sites(
            [
                (int(self.truth[cell]), self.block.values[:, rows, cols].T)
                for cell, (rows, cols) in zip(cells, places, strict=True)
            ]
        )
        return TrainingSamples(
            found.values, found.codes, self.roles, found.names, found.sites,
            np.concatenate([rows for rows, _ in places]).astype(np.int32),
            np.concatenate([cols for _, cols in places]).astype(np.int32),
        )  # fmt: skip

    def trained(self, cells: list[Cell]) -> tuple[TrainedClassifier, TrainingSamples]:
        samples = self.samples(cells)
        enough = [c for c in samples.class_codes if (samples.codes == c).sum() > len(self.roles)]
        used = samples.of_classes(enough)
        return fit(used, MaximumLikelihoodSettings()), used

    def share_wrong(self, model: TrainedClassifier) -> float:
        some = np.zeros(self.truth.shape, bool)
        some[::EVERY, ::EVERY] = True
        some &= self.block.valid
        told = model.classify(np.ascontiguousarray(self.block.values[:, some]))
        return float((told != self.truth[some]).mean())

    def first_sites(self, rng: np.random.Generator) -> list[Cell]:
        """Two of each cover, away from its edges."""
        cells: list[Cell] = []
        for code in range(1, 10):
            known = np.argwhere((self.truth == code) & self.block.valid)
            wanted = len(cells) + 2
            while len(cells) < wanted:
                row, col = known[rng.integers(len(known))].tolist()
                if len(self.around((row, col))[0]) >= 20:
                    cells.append((row, col))
        return cells


@pytest.fixture(scope="module")
def analyst(demo: DemoStudy, summer: Raster) -> Analyst:
    roles = roles_of(summer)
    return Analyst(demo.truth, summer.read(summer.grid.whole, roles), roles)


@pytest.mark.thorough
def test_sites_where_it_says_leave_fewer_pixels_wrong_than_anywhere(
    analyst: Analyst, summer: Raster
) -> None:
    """Forty sites in two rounds, three seeds: less is wrong on the way, each time."""
    usable = np.argwhere(analyst.block.valid)
    for seed in range(3):
        first = analyst.first_sites(np.random.default_rng(seed))
        guided, anywhere = list(first), list(first)
        rng = np.random.default_rng([seed, 1])
        ways = {"guided": guided, "anywhere": anywhere}
        wrong: dict[str, list[float]] = {way: [] for way in ways}
        for _ in range(2):
            model, samples = analyst.trained(guided)
            guided += [
                (place.row, place.col)
                for place in where_next(summer, model, KIND, samples, n=20, seed=seed)
            ]
            anywhere += [tuple(usable[i].tolist()) for i in rng.integers(len(usable), size=20)]
            for way, cells in ways.items():
                wrong[way].append(analyst.share_wrong(analyst.trained(cells)[0]))
        assert len(guided) == len(anywhere) == 18 + 40
        assert sum(wrong["guided"]) < sum(wrong["anywhere"]), (seed, wrong)


def test_places_are_usable_apart_and_away_from_sites(analyst: Analyst, summer: Raster) -> None:
    model, samples = analyst.trained(analyst.first_sites(np.random.default_rng(5)))
    places = where_next(summer, model, KIND, samples)
    assert len(places) == 10
    assert all(analyst.block.valid[place.row, place.col] for place in places)
    assert len({(place.row, place.col) for place in places}) == 10
    for place in places:
        away = np.hypot(samples.rows - place.row, samples.cols - place.col).min()
        assert place.distance == away >= 8
        assert 1 >= place.scores[0] >= place.scores[1] >= 0
    assert where_next(summer, model, KIND, samples) == places


def test_scores_as_shares() -> None:
    logs = np.log(np.array([[0.2, 0.5], [0.6, 0.5]]))
    assert np.allclose(shares_of(logs, KIND), [[0.25, 0.5], [0.75, 0.5]])
    assert np.allclose(shares_of(np.array([[3, 0], [1, 0]]), "votes"), [[0.75, 0], [0.25, 0]])
    assert np.allclose(shares_of(np.array([[-1e9], [-1e9]]), "squared distance"), 0.5)
