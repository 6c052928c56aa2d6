"""Maximum likelihood against scikit-learn and SciPy, on the whole demo scene and on made arrays."""

import numpy as np
import numpy.typing as npt
import pytest
from scipy.stats import chi2, multivariate_normal
from sklearn.discriminant_analysis import QuadraticDiscriminantAnalysis

from kitesort.core.classify.methods.maximum_likelihood import MaximumLikelihoodSettings
from kitesort.core.errors import SingularCovarianceError, TooFewPixelsError
from kitesort.core.training.samples import TrainingSamples
from support.fitting import fit

Float64Array = npt.NDArray[np.float64]


def log_discriminants(
    samples: TrainingSamples, pixels: npt.NDArray[np.float32], priors: Float64Array
) -> Float64Array:
    """Log prior plus log density (classes, n) by SciPy; covariance with divisor n - 1."""
    rows = []
    for code, prior in zip(samples.class_codes, priors, strict=True):
        mine = samples.values[samples.codes == code].astype(np.float64)
        normal = multivariate_normal(mine.mean(axis=0), np.cov(mine, rowvar=False))
        rows.append(np.log(prior) + normal.logpdf(pixels.T.astype(np.float64)))
    return np.stack(rows)


def with_divisor_n(samples: TrainingSamples) -> TrainingSamples:
    """Pixels whose covariance by n - 1 equals the original one by n.

    scikit-learn divides by n, we by n - 1; shrinking the scatter about each class mean by
    sqrt((n - 1) / n) makes both see the same covariance.
    """
    values = samples.values.astype(np.float64)
    for code in samples.class_codes:
        mine = samples.codes == code
        n, mean = mine.sum(), values[mine].mean(axis=0)
        values[mine] = mean + (values[mine] - mean) * np.sqrt((n - 1) / n)
    return TrainingSamples.of_pixels(values, samples.codes, samples.roles, samples.names)  # type: ignore[arg-type]


def test_every_pixel_of_the_demo_scene_as_scikit_learn_has_it(
    demo_samples: tuple[TrainingSamples, npt.NDArray[np.float32]],
) -> None:
    """Source: scikit-learn, QuadraticDiscriminantAnalysis with equal priors; ties aside."""
    samples, pixels = demo_samples
    reference = QuadraticDiscriminantAnalysis(priors=[1 / 9] * 9, solver="svd", tol=1e-12)
    reference.fit(samples.values.astype(np.float64), samples.codes)
    expected = reference.predict(pixels.T.astype(np.float64))
    got = fit(with_divisor_n(samples), MaximumLikelihoodSettings()).classify(pixels)
    assert got.size > 600_000
    differ = np.flatnonzero(got != expected)
    if differ.size:  # only where two classes are equally likely to the last digits
        scores = np.sort(reference.decision_function(pixels.T[differ].astype(np.float64)), axis=1)
        assert (scores[:, -1] - scores[:, -2] < 1e-6 * np.abs(scores[:, -1])).all()
    assert differ.size < 10


@pytest.mark.parametrize("priors", ["equal", "pixels"])
def test_priors_by_scipy(priors: str) -> None:
    """Source: SciPy, multivariate_normal."""
    rng = np.random.default_rng(3)
    counts = {2: 40, 5: 200, 6: 90}
    values = np.concatenate(
        [rng.normal(0.1 * i, 0.08, (n, 4)) for i, n in enumerate(counts.values())]
    )
    codes = np.repeat(np.array(list(counts), np.uint16), list(counts.values()))
    samples = TrainingSamples.of_pixels(
        values.astype(np.float32), codes, ("a", "b", "c", "d"), {c: str(c) for c in counts}
    )
    pixels = rng.uniform(-0.2, 0.5, (4, 20_000)).astype(np.float32)
    weights = np.full(3, 1 / 3) if priors == "equal" else np.array(list(counts.values())) / 330
    scores = log_discriminants(samples, pixels, weights)
    expected = np.array(list(counts))[scores.argmax(axis=0)]
    got = fit(samples, MaximumLikelihoodSettings(priors=priors)).classify(pixels)  # type: ignore[arg-type]
    sure = np.abs(np.diff(np.sort(scores, axis=0)[-2:], axis=0))[0] > 1e-9
    assert np.array_equal(got[sure], expected[sure])
    assert sure.mean() > 0.9999


