"""Every classifier against scikit-learn or SciPy, pixel by pixel, on open data sets (iris, wine and
the breast cancer set ship with scikit-learn) and on the demo scene."""

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np
import numpy.typing as npt
import pytest
from scipy.spatial.distance import cdist
from scipy.special import log_softmax
from sklearn.datasets import load_breast_cancer, load_iris, load_wine
from sklearn.discriminant_analysis import LinearDiscriminantAnalysis
from sklearn.ensemble import HistGradientBoostingClassifier, RandomForestClassifier
from sklearn.naive_bayes import GaussianNB
from sklearn.neighbors import KNeighborsClassifier, NearestCentroid
from sklearn.neural_network import MLPClassifier
from sklearn.preprocessing import StandardScaler
from sklearn.svm import SVC
from sklearn.tree import DecisionTreeClassifier

from kitesort.core.classify.protocol import TrainedClassifier
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.engine import UNWATCHED
from kitesort.core.training.samples import TrainingSamples

Float32 = npt.NDArray[np.float32]
Sets = tuple[TrainingSamples, Float32]
OPEN = {"iris": load_iris, "wine": load_wine, "cancer": load_breast_cancer}


def open_set(name: str) -> Sets:
    """Classes from 1; bands are named in the order of the data."""
    found = OPEN[name]()
    values = found.data.astype(np.float32)
    roles = tuple(f"b{i:02d}" for i in range(values.shape[1]))
    codes = (found.target + 1).astype(np.uint16)
    samples = TrainingSamples.of_pixels(values, codes, roles, {int(c): f"{c}" for c in set(codes)})
    return samples, np.ascontiguousarray(values.T)


@pytest.fixture(params=["iris", "wine", "cancer", "demo"])
def sets(request: pytest.FixtureRequest) -> Sets:
    """Training pixels, and pixels (bands, n) to be told."""
    if request.param != "demo":
        return open_set(request.param)
    samples, pixels = request.getfixturevalue("demo_samples")
    return samples, np.ascontiguousarray(pixels[:, ::20])


def fitted(method: str, samples: TrainingSamples, **settings: Any) -> TrainedClassifier:
    spec = CLASSIFIERS[method]
    return spec.fit(samples, spec.settings(**settings), 0, UNWATCHED)


def in_order(samples: TrainingSamples) -> tuple[Float32, npt.NDArray[np.uint16]]:
    """As the methods sort what they learn from: by class, then by values, bands by name."""
    named = samples.values[:, np.argsort(np.array(samples.roles))]
    order = np.lexsort((*named.T[::-1], samples.codes))
    return samples.values[order], samples.codes[order]


def class_means(samples: TrainingSamples) -> npt.NDArray[np.float64]:
    return np.stack(
        [samples.values[samples.codes == c].mean(axis=0, dtype=float) for c in samples.class_codes]
    )


def require_same(
    model: TrainedClassifier, pixels: Float32, scores: npt.NDArray[np.float64], close: float = 1e-7
) -> None:
    """Scores (classes, n) agree, and so do codes but where two scores are the same to rounding."""
    assert np.allclose(model.scores(pixels), scores, rtol=close, atol=close)
    best, second = np.sort(scores, axis=0)[[-1, -2]]
    clear = best - second > close * np.maximum(1, np.abs(best))
    expected = model.codes[scores.argmax(axis=0)]
    assert clear.mean() > 0.95
    assert np.array_equal(model.classify(pixels)[clear], expected[clear])


@pytest.mark.parametrize("standardise", [False, True])
def test_minimum_distance(sets: Sets, standardise: bool) -> None:
    """Source: scikit-learn, NearestCentroid and StandardScaler; SciPy, cdist."""
    samples, pixels = sets
    spread = samples.values.std(axis=0)
    if spread.max() > 1000 * spread.min() and not standardise:
        pytest.skip("layers of very different units are refused as they are")
    values = pixels.T.astype(float)
    scaler = StandardScaler(with_mean=standardise, with_std=standardise)
    learnt = scaler.fit_transform(samples.values.astype(float))
    reference = NearestCentroid().fit(learnt, samples.codes)
    distances = cdist(scaler.transform(values), reference.centroids_, "sqeuclidean")
    require_same(fitted("minimum-distance", samples, standardise=standardise), pixels, -distances.T)


