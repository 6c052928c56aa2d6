"""Pixels decided in single precision get what double precision would give them, ties and limits
among them."""

import numpy as np
import pytest

from kitesort.core.classify.decide import decide
from kitesort.core.classify.methods.minimum_distance import TrainedMinimumDistance


@pytest.mark.parametrize("manhattan", [0, 1])
@pytest.mark.parametrize("unit", [1e-3, 1.0, 1e4])
@pytest.mark.parametrize("shift", [0.0, 5.0])
@pytest.mark.parametrize("limited", [False, True])
def test_every_pixel_gets_what_its_scores_say(
    manhattan: int, unit: float, shift: float, limited: bool
) -> None:
    rng = np.random.default_rng(1)
    means = rng.uniform(0.05, 0.4, (7, 5))
    limit = (0.5 if manhattan else 0.04) if limited else np.inf
    centre, factor = np.full(5, shift * unit), np.full(5, 1 / unit)
    model = TrainedMinimumDistance(
        tuple("abcde"), np.arange(1, 8, dtype=np.uint16),
        np.full(7, -(limit**2) if manhattan else -limit), centre, factor, means,
        np.array([manhattan], np.int32),
    )  # fmt: skip
    pixels = rng.uniform(0, 0.5, (5, 40_000))
    pixels[:, :500] = ((means[0] + means[1]) / 2)[:, None]  # as far from both
    towards = rng.normal(0, 1, (5, 500))
    away = np.abs(towards).sum(axis=0) if manhattan else np.sqrt((towards**2).sum(axis=0))
    edge = limit if manhattan else np.sqrt(limit)
    pixels[:, 500:1000] = means[2][:, None] + towards / away * (edge if limited else 0.1)
    values = ((pixels + shift) * unit).astype(np.float32)
    got, want = model.classify(values), decide(model.scores(values), model.codes, model.lowest)
    if manhattan and limited:  # the root of a square is rounded: right at the edge either may be
        near = np.abs(np.sqrt(-model.scores(values).max(axis=0)) - limit) < 1e-12
        got, want = got[~near], want[~near]
    assert np.array_equal(got, want)
    assert not limited or 0.05 < (want == 255).mean() < 0.95


@pytest.mark.parametrize("n_bands", [1, 6, 7, 13])
@pytest.mark.parametrize("n_classes", [1, 2, 9])
@pytest.mark.parametrize("manhattan", [0, 1])
def test_any_number_of_bands_and_classes(n_bands: int, n_classes: int, manhattan: int) -> None:
    """Whole numbers, so that many distances are equal; some far beyond single precision."""
    rng = np.random.default_rng(10 * n_bands + n_classes)
    means = rng.integers(-3, 4, (n_classes, n_bands)).astype(np.float64)
    codes = rng.permutation(np.arange(1, 255))[:n_classes].astype(np.uint16)
    model = TrainedMinimumDistance(
        tuple(f"b{i}" for i in range(n_bands)), codes, np.full(n_classes, -9.0 * n_bands),
        np.full(n_bands, 2.0), np.full(n_bands, 0.5), means, np.array([manhattan], np.int32),
    )  # fmt: skip
    values = rng.integers(-6, 9, (n_bands, 3_000)).astype(np.float32)
    values[0, :5] = [3e38, -3e38, np.inf, -np.inf, 1e20]
    with np.errstate(over="ignore", invalid="ignore"):
        want = decide(model.scores(values), model.codes, model.lowest)
    assert np.array_equal(model.classify(values), want)


def test_no_pixel_and_no_number() -> None:
    means = np.array([[0.1, 0.2], [0.3, 0.1]])
    model = TrainedMinimumDistance(
        ("a", "b"), np.array([4, 9], np.uint16), np.full(2, -np.inf), np.zeros(2), np.ones(2),
        means, np.zeros(1, np.int32),
    )  # fmt: skip
    assert model.classify(np.empty((2, 0), np.float32)).shape == (0,)
    values = np.array([[0.1, np.nan, 0.3], [0.2, 0.1, 0.1]], np.float32)
    want = decide(model.scores(values), model.codes, model.lowest)
    assert np.array_equal(model.classify(values), want)


@pytest.mark.parametrize("size", [1e-30, 1e30, 1e36, 1e38, 1e60, 1e160])
@pytest.mark.parametrize("manhattan", [0, 1])
def test_means_and_values_of_any_size(size: float, manhattan: int) -> None:
    """Beyond single precision, and near its ends, too, nobody is decided by infinities."""
    rng = np.random.default_rng(3)
    means, factor = rng.normal(0, 1, (5, 4)), np.full(4, 1.0)
    values = rng.normal(0, 1, (4, 600))
    values[:, :50] = 0
    model = TrainedMinimumDistance(
        tuple("abcd"), np.array([3, 1, 500, 2, 9], np.uint16), np.full(5, -np.inf), np.zeros(4),
        factor * min(1 / size, 1e300) ** 0.5, means * size**0.5, np.array([manhattan], np.int32),
    )  # fmt: skip
    pixels = (values * min(size, 5e37)).astype(np.float32)
    with np.errstate(over="ignore", invalid="ignore"):
        want = decide(model.scores(pixels), model.codes, model.lowest)
    assert np.array_equal(model.classify(pixels), want)
