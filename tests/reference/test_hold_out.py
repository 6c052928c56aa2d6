"""What held-out sites promise: coverage of the possible classes, ground unlike any known."""

from dataclasses import replace
from functools import partial

import numpy as np
import numpy.typing as npt
import pytest
from scipy.spatial.distance import cdist

from kitesort.core.classify.applicability import MOST_POINTS, measure_applicability
from kitesort.core.classify.conformal import calibrate, possible
from kitesort.core.classify.hold_out import hold_out
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.classify.shares import margin_of, shares_of
from kitesort.core.classify.trained import make_classifier
from kitesort.core.classify.training import SchemeClass, Training
from kitesort.core.classify.trial import layer_worth
from kitesort.core.engine import UNWATCHED, Watch
from kitesort.core.training.folds import assign_folds, group_sites
from kitesort.core.training.samples import TrainingSamples
from support.arrays import ArrayRaster

SITE_PX = 9
MEANS = np.array([[0.10, 0.20], [0.16, 0.24], [0.13, 0.30]])


def draw_sites(
    rng: np.random.Generator, n_sites: int, roles: tuple[str, ...] = ("red", "nir")
) -> TrainingSamples:
    """Sites of three classes that overlap; pixels of a site are like one another."""
    site = np.repeat(np.arange(3 * n_sites), SITE_PX)
    code = site % 3
    at_site = rng.normal(0, 0.03, (3 * n_sites, 2))
    values = MEANS[code] + at_site[site] + rng.normal(0, 0.01, (len(site), 2))
    order = np.argsort(code, kind="stable")
    return TrainingSamples(
        values[order].astype(np.float32), (code[order] + 1).astype(np.uint16), roles,
        {1: "a", 2: "b", 3: "c"}, site[order].astype(np.int32),
        (site[order] * 20).astype(np.int32), np.arange(len(site), dtype=np.int32),
    )  # fmt: skip


def likelihood(samples: TrainingSamples, watch: Watch = UNWATCHED):  # type: ignore[no-untyped-def]
    spec = CLASSIFIERS["maximum-likelihood"]
    return spec.fit(samples, spec.settings(), 0, watch)


@pytest.mark.parametrize("method", ["maximum-likelihood", "nearest-neighbours", "spectral-angle"])
@pytest.mark.parametrize("level", [0.8, 0.9])
def test_the_right_class_is_among_the_possible_ones(method: str, level: float) -> None:
    """Source: Vovk, Gammerman & Shafer 2005: coverage at least the level, on sites never seen; by
    simulation of 20 training sets. It does not promise by taking everything, either."""
    spec = CLASSIFIERS[method]
    fit = partial(spec.fit, settings=spec.settings(), _seed=0, _watch=UNWATCHED)
    covered, sizes = [], []
    for seed in range(20):
        rng = np.random.default_rng(seed)
        samples, new = draw_sites(rng, 20), draw_sites(rng, 40)
        found = hold_out(samples, lambda some: fit(some), spec.scores, least_pixels=3)
        assert found.calibration is not None and found.calibration.n_sites == 60
        shares = shares_of(fit(samples).scores(np.ascontiguousarray(new.values.T)), spec.scores)
        sets = possible(shares, found.calibration.least_share(level))
        covered.append(sets[new.codes - 1, np.arange(len(new.codes))].mean())
        sizes.append(sets.sum(axis=0).mean())
    assert np.mean(covered) > level - 0.02
    assert np.mean(covered) < level + 0.08
    assert np.mean(sizes) < 2.6