@pytest.mark.parametrize("covariance", ["pooled", "class"])
def test_mahalanobis(sets: Sets, covariance: str) -> None:
    """Source: SciPy, cdist with the inverse covariances of NumPy (divisors n - 1, n - classes)."""
    samples, pixels = sets
    means, values = class_means(samples), pixels.T.astype(float)
    parts = [samples.values[samples.codes == c].astype(float) for c in samples.class_codes]
    own = [np.cov(part, rowvar=False) for part in parts]
    free = len(samples.codes) - len(parts)
    pooled = sum(c * (len(p) - 1) for c, p in zip(own, parts, strict=True)) / free
    used = own if covariance == "class" else [pooled] * len(own)
    distances = [
        cdist(values, mean[None], "mahalanobis", VI=np.linalg.inv(c))[:, 0] ** 2
        for mean, c in zip(means, used, strict=True)
    ]
    model = fitted("mahalanobis", samples, covariance=covariance)
    require_same(model, pixels, -np.stack(distances), 1e-5)
    limited = fitted("mahalanobis", samples, covariance=covariance, largest_distance=2.0)
    inside = np.min(distances, axis=0)
    clear = np.abs(inside - 4) > 1e-4
    assert np.array_equal((limited.classify(pixels) == 255)[clear], (inside > 4)[clear])


@pytest.mark.parametrize("limits", ["extremes", "deviations"])
def test_parallelepiped(sets: Sets, limits: str) -> None:
    """Source: the definition (Richards), written out in NumPy."""
    samples, pixels = sets
    values, means = pixels.T.astype(float), class_means(samples)
    parts = [samples.values[samples.codes == c].astype(float) for c in samples.class_codes]
    if limits == "extremes":
        boxes = [(part.min(axis=0), part.max(axis=0)) for part in parts]
    else:
        half = [2 * part.std(axis=0, ddof=1) for part in parts]
        boxes = [(mean - h, mean + h) for mean, h in zip(means, half, strict=True)]
    inside = np.stack([((values >= a) & (values <= b)).all(axis=1) for a, b in boxes])
    nearest = np.where(inside, cdist(means, values, "sqeuclidean"), np.inf)
    codes = np.array(samples.class_codes)[nearest.argmin(axis=0)]
    expected = np.where(inside.any(axis=0), codes, 255)
    got = fitted("parallelepiped", samples, limits=limits, deviations=2.0).classify(pixels)
    assert (got != expected).mean() < 1e-4  # a side may fall to either by rounding
    if limits == "extremes":
        assert np.array_equal(got, expected)


def test_spectral_angle(sets: Sets) -> None:
    """Source: SciPy, cosine distance; Kruse et al. 1993."""
    samples, pixels = sets
    cosines = 1 - cdist(class_means(samples), pixels.T.astype(float), "cosine")
    require_same(fitted("spectral-angle", samples), pixels, cosines)
    limited = fitted("spectral-angle", samples, largest_angle=2.0).classify(pixels)
    angles = np.degrees(np.arccos(np.clip(cosines.max(axis=0), -1, 1)))
    clear = np.abs(angles - 2) > 1e-5
    assert np.array_equal((limited == 255)[clear], (angles > 2)[clear])


@pytest.mark.parametrize("weights", ["equal", "distance"])
@pytest.mark.parametrize("k", [1, 5, 12])
def test_nearest_neighbours(sets: Sets, k: int, weights: str) -> None:
    """Source: scikit-learn, KNeighborsClassifier; points equally far as the k-th left aside."""
    samples, pixels = sets
    scaler = StandardScaler().fit(samples.values.astype(float))
    values = scaler.transform(pixels.T.astype(float))
    reference = KNeighborsClassifier(
        k, weights="uniform" if weights == "equal" else "distance", algorithm="brute"
    ).fit(scaler.transform(samples.values.astype(float)), samples.codes)
    away, _ = reference.kneighbors(values, k + 1)
    clear = away[:, k] - away[:, k - 1] > 1e-6
    shares = reference.predict_proba(values).T
    model = fitted("nearest-neighbours", samples, neighbours=k, weights=weights)
    assert clear.mean() > 0.9
    met = away[:, 0] < 1e-6  # rounding decides whether a point is met exactly
    told = clear & ~met if weights == "distance" else clear
    assert np.allclose(model.scores(pixels)[:, told], shares[:, told], atol=1e-6)
    if weights == "equal":
        assert np.array_equal(model.classify(pixels)[clear], reference.predict(values)[clear])


