"""Folds of whole sites, what they tell, and what more sites would bring."""

import numpy as np
import pytest
from scipy.stats import t as student

from kitesort.core.classify.first_check import (
    CurvePoint,
    Told,
    cross_validate,
    curve_words,
    interval,
    learning_curve,
    told_back,
)
from kitesort.core.classify.methods.maximum_likelihood import MaximumLikelihoodSettings
from kitesort.core.classify.protocol import TrainedClassifier
from kitesort.core.engine import Watch
from kitesort.core.errors import CancelledError
from kitesort.core.training.folds import UNTESTED, assign_folds, group_sites
from kitesort.core.training.samples import TrainingSamples
from support.fitting import fit
from support.pixels import gaussian, in_sites

LEAST = 4


def fitted(samples: TrainingSamples) -> TrainedClassifier:
    return fit(samples, MaximumLikelihoodSettings())


@pytest.fixture(scope="module")
def samples() -> TrainingSamples:
    rng = np.random.default_rng(11)
    parts = [(1, gaussian(rng, 30, rng.normal(0, 0.7))) for _ in range(8)]
    parts += [(2, gaussian(rng, 30, 2.5 + rng.normal(0, 0.7))) for _ in range(6)]
    return in_sites([*parts, (3, gaussian(rng, 50, 9))])


def test_no_site_is_on_both_sides(samples: TrainingSamples) -> None:
    folds = assign_folds(group_sites(samples), 5, LEAST)
    for site in np.unique(samples.sites):
        assert len(set(folds[samples.sites == site])) == 1
    for code in (1, 2):
        per_fold = np.bincount(folds[samples.codes == code], minlength=5)
        assert per_fold.min() >= 30 and per_fold.max() <= 60  # as even as whole sites allow
    assert set(folds[samples.codes == 3]) == {UNTESTED}  # one site: it always trains


def test_sites_close_together_stay_together(samples: TrainingSamples) -> None:
    alone, in_pairs = group_sites(samples), group_sites(samples, 120.0)
    assert [len(groups) for groups in alone.groups.values()] == [8, 6, 1]
    assert [len(groups) for groups in in_pairs.groups.values()] == [1, 1, 1]  # a chain of steps
    assert in_pairs.groups.keys() == alone.groups.keys()
    folds = assign_folds(in_pairs, 5, LEAST)
    assert (folds == UNTESTED).all()


def test_a_class_that_a_fold_would_starve_is_not_tested() -> None:
    few = in_sites([(1, np.ones((3, 2)) * i) for i in range(2)] + [(2, np.ones((9, 2)))] * 2)
    folds = assign_folds(group_sites(few), 2, LEAST)
    assert set(folds[few.codes == 1]) == {UNTESTED}
    assert set(folds[few.codes == 2]) == {0, 1}


def test_folds_are_told_by_what_never_saw_them(samples: TrainingSamples) -> None:
    """The same by hand: train without a fold's sites, tell its pixels."""
    grouped = group_sites(samples)
    found = cross_validate(grouped, fitted, least_pixels=LEAST, seed=3)
    folds = assign_folds(grouped, 5, LEAST, 3)
    by_hand = np.zeros((3, 4), np.int64)
    for fold in range(5):
        model = fitted(samples.where(folds != fold))
        told = model.classify(samples.values[folds == fold].T.copy())
        np.add.at(by_hand, (samples.codes[folds == fold] - 1, told - 1), 1)
    assert found.told.counts.tolist() == by_hand.tolist()
    assert found.untested == (3,)
    assert found.told.counts.sum() == (samples.codes != 3).sum()
    assert np.isnan(found.told.right[2]) and np.isnan(found.of_class(3).mean)
    again = cross_validate(grouped, fitted, least_pixels=LEAST, seed=3)
    assert again.told.counts.tolist() == by_hand.tolist()


def test_sites_that_differ_are_told_worse_by_folds_than_back(samples: TrainingSamples) -> None:
    back = told_back(fitted(samples), samples, samples.class_codes)
    found = cross_validate(group_sites(samples), fitted, least_pixels=LEAST)
    assert found.told.right[0] < back.right[0]
    assert found.overall.low is not None and found.overall.high is not None
    assert found.overall.low < found.overall.mean < found.overall.high


def test_intervals_are_student_s() -> None:
    values = [0.8, 0.9, 0.7, float("nan"), 0.85]
    known = [v for v in values if v == v]
    low, high = student.interval(0.95, 3, np.mean(known), np.std(known, ddof=1) / 2)  # SciPy
    found = interval(values)
    assert (found.low, found.high) == (pytest.approx(low), pytest.approx(min(high, 1)))
    assert interval([0.5]).low is None
    assert np.isnan(interval([float("nan")]).mean)


def test_a_large_class_counts_as_much_as_a_small_one() -> None:
    told = Told((1, 2), np.array([[900, 100, 0], [5, 4, 1]]))
    assert told.right.tolist() == [0.9, 0.4]
    assert told.mean_right == pytest.approx(0.65)


def test_the_curve_rises_with_sites_where_they_differ(samples: TrainingSamples) -> None:
    curve = learning_curve(group_sites(samples), fitted, least_pixels=LEAST)
    assert [point.n_sites for point in curve] == [1, 2, 3, 4, 5]
    assert curve[-1].right > curve[0].right
    alone = in_sites([(1, gaussian(np.random.default_rng(0), 30, 0))])
    assert learning_curve(group_sites(alone), fitted, least_pixels=LEAST) == ()


@pytest.mark.parametrize(
    ("rights", "words"),
    [
        ([(2, 0.8), (4, 0.9)], "from 80 % to 90 %. More sites should help"),
        ([(2, 0.9), (4, 0.91)], "would bring little"),
        ([(4, 0.9)], "too few sites"),
    ],
)
def test_what_a_curve_says(rights: list[tuple[int, float]], words: str) -> None:
    assert words in curve_words([CurvePoint(n, right, 0.0) for n, right in rights])


def test_it_can_be_given_up(samples: TrainingSamples) -> None:
    with pytest.raises(CancelledError):
        cross_validate(group_sites(samples), fitted, watch=Watch(is_cancelled=lambda: True))
