"""Clusters against scikit-learn and SciPy, on open data sets and on blobs with known groups."""

import numpy as np
import pytest
from scipy.cluster.hierarchy import linkage
from sklearn.cluster import AgglomerativeClustering, KMeans
from sklearn.datasets import load_iris, load_wine, make_blobs
from sklearn.metrics import adjusted_rand_score, calinski_harabasz_score
from sklearn.mixture import GaussianMixture
from sklearn.neighbors import NearestCentroid

from kitesort.core.classify.methods.minimum_distance import TrainedMinimumDistance
from kitesort.core.cluster.counts import suggest, try_counts
from kitesort.core.cluster.groups import find_groups
from kitesort.core.cluster.how_good import spherical_criterion, variance_ratio
from kitesort.core.cluster.methods._lloyd import settle, settle_best, starting_centres
from kitesort.core.cluster.methods.gaussian_mixture import MixtureSettings
from kitesort.core.cluster.methods.gaussian_mixture import fit as fit_mixture
from kitesort.core.cluster.methods.hierarchical import HierarchicalSettings
from kitesort.core.cluster.methods.hierarchical import fit as fit_tree
from kitesort.core.cluster.methods.isodata import IsodataSettings
from kitesort.core.cluster.methods.isodata import fit as fit_isodata
from kitesort.core.cluster.methods.k_means import KMeansSettings
from kitesort.core.cluster.registry import CLUSTERINGS
from kitesort.core.cluster.sample import ClusterSample
from kitesort.core.cluster.tree import cluster_tree
from kitesort.core.engine import UNWATCHED
from kitesort.core.errors import InputError, SingularCovarianceError

IRIS, WINE = load_iris(), load_wine()
BLOBS, KINDS = make_blobs(3000, centers=6, n_features=4, cluster_std=0.6, random_state=3)


def as_sample(values: np.ndarray) -> ClusterSample:
    n, roles = len(values), tuple(f"b{i}" for i in range(values.shape[1]))
    at = np.arange(n)
    return ClusterSample(values.astype(np.float32), at, at, roles, n, True)


@pytest.mark.parametrize("data", [IRIS.data, WINE.data, BLOBS], ids=["iris", "wine", "blobs"])
@pytest.mark.parametrize("start", ["spread", "random"])
def test_k_means_rests_where_scikit_learn_does_from_the_same_start(
    data: np.ndarray, start: str
) -> None:
    """Reference: scikit-learn KMeans, Lloyd's algorithm, the same first centres."""
    values = np.ascontiguousarray(data, np.float64)
    first = starting_centres(values, 4, start, 7, None)  # type: ignore[arg-type]
    ours = settle(values, first, iterations=500)
    theirs = KMeans(4, init=first, n_init=1, max_iter=500, tol=0).fit(values)
    assert ours.inertia == pytest.approx(theirs.inertia_, rel=1e-9)
    assert np.array_equal(ours.labels, theirs.labels_)


def test_manhattan_centres_are_where_the_sum_of_steps_is_least() -> None:
    """Every centre is the median of its pixels (reference: scikit-learn NearestCentroid,
    Manhattan), and no small move of a centre makes the sum less."""
    values = np.ascontiguousarray(IRIS.data, np.float64)
    rest = settle(
        values, starting_centres(values, 3, "random", 1, None), distance="manhattan",
        iterations=500,
    )  # fmt: skip
    theirs = NearestCentroid(metric="manhattan").fit(values, rest.labels)
    assert np.allclose(rest.centres, theirs.centroids_)
    for step in np.eye(4) * 0.05:
        moved = rest.centres + step
        away = np.abs(values[:, None] - moved[None]).sum(axis=2).min(axis=1).sum()
        assert away >= rest.inertia - 1e-9


@pytest.mark.parametrize(
    ("ours", "theirs"), [("full", "full"), ("tied", "tied"), ("diagonal", "diag")]
)
def test_the_mixture_is_as_likely_as_scikit_learns(ours: str, theirs: str) -> None:
    """Reference: scikit-learn GaussianMixture from the same first means, iris and blobs; there the
    mixture is asked again with our parameters."""
    for data in (IRIS.data, BLOBS):
        values = np.ascontiguousarray(data, np.float64)
        settings = MixtureSettings.model_validate(
            {"n_clusters": 3 if data is IRIS.data else 6, "covariance": ours, "tolerance": 1e-6,
             "iterations": 1000}
        )  # fmt: skip
        found = fit_mixture(values, settings, 0, None, UNWATCHED)
        first = settle_best(values, settings.n_clusters, "random", 0)
        sizes = np.bincount(first.labels)
        other = GaussianMixture(
            settings.n_clusters, covariance_type=theirs, means_init=first.centres, tol=1e-6,
            weights_init=sizes / sizes.sum(), max_iter=1000, random_state=0,
        ).fit(values)  # fmt: skip
        check = GaussianMixture(settings.n_clusters, covariance_type="full")
        check.weights_, check.means_ = found.weights, found.centres
        assert found.covariances is not None
        check.covariances_ = found.covariances
        check.precisions_cholesky_ = np.stack(
            [np.linalg.inv(np.linalg.cholesky(c)).T for c in found.covariances]
        )
        assert check.score(values) == pytest.approx(other.score(values), abs=0.002)