def test_naive_bayes(sets: Sets) -> None:
    """Source: scikit-learn, GaussianNB without smoothing; its variances divide by n, ours by
    n - 1."""
    samples, pixels = sets
    k = len(samples.class_codes)
    reference = GaussianNB(priors=np.full(k, 1 / k), var_smoothing=0)
    reference.fit(samples.values.astype(float), samples.codes)
    n = reference.class_count_[:, None]
    reference.var_ *= n / (n - 1)
    shares = reference.predict_log_proba(pixels.T.astype(float)).T
    got = fitted("naive-bayes", samples).scores(pixels)
    assert np.allclose(got - got.max(axis=0), shares - shares.max(axis=0), rtol=1e-5, atol=1e-4)


def test_linear_discriminant(sets: Sets) -> None:
    """Source: scikit-learn, LinearDiscriminantAnalysis with equal priors. It divides the scatter
    within classes by n, ours by n - classes: shrunk about the means, both see the same."""
    samples, pixels = sets
    n, k = len(samples.codes), len(samples.class_codes)
    reference = LinearDiscriminantAnalysis(priors=np.full(k, 1 / k), tol=1e-12)
    reference.fit(samples.values.astype(float), samples.codes)
    expected = np.log(np.maximum(reference.predict_proba(pixels.T.astype(float)).T, 1e-12))
    means = class_means(samples)[np.searchsorted(samples.class_codes, samples.codes)]
    shrunk = means + (samples.values - means) * np.sqrt((n - k) / n)
    model = fitted("linear-discriminant", replace(samples, values=shrunk))
    got = np.maximum(log_softmax(model.scores(pixels), axis=0), np.log(1e-12))
    assert np.allclose(got, expected, rtol=1e-4, atol=1e-3)


def test_three_flowers_are_told_wrong() -> None:
    """Source: Fisher's iris, textbook result (from memory; scikit-learn confirms): 3 of 150 by the
    linear discriminant, told back."""
    samples, pixels = open_set("iris")
    got = fitted("linear-discriminant", samples).classify(pixels)
    assert int((got != samples.codes).sum()) == 3


def test_priors_by_hand() -> None:
    """Source: Bayes' rule. Two normal classes of equal spread part where the densities times the
    priors are equal: midway, moved by s² / d times the logarithm of the priors' ratio."""
    rng = np.random.default_rng(0)
    values = np.concatenate([rng.normal(m, 1, (4000, 1)) for m in (0, 4)]).astype(np.float32)
    codes = np.repeat(np.array([1, 2], np.uint16), 4000)
    samples = TrainingSamples.of_pixels(values, codes, ("red",), {1: "a", 2: "b"})
    typed = [{"code": 1, "prior": 90}, {"code": 2, "prior": 10}]
    model = fitted("linear-discriminant", samples, priors="typed", typed=typed)
    line = np.linspace(0, 4, 40_001, dtype=np.float32)[None]
    border = line[0, model.classify(line).argmax()]
    s = samples.statistics
    d = s[2].mean[0] - s[1].mean[0]
    pooled = (s[1].covariance + s[2].covariance)[0, 0] / 2
    expected = (s[1].mean[0] + s[2].mean[0]) / 2 + pooled / d * np.log(9)
    assert border == pytest.approx(expected, abs=2e-4)


TREES: dict[str, tuple[Callable[[], Any], dict[str, Any]]] = {
    "decision-tree": (
        lambda: DecisionTreeClassifier(max_depth=8, min_samples_leaf=5, random_state=0), {},
    ),
    "random-forest": (lambda: RandomForestClassifier(30, random_state=0), {"n_trees": 30}),
    "boosted-trees": (
        lambda: HistGradientBoostingClassifier(
            max_iter=12, max_leaf_nodes=15, min_samples_leaf=10, early_stopping=False,
            random_state=0,
        ),
        {"rounds": 12},
    ),
}  # fmt: skip


