"""Training sites judged: against scikit-learn and SciPy, and on the demo's sites, three of which
are bad on purpose."""

import json
from collections.abc import Iterator

import numpy as np
import pytest
from scipy.spatial.distance import mahalanobis
from scipy.stats import multivariate_normal
from sklearn.covariance import MinCovDet
from sklearn.datasets import load_iris

from kitesort.core.classify.training import DrawnSite, SchemeClass, Training, collect_samples
from kitesort.core.raster.protocol import Raster, roles_of
from kitesort.core.training.site_figures import SiteFigures, site_figures
from kitesort.core.training.usual import likeliest, usual_class, usual_classes, usual_limit
from kitesort.demo.generate import DemoStudy
from support.pixels import in_sites


@pytest.fixture(scope="module")
def iris() -> Iterator[dict[int, np.ndarray]]:
    """Fisher's iris, as it ships with scikit-learn."""
    data = load_iris()
    yield {k + 1: data.data[data.target == k] for k in range(3)}


def test_distances_from_the_usual_as_scikit_learn_and_scipy_have_them(
    iris: dict[int, np.ndarray],
) -> None:
    for flowers in iris.values():
        ours = usual_class(flowers, np.zeros(len(flowers), int), seed=4)
        theirs = MinCovDet(random_state=4).fit(flowers)
        assert ours is not None
        assert np.allclose(ours.squared_distances(flowers), theirs.mahalanobis(flowers))
        inverse = np.linalg.inv(theirs.covariance_)
        by_scipy = [mahalanobis(one, theirs.location_, inverse) ** 2 for one in flowers[:9]]
        assert np.allclose(ours.squared_distances(flowers[:9]), by_scipy)
        normal = multivariate_normal(ours.centre, ours.covariance)
        centre, scale = flowers[7], np.array([2.0, 0.5, 1.0, 3.0])
        row, added = ours.discriminant(centre, scale)
        x = ((flowers - centre) * scale).T
        i, j = np.tril_indices(4)
        differences = row @ np.concatenate([x[i] * x[j], x]) + added - normal.logpdf(flowers)
        assert np.allclose(differences, differences[0])  # but for the constant


def test_what_pixels_look_like_is_the_likeliest_class(iris: dict[int, np.ndarray]) -> None:
    usual = usual_classes(in_sites(list(iris.items())))
    for code, flowers in iris.items():
        logs = [multivariate_normal(u.centre, u.covariance).logpdf(flowers) for u in usual.values()]
        assert (likeliest(usual, flowers) == np.argmax(logs, axis=0) + 1).all()
        assert (likeliest(usual, flowers) == code).mean() > 0.85


@pytest.mark.parametrize("n_bands", [1, 4, 10])
def test_one_in_a_hundred_pixels_of_a_gaussian_class_is_unusual(n_bands: int) -> None:
    """By drawing; 20 000 pixels have a standard error of 0.0007."""
    drawn = np.random.default_rng(1).normal(size=(20_000, n_bands))
    assert ((drawn**2).sum(axis=1) > usual_limit(n_bands)).mean() == pytest.approx(0.01, abs=0.003)


@pytest.fixture(scope="module")
def judged(demo: DemoStudy, summer: Raster) -> tuple[list[SiteFigures], list[str]]:
    """The starter sites in doubt first, and their notes."""
    features = json.loads((demo.folder / "training_sites.json").read_text("utf-8"))["features"]
    scheme = json.loads((demo.folder / "class_scheme.json").read_text("utf-8"))["classes"]
    training = Training(
        roles=roles_of(summer),
        classes=tuple(
            SchemeClass(code=c["code"], name=c["name"], colour="#000000") for c in scheme
        ),
        sites=tuple(
            DrawnSite(code=f["properties"]["code"], geometry=f["geometry"]) for f in features
        ),
        method="maximum-likelihood",
        method_version=1,
    )
    samples, _ = collect_samples(training, summer)
    notes = {json.dumps(f["geometry"]): f["properties"]["note"] for f in features}
    figures = sorted(site_figures(samples), key=lambda one: -one.doubt)
    drawn = training.in_order
    return figures, [notes[json.dumps(drawn[one.number].geometry)] for one in figures]


def test_the_demo_s_bad_sites_are_named_first(
    judged: tuple[list[SiteFigures], list[str]],
) -> None:
    figures, notes = judged
    assert {note.split(",")[0] for note in notes[:3]} == {
        "Across the edge of mud and marsh", "Partly under cloud", "Barley taken for pasture",
    }  # fmt: skip
    assert not any(notes[3:])
    looks = {note.split(",")[0]: one for note, one in zip(notes[:3], figures[:3], strict=True)}
    assert looks["Barley taken for pasture"].like == 6
    assert looks["Barley taken for pasture"].like_share == 1
    assert looks["Across the edge of mud and marsh"].like == 2