def test_a_mixtures_map_is_that_of_its_densities() -> None:
    """Reference: scikit-learn's predict with the same parameters."""
    sample = as_sample(BLOBS)
    groups = find_groups(sample, CLUSTERINGS["gaussian-mixture"], MixtureSettings(n_clusters=6), 0)
    check = GaussianMixture(6, n_init=10, random_state=0).fit(sample.values.astype(np.float64))
    assert adjusted_rand_score(check.predict(sample.values), groups.labels) > 0.999


def test_the_tree_cuts_as_scikit_learn_does() -> None:
    """Reference: AgglomerativeClustering, Ward, by number and by height (SciPy's linkage)."""
    for data, n in ((IRIS.data, 3), (WINE.data, 5), (BLOBS[:800], 6)):
        values = np.ascontiguousarray(data, np.float64)
        theirs = AgglomerativeClustering(n, linkage="ward").fit_predict(values)
        means = np.stack([values[theirs == c].mean(axis=0) for c in range(n)])
        found = fit_tree(values, HierarchicalSettings(n_clusters=n), 0, None, UNWATCHED)
        assert np.allclose(np.sort(found.centres[:, 0]), np.sort(means[:, 0]))
        heights = linkage(values, "ward")[:, 2]
        between = float((heights[-n] + heights[1 - n]) / 2)
        settings = HierarchicalSettings(cut="height", height=between)
        again = fit_tree(values, settings, 0, None, UNWATCHED)
        assert np.allclose(again.centres, found.centres)


def test_a_height_that_makes_one_cluster_is_told() -> None:
    with pytest.raises(InputError, match=r"one cluster\. Between"):
        settings = HierarchicalSettings(cut="height", height=1e6)
        fit_tree(np.ascontiguousarray(IRIS.data), settings, 0, None, UNWATCHED)


def test_the_tree_of_clusters_is_wards() -> None:
    """Reference: SciPy's linkage of points, each standing for as many pixels as it has."""
    points = np.random.default_rng(2).normal(0, 1, (7, 3))
    ones = cluster_tree(points, np.ones(7, np.int64))
    assert np.allclose([j.height for j in ones], linkage(points, "ward")[:, 2])
    sizes = np.array([3, 1, 2, 5, 1, 4, 2])
    joints = cluster_tree(points, sizes)
    repeated = linkage(np.repeat(points, sizes, axis=0), "ward")[:, 2]
    assert np.allclose([j.height for j in joints], repeated[-6:])


def test_variance_ratio_and_criterion() -> None:
    """References: scikit-learn's calinski_harabasz_score; the criterion by its formula, from the
    sum of the densities' logarithms."""
    values = np.ascontiguousarray(BLOBS, np.float64)
    rest = settle(values, starting_centres(values, 5, "random", 0, None), iterations=500)
    total = float(((values - values.mean(axis=0)) ** 2).sum())
    got = variance_ratio(len(values), 5, total - rest.inertia, rest.inertia)
    assert got == pytest.approx(calinski_harabasz_score(values, rest.labels), rel=1e-9)
    sizes = np.bincount(rest.labels)
    n, b = values.shape
    variance = rest.inertia / (b * (n - 5))
    away = ((values - rest.centres[rest.labels]) ** 2).sum(axis=1)
    logs = np.log(sizes[rest.labels] / n) - b / 2 * np.log(2 * np.pi * variance)
    likelihood = float((logs - away / (2 * variance)).sum())
    assert spherical_criterion(sizes, rest.inertia, b) == pytest.approx(
        -2 * likelihood + (4 + 5 * b + 1) * np.log(n), rel=1e-9
    )


@pytest.mark.parametrize(
    ("method", "by"), [("k-means", "ratio"), ("gaussian-mixture", "criterion")]
)
def test_the_right_number_is_suggested_for_blobs(method: str, by: str) -> None:
    """Made-up blobs with six known groups."""
    spec = CLUSTERINGS[method]
    settings = spec.settings.model_validate({"n_clusters": 2})
    rows = list(try_counts(as_sample(BLOBS), spec, settings, 0, range(2, 10)))  # type: ignore[arg-type]
    found = suggest(rows, by)  # type: ignore[arg-type]
    assert found is not None and found.n_clusters == 6
    assert "at 6, where clusters explain" in found.reason
    assert [row.explained for row in rows][:5] == sorted(row.explained for row in rows[:5])


