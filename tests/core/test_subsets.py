"""Which bands tell classes apart, against trying every subset with plain NumPy."""

from itertools import combinations

import numpy as np
import pytest

from kitesort.core.engine import Watch
from kitesort.core.errors import CancelledError
from kitesort.core.group_statistics import ClassStatistics, compute_statistics
from kitesort.core.training.separability import corrected, saturating
from kitesort.core.training.subsets import find_subsets


def classes(n_bands: int, n_classes: int = 4, seed: int = 1) -> list[ClassStatistics]:
    """Bands that tell more or less, and vary together."""
    rng = np.random.default_rng(seed)
    mix = rng.normal(0, 1, (n_bands, n_bands)) / 3 + np.eye(n_bands)
    means = rng.normal(0, 1.2, (n_classes, n_bands))
    return [
        compute_statistics(rng.normal(0, 1 + c / 4, (150, n_bands)) @ mix + means[c])
        for c in range(n_classes)
    ]


def part(s: ClassStatistics, bands: tuple[int, ...]) -> ClassStatistics:
    at = list(bands)
    return ClassStatistics(
        s.n_pixels, s.mean[at], s.covariance[np.ix_(at, at)], s.minimum[at], s.maximum[at]
    )


def distances(found: list[ClassStatistics], bands: tuple[int, ...]) -> list[float]:
    parts = [part(s, bands) for s in found]
    return [saturating(corrected(a, b)) for a, b in combinations(parts, 2)]


def test_every_subset_is_tried() -> None:
    """Source: brute force over six bands."""
    found = classes(6)
    best = find_subsets(found, limit=1.9)
    assert best.all_tried and [len(one.bands) for one in best.best] == [1, 2, 3, 4, 5, 6]
    for one in best.best:
        values = distances(found, one.bands)
        assert one.worst == pytest.approx(min(values)) and one.mean == pytest.approx(
            float(np.mean(values))
        )
        every = [distances(found, b) for b in combinations(range(6), len(one.bands))]
        goal = max((round(min(1.9, min(v)), 9), float(np.mean(v))) for v in every)
        assert (min(1.9, one.worst), one.mean) == pytest.approx(goal)
    wanted = best.best[2].worst
    enough = best.smallest_with(wanted)
    assert enough is not None and enough.worst >= wanted and len(enough.bands) <= 3
    assert all(one.worst < wanted for one in best.best[: len(enough.bands) - 1])
    assert best.smallest_with(1.999999) is None


def test_a_search_over_many_bands_is_nearly_as_good() -> None:
    """Above twelve bands not every subset is tried, and that is said; pairs and all bands are."""
    found = classes(13, 3, seed=4)
    best = find_subsets(found)
    assert not best.all_tried and [len(one.bands) for one in best.best] == [*range(1, 14)]
    singles = [(min(distances(found, (b,))), b) for b in range(13)]
    assert best.best[0].bands == (max(singles)[1],)
    pairs = max(min(1.9, min(distances(found, b))) for b in combinations(range(13), 2))
    assert min(1.9, best.best[1].worst) >= 0.95 * pairs
    assert best.best[-1].bands == tuple(range(13))


def test_bands_that_repeat_one_another_are_not_chosen_together() -> None:
    found = classes(4)
    doubled = [
        ClassStatistics(
            s.n_pixels, *(np.append(v, v[0]) for v in (s.mean,)),
            np.block([[s.covariance, s.covariance[:, :1]],
                      [s.covariance[:1], s.covariance[:1, :1]]]),
            np.append(s.minimum, s.minimum[0]), np.append(s.maximum, s.maximum[0]),
        )
        for s in found
    ]  # fmt: skip
    best = find_subsets(doubled)
    for one in best.best[:4]:
        assert not {0, 4} <= set(one.bands)
    assert np.isfinite([one.worst for one in best.best]).all()


def test_it_can_be_given_up() -> None:
    with pytest.raises(CancelledError):
        find_subsets(classes(5), watch=Watch(is_cancelled=lambda: True))