@pytest.mark.parametrize("method", list(TREES))
def test_trees(sets: Sets, method: str) -> None:
    """Source: scikit-learn, the learner of the same name: the same shares for every pixel."""
    samples, pixels = sets
    make, settings = TREES[method]
    order = np.argsort(np.array(samples.roles))
    values, codes = in_order(samples)
    values = values[:, order]
    reference = make().fit(values, codes)
    shares = reference.predict_proba(pixels.T[:, order]).T
    model = fitted(method, samples, **settings)
    assert np.allclose(model.scores(pixels), shares, rtol=1e-9, atol=1e-9)
    if method != "boosted-trees":
        assert np.array_equal(model.classify(pixels), reference.predict(pixels.T[:, order]))


@pytest.mark.parametrize("kernel", ["radial", "linear"])
def test_support_vectors(sets: Sets, kernel: str) -> None:
    """Source: scikit-learn, SVC; its decision values one class against the rest (votes, and less
    than a third of one for how clearly)."""
    samples, pixels = sets
    scaler = StandardScaler().fit(samples.values.astype(float))
    values, codes = in_order(samples)
    reference = SVC(
        C=10, gamma=1 / len(samples.roles), kernel="rbf" if kernel == "radial" else "linear",
        break_ties=True,
    ).fit(scaler.transform(values.astype(float)), codes)  # fmt: skip
    told = scaler.transform(pixels.T[:6000].astype(float))
    model, some = fitted("support-vectors", samples, kernel=kernel), pixels[:, :6000]
    assert (model.classify(some) == reference.predict(told)).mean() > 0.999
    if len(model.codes) > 2:
        expected = reference.decision_function(told).T
        assert np.allclose(model.scores(some), expected, atol=1e-4)


def test_neural_network(sets: Sets) -> None:
    """Source: scikit-learn, MLPClassifier with our weights put into it."""
    samples, pixels = sets
    model: Any = fitted("neural-network", samples, layers=(12, 7), epochs=8)
    if len(model.codes) == 2:
        pytest.skip("the reference has one unit less for two classes")
    values = ((pixels.T.astype(float) - model.centre) * model.factor)[:5000]
    reference = MLPClassifier((12, 7)).partial_fit(
        values[:9], model.codes[[0] * 9], classes=model.codes
    )
    at_weight = at_bias = 0
    for layer, (a, b) in enumerate(zip(model.widths, model.widths[1:], strict=False)):
        reference.coefs_[layer] = model.weights[at_weight : at_weight + a * b].reshape(b, a).T
        reference.intercepts_[layer] = model.biases[at_bias : at_bias + b]
        at_weight, at_bias = at_weight + a * b, at_bias + b
    shares = reference.predict_proba(values).T
    assert np.allclose(model.scores(pixels[:, :5000]), shares, atol=1e-12)


def test_the_search_finds_what_folds_of_sites_prefer() -> None:
    """Rings of pixels: no plane parts them, and a reach far too short learns single pixels."""
    rng = np.random.default_rng(3)
    angle, site = rng.uniform(0, 2 * np.pi, 900), np.arange(900) // 15
    radius = np.where(site % 2 == 0, 1.0, 2.0) + rng.normal(0, 0.25, 900)
    values = np.stack([radius * np.cos(angle), radius * np.sin(angle)], axis=1).astype(np.float32)
    samples = TrainingSamples(
        values, (site % 2 + 1).astype(np.uint16), ("red", "nir"), {1: "in", 2: "out"},
        site.astype(np.int32), site.astype(np.int32) * 9, np.arange(900, dtype=np.int32),
    )  # fmt: skip
    found: Any = fitted("support-vectors", samples, search=True, gamma=0.02, cost=0.01)
    assert found.found[0] in (1, 10, 100)
    assert found.found[1] == pytest.approx(0.08), "the widest of the three that are tried"
    poor: Any = fitted("support-vectors", samples, gamma=0.02, cost=0.01)
    pixels = np.ascontiguousarray(values.T)
    assert (found.classify(pixels) == samples.codes).mean() > 0.9
    assert (poor.classify(pixels) == samples.codes).mean() < 0.9