@pytest.mark.parametrize("method", list(CLUSTERINGS))
def test_known_groups_are_found(method: str) -> None:
    """Adjusted Rand index on made-up blobs with known groups; common practice: 0.9 is very good."""
    spec = CLUSTERINGS[method]
    told = {"n_clusters": 6} if spec.counted else {"most": 6}
    groups = find_groups(as_sample(BLOBS), spec, spec.settings.model_validate(told), 1)
    assert adjusted_rand_score(KINDS, groups.labels) > 0.95


def test_wine_needs_one_scale() -> None:
    """Scikit-learn's wine data: layers of very different units. On one scale the three cultivars
    come out (adjusted Rand index about 0.9, as published again and again; from memory)."""
    spec = CLUSTERINGS["k-means"]
    indices = []
    for standardise in ("never", "always"):
        settings = KMeansSettings.model_validate({"n_clusters": 3, "standardise": standardise})
        groups = find_groups(as_sample(WINE.data), spec, settings, 0)
        indices.append(adjusted_rand_score(WINE.target, groups.labels))
    assert indices[0] < 0.45 and indices[1] > 0.85


def test_isodata_by_hand() -> None:
    """Worked by hand on one layer with the values 0 (×10), 1 (×10), 10 (×20), 11 (×1), wanted four
    clusters, split above a spread of 0.4, at least 0.05 of 41 pixels.

    Round 1: four centres spread over mean ± deviation, (5.390, 4.957): 0.433, 3.738, 7.043, 10.348.
    0 and 1 go to the first, 10 and 11 to the last; the second and third have none and are dropped.
    Centres 0.5 and 10.048. Two are at most half of the four wanted, so that clusters with a spread
    above 0.4 are split: 0.5 of the first (half of it 0.25), 0.213 of the second not. Three centres:
    0.75, 0.25, 10.048.
    """
    values = np.repeat([0.0, 1.0, 10.0, 11.0], [10, 10, 20, 1])[:, None]
    one = IsodataSettings(
        n_clusters=4, largest_spread=0.4, least_distance=0.5, least_share=0.05, iterations=2
    )
    found = fit_isodata(values, one, 0, None, UNWATCHED)
    assert found.rounds[0] == "round 1: 2 dropped, 1 split, 3 clusters"
    assert np.allclose(np.sort(found.centres[:, 0]), [0.0, 1.0, (200 + 11) / 21])
    assert found.rounds[1] == "round 2: centres moved, 3 clusters"


def test_isodata_merges_what_is_near() -> None:
    """Two heaps 0.2 apart and one far away: wanted four, the near ones become one."""
    values = np.repeat([0.0, 0.2, 5.0], [50, 50, 50])[:, None] + np.linspace(0, 0.01, 150)[:, None]
    settings = IsodataSettings(n_clusters=4, largest_spread=2.0, least_distance=0.5)
    found = fit_isodata(values, settings, 0, None, UNWATCHED)
    assert len(found.centres) == 2
    assert any("merged" in one or "dropped" in one for one in found.rounds)


def test_a_mixture_that_collapses_is_told() -> None:
    values = np.repeat([[0.0, 0.0], [1.0, 1.0], [2.0, 0.0]], 60, axis=0)
    values[:60] += np.random.default_rng(0).normal(0, 0.1, (60, 2))
    with pytest.raises(SingularCovarianceError, match="has shrunk"):
        fit_mixture(values, MixtureSettings(n_clusters=3), 0, None, UNWATCHED)


def test_splitting_stops_where_nothing_is_gained() -> None:
    """Six blobs, up to twelve allowed: about six are kept."""
    spec = CLUSTERINGS["information-splits"]
    groups = find_groups(as_sample(BLOBS), spec, spec.settings.model_validate({"most": 12}), 0)
    assert 6 <= len(groups.sizes) <= 7
    assert groups.rounds[-1] == "no split is worth it any more"


def test_a_centre_model_of_steps_says_what_it_means() -> None:
    settings = KMeansSettings(n_clusters=3, distance="manhattan")
    groups = find_groups(as_sample(IRIS.data), CLUSTERINGS["k-means"], settings, 0)
    model = groups.model
    assert isinstance(model, TrainedMinimumDistance)
    values = IRIS.data.astype(np.float32)
    steps = np.abs(values[:, None].astype(np.float64) - model.means[None]).sum(axis=2)
    assert np.array_equal(model.classify(np.ascontiguousarray(values.T)), steps.argmin(axis=1) + 1)
    assert np.allclose(model.scores(np.ascontiguousarray(values.T)), -(steps.T**2))