@pytest.mark.parametrize("share", [0.01, 0.1, 0.5])
def test_rejection_turns_away_that_share_of_a_normal_class(share: float) -> None:
    """Squared Mahalanobis distances of a normal class follow chi-square with as many degrees of
    freedom as bands. Source: Richards, Remote Sensing Digital Image Analysis, thresholds.
    """
    rng = np.random.default_rng(8)
    values = np.concatenate([rng.normal(0, 1, (20_000, 3)), rng.normal(1000, 1, (50, 3))])
    codes = np.array([1] * 20_000 + [2] * 50, np.uint16)
    samples = TrainingSamples.of_pixels(
        values.astype(np.float32), codes, ("a", "b", "c"), {1: "one", 2: "two"}
    )
    model = fit(samples, MaximumLikelihoodSettings(reject_share=share))
    fresh = rng.normal(0, 1, (3, 100_000)).astype(np.float32)
    got = model.classify(fresh)
    assert (got == 255).mean() == pytest.approx(share, rel=0.05)
    mine = samples.values[:20_000].astype(np.float64)
    centred = fresh.T - mine.mean(axis=0)
    distances = np.einsum(
        "ij,jk,ik->i", centred, np.linalg.inv(np.cov(mine, rowvar=False)), centred
    )
    far = distances > chi2.isf(share, 3)
    clear = np.abs(distances - chi2.isf(share, 3)) > 1e-3
    assert np.array_equal((got == 255)[clear], far[clear])


def two_classes(second: Float64Array) -> TrainingSamples:
    first = np.random.default_rng(0).normal(0, 1, (50, 3))
    codes = np.array([1] * 50 + [2] * len(second), np.uint16)
    values = np.concatenate([first, second]).astype(np.float32)
    return TrainingSamples.of_pixels(
        values, codes, ("red", "nir", "swir16"), {1: "Water", 2: "Reedbed"}
    )


def test_fewer_pixels_than_bands_plus_one_is_refused() -> None:
    second = np.random.default_rng(1).normal(5, 1, (3, 3))
    with pytest.raises(TooFewPixelsError, match=r"Reedbed has 3 training pixels.*at least 4"):
        fit(two_classes(second), MaximumLikelihoodSettings())
    fit(two_classes(np.random.default_rng(1).normal(5, 1, (4, 3))), MaximumLikelihoodSettings())


def test_constant_band_is_named() -> None:
    second = np.random.default_rng(1).normal(5, 1, (40, 3))
    second[:, 1] = 0.25
    with pytest.raises(SingularCovarianceError, match=r"Reedbed have the same value in nir\."):
        fit(two_classes(second), MaximumLikelihoodSettings())


def test_bands_that_repeat_one_another_are_told() -> None:
    second = np.random.default_rng(1).normal(5, 1, (40, 3))
    second[:, 2] = 2 * second[:, 0]
    with pytest.raises(SingularCovarianceError, match="Reedbed repeat one another"):
        fit(two_classes(second), MaximumLikelihoodSettings())


@pytest.mark.parametrize("scale", [1e-4, 1.0, 1e4])
def test_units_of_the_bands_do_not_matter(scale: float) -> None:
    samples = two_classes(np.random.default_rng(1).normal(1, 2, (60, 3)))
    pixels = np.random.default_rng(2).normal(0.5, 2, (3, 5000)).astype(np.float32)
    expected = fit(samples, MaximumLikelihoodSettings()).classify(pixels)
    scaled = TrainingSamples.of_pixels(
        (samples.values * np.float32(scale)), samples.codes, samples.roles, samples.names
    )
    got = fit(scaled, MaximumLikelihoodSettings()).classify(pixels * np.float32(scale))
    assert (got == expected).mean() > 0.999
