"""Stretches, densities and palettes against general-purpose libraries."""

import colorcet
import numpy as np
import pytest
from skimage.exposure import equalize_hist

from kitesort.core.bands import RANGES_UM
from kitesort.core.display.feature_space import Axis, class_ellipse, compute_density
from kitesort.core.display.stretch import Stretch, apply_curves, make_curves
from kitesort.core.palette import PALETTES, palette_table
from kitesort.core.reference_spectra import REFERENCE_SPECTRA
from kitesort.core.statistics import histogram_of


def test_equalisation_is_that_of_scikit_image() -> None:
    """scikit-image maps a value to the cumulative share of pixels up to it."""
    values = np.random.default_rng(1).gamma(2, 0.1, (1, 200, 200)).astype(np.float32)
    ours = apply_curves(values, make_curves([values.ravel()], Stretch(kind="equalise")))
    theirs = equalize_hist(values[0], nbins=4096) * 255
    assert np.abs(ours[0] - theirs).max() <= 2


def test_histogram_and_density_are_those_of_numpy() -> None:
    rng = np.random.default_rng(2)
    x, y = rng.normal(0, 1, (2, 5000))
    counts, _, _ = np.histogram2d(x, y, 20, [(-2, 2), (-1, 3)])
    found = compute_density(x, y, 20, Axis(-2, 2), Axis(-1, 3))
    assert (counts == found.counts.T).all()
    expected, _ = np.histogram(x, 50, (-2, 2))
    assert list(histogram_of(x.astype(np.float32), 50, -2, 2).counts) == pytest.approx(
        expected, abs=1
    )


def test_ellipse_holds_the_share_of_a_gaussian_that_it_should() -> None:
    """At two standard deviations 1 - exp(-2) of a plane Gaussian lies inside (Richards, Remote
    Sensing Digital Image Analysis; from memory: chi-squared with two degrees of freedom)."""
    rng = np.random.default_rng(3)
    points = rng.multivariate_normal([0.1, 0.3], [[4e-4, 3e-4], [3e-4, 9e-4]], 100_000)
    found = class_ellipse(points.mean(axis=0), np.cov(points.T), 2)
    turn = np.radians(found.angle_deg)
    dx, dy = (points - (found.x, found.y)).T
    along, across = dx * np.cos(turn) + dy * np.sin(turn), dy * np.cos(turn) - dx * np.sin(turn)
    inside = (along / found.long) ** 2 + (across / found.short) ** 2 <= 1
    assert inside.mean() == pytest.approx(1 - np.exp(-2), abs=0.005)


@pytest.mark.parametrize("palette", PALETTES, ids=lambda p: p.id)
def test_palettes_are_the_published_ones(palette: object) -> None:
    """Kovesi 2015, arXiv:1509.03700, as shipped by colorcet."""
    published = colorcet.palette[palette.key]  # type: ignore[attr-defined]
    ours = palette_table(palette.id)  # type: ignore[attr-defined]
    assert ["#{:02x}{:02x}{:02x}".format(*c) for c in ours] == [c.lower() for c in published]


def mean_in(spectrum_id: str, role: str) -> float:
    points = next(s.points for s in REFERENCE_SPECTRA if s.id == spectrum_id)
    low, high = RANGES_UM[role]  # type: ignore[index]
    return float(np.mean(np.interp(np.linspace(low, high, 20), *zip(*points, strict=True))))


def test_reference_spectra_behave_as_common_practice_says() -> None:
    """Common practice (no source): water next to nothing in the infrared; vegetation low in red
    and high in near infrared; dry sand with a high short-wave to blue ratio; wet soil low and dry
    soil high on the soil line."""
    assert mean_in("water", "blue") > 0.04 and mean_in("water", "swir16") < 0.005
    assert mean_in("vegetation", "red") < 0.06 and mean_in("vegetation", "nir") > 0.4
    assert mean_in("sand", "swir16") / mean_in("sand", "blue") > 2
    assert mean_in("vegetation", "nir") / mean_in("vegetation", "blue") > 8
    for role in ("red", "nir"):
        assert mean_in("wet-soil", role) < 0.6 * mean_in("dry-soil", role)
    assert mean_in("snow", "green") > 0.9 and mean_in("snow", "swir16") < 0.12