def test_a_map_is_made_where_folds_cannot_be_trained() -> None:
    """Each class has one site that varies, and one that does not: without the former its covariance
    cannot be inverted. The classifier is kept, and says nothing of what it is worth."""
    rng = np.random.default_rng(2)
    site = np.repeat(np.arange(4), 12)
    values = rng.normal(0.2, 0.02, (48, 2)) + 0.2 * (site >= 2)[:, None]
    values[site == 1], values[site == 3] = 0.2, 0.4
    samples = TrainingSamples(
        values.astype(np.float32), (site // 2 + 1).astype(np.uint16), ("red", "nir"),
        {1: "a", 2: "b"}, site.astype(np.int32), site.astype(np.int32),
        np.arange(48, dtype=np.int32),
    )  # fmt: skip
    training = Training(
        roles=samples.roles, classes=tuple(SchemeClass(code=c, name=n, colour="#123456")
                                           for c, n in samples.names.items()),
        sites=(), method="maximum-likelihood", method_version=1,
    )  # fmt: skip
    scene = ArrayRaster(np.full((2, 4, 4), 0.2, np.float32), np.ones((4, 4), bool), ("red", "nir"))
    kept = make_classifier(training, samples, scene, "A scene", "A scene classified.", UNWATCHED)
    assert (kept.told.check, kept.calibration, kept.applicability) == (None, None, None)
    assert kept.told.dissimilarity is None
    assert (kept.model.classify(np.ascontiguousarray(samples.values.T)) == samples.codes).all()


def test_each_site_weighs_the_same() -> None:
    """By hand: nine sites of one pixel with shares 0.9 … 0.1, and one site of a thousand pixels at
    0.95. Of eleven places for a new site, ten must be covered: all ten sites, the lowest at 0.1."""
    own = np.concatenate([np.arange(0.9, 0.05, -0.1), np.full(1000, 0.95)])
    sites = np.concatenate([np.arange(9), np.full(1000, 9)])
    found = calibrate(own, sites)
    assert found is not None
    assert found.least_share(0.9) == pytest.approx(0.1)
    assert found.least_share(0.5) == pytest.approx(0.5)
    assert found.least_share(0.95) == -np.inf, "ten sites can promise no more than 10 of 11"
    assert calibrate(np.empty(0), np.empty(0, int)) is None


def test_likeness_by_brute_force() -> None:
    """Source: Meyer & Pebesma 2021, written out with SciPy's cdist and NumPy's quantiles."""
    samples = draw_sites(np.random.default_rng(4), 12)
    folds = assign_folds(group_sites(samples), 5, 3, 0)
    found = measure_applicability(samples, folds)
    assert found is not None
    scaled = samples.values.astype(float)
    scaled = (scaled - scaled.mean(axis=0)) / scaled.std(axis=0)
    between = cdist(scaled, scaled)
    n = len(scaled)
    assert found.mean_distance == pytest.approx(between.sum() / (n * (n - 1)))
    others = np.where(folds[:, None] != folds[None], between, np.inf).min(axis=1)
    first, third = np.quantile(others / found.mean_distance, (0.25, 0.75))
    assert found.threshold == pytest.approx(third + 1.5 * (third - first))
    pixels = np.random.default_rng(5).uniform(0, 0.6, (2, 500)).astype(np.float32)
    here = (pixels.T - samples.values.mean(axis=0, dtype=float)) / samples.values.astype(float).std(
        axis=0
    )
    expected = cdist(here, scaled).min(axis=1) / found.mean_distance
    assert np.allclose(found.index(pixels), expected, rtol=1e-9)
    assert (found.index(np.array([[0.9], [0.9]])) > found.threshold).all()
    assert (found.index(samples.values[:5].T) == 0).all()


def test_some_stand_for_many_within_the_error_that_is_told() -> None:
    """By SciPy's cdist against all training pixels: never too small, never more than that too
    large; where few differ, exact."""
    many = draw_sites(np.random.default_rng(6), 120)
    folds = assign_folds(group_sites(many), 5, 3, 0)
    found = measure_applicability(many, folds)
    assert found is not None and len(many.values) > len(found.points) == MOST_POINTS
    scaled = found.scale(many.values)
    pixels = np.random.default_rng(7).uniform(0, 0.6, (2, 500)).astype(np.float32)
    among_all = cdist(found.scale(pixels.T), scaled).min(axis=1) / found.mean_distance
    too_large = found.index(pixels) - among_all
    assert too_large.min() > -1e-9 and too_large.max() <= found.error + 1e-9
    assert found.index(many.values.T).max() == pytest.approx(found.error)
    assert 0 < found.error < 0.1 and found.threshold > 0
    alike = replace(many, values=np.resize(many.values[:700], many.values.shape))
    few = measure_applicability(alike, folds)
    assert few is not None and few.error == 0 and len(few.points) == 700


def test_shares_by_hand() -> None:
    """Source: Bezdek 1981 (memberships with exponent 2); Bayes' rule."""
    distances = np.array([[-1.0, -4.0, -0.0], [-4.0, -4.0, -2.0]])  # minus the squares
    assert np.allclose(shares_of(distances, "squared distance")[0], [0.8, 0.5, 1.0])
    angles = np.cos(np.radians([[1.0, 10.0], [2.0, 10.0]]))
    assert np.allclose(shares_of(angles, "cosine")[0], [0.8, 0.5])
    logs = np.log(np.array([[0.3], [0.1]]))
    assert np.allclose(shares_of(logs, "log likelihood")[:, 0], [0.75, 0.25])
    nothing: npt.NDArray[np.float64] = np.zeros((3, 2))
    assert np.array_equal(shares_of(nothing, "votes"), nothing)
    assert np.allclose(margin_of(np.array([[0.2, 1], [0.7, 0], [0.1, 0]])), [0.5, 1])


def test_what_a_layer_is_worth() -> None:
    """A layer that says all, the same layer again, and noise: shuffled, the first loses much; left
    out, its twin stands in for it; noise loses nothing."""
    rng = np.random.default_rng(8)
    samples = draw_sites(rng, 15)
    first, noise = samples.values[:, 1], rng.normal(0, 1, len(samples.codes))
    values = np.stack([first, first + rng.normal(0, 1e-4, len(first)), noise], axis=1)
    three = TrainingSamples(
        values.astype(np.float32), samples.codes, ("nir", "twin", "noise"), samples.names,
        samples.sites, samples.rows, samples.cols,
    )  # fmt: skip
    spec = CLASSIFIERS["random-forest"]
    settings = spec.settings(n_trees=15)
    found = {
        worth.role: worth
        for worth in layer_worth(three, lambda some: spec.fit(some, settings, 0, UNWATCHED), 1)
    }
    assert found["nir"].shuffled.mean + found["twin"].shuffled.mean > 0.1
    assert abs(found["nir"].left_out.mean) < 0.06 and abs(found["twin"].left_out.mean) < 0.06
    assert abs(found["noise"].shuffled.mean) < 0.06
    low, high = found["nir"].shuffled.low, found["nir"].shuffled.high
    assert low is not None and high is not None and low < found["nir"].shuffled.mean < high
