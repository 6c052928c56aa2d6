"""What is said of training sites, and what is advised."""

from dataclasses import replace

import numpy as np
import pytest

from kitesort.core.training.advice import ClassFacts, SiteFacts, advise
from kitesort.core.training.overlap import Contested
from kitesort.core.training.peaks import second_peak
from kitesort.core.training.site_figures import SiteFigures, rim_of, site_figures
from kitesort.core.training.usual import usual_class, usual_classes
from support.pixels import gaussian, in_sites

GRASS = ClassFacts("Grass", n_sites=12, n_pixels=900, left_out=False, around=0.3)
CLASSES = {1: GRASS, 2: replace(GRASS, name="Sand")}
PLAIN = SiteFigures(
    number=0, code=1, n_pixels=40, mean=(0.1, 0.2, 0.3), spread=0.5, oddness=0.6, like=None,
    like_share=0.0, rim=False, two_kinds=False, odd=np.zeros(40, bool), second=None,
)  # fmt: skip


@pytest.fixture
def rng() -> np.random.Generator:
    return np.random.default_rng(5)


def said_of(n_covered: int = 40, trusted: bool = False, **figures: object) -> list[str]:
    facts = SiteFacts(7, "Site 1 of Grass", n_covered, trusted, replace(PLAIN, **figures))
    return [f"{a.sentence} [{' '.join(a.acts)}]" for a in advise(CLASSES, [facts], (), n_bands=3)]


def test_a_site_of_another_class_is_the_odd_one_and_says_which(rng: np.random.Generator) -> None:
    good = [(1, gaussian(rng, 40, 0)) for _ in range(5)]
    wrong = (1, gaussian(rng, 40, 6))
    figures = site_figures(in_sites([*good, wrong, *[(2, gaussian(rng, 60, 6))] * 3]))
    odd = max(figures, key=lambda one: one.doubt)
    assert (odd.number, odd.like) == (5, 2)
    assert odd.like_share == 1
    assert odd.oddness is not None and odd.oddness > 2
    assert all(one.oddness < 1 for one in figures if one.number != 5 and one.oddness)


def test_a_bad_site_does_not_change_what_is_usual(rng: np.random.Generator) -> None:
    """The mean of all its pixels would lie a quarter of the way towards it."""
    pixels = np.concatenate([gaussian(rng, 300, 0), gaussian(rng, 100, 8)])
    found = usual_class(pixels, np.repeat([0, 1], [300, 100]))
    assert found is not None
    assert np.abs(found.centre).max() < 0.3
    assert pixels.mean() > 1.8


def test_classes_without_the_pixels_are_not_judged(rng: np.random.Generator) -> None:
    few = in_sites([(1, gaussian(rng, 4, 0)), (2, gaussian(rng, 60, 6))])
    assert set(usual_classes(few)) == {2}
    small, _ = site_figures(few)
    assert (small.oddness, small.like, small.odd.any()) == (None, None, False)


def test_repeated_bands_are_no_error(rng: np.random.Generator) -> None:
    one = gaussian(rng, 50, 0, 1)
    twice = np.concatenate([one, one], axis=1)
    assert usual_class(twice, np.zeros(50, int)) is None
    assert site_figures(in_sites([(1, twice), (2, twice + 5)]))[0].oddness is None


def test_spread_is_that_of_the_site_over_that_of_its_class(rng: np.random.Generator) -> None:
    values = [gaussian(rng, 50, centre, 2) for centre in (0, 4)]
    figures = site_figures(in_sites([(1, v) for v in values]))
    of_class = np.concatenate(values).astype(np.float32).std(axis=0, ddof=1, dtype=np.float64)
    own = values[0].astype(np.float32).std(axis=0, ddof=1, dtype=np.float64)
    assert figures[0].spread == pytest.approx(np.sqrt(((own / of_class) ** 2).mean()), rel=1e-6)


@pytest.mark.parametrize("seed", range(5))
@pytest.mark.parametrize("n", [20, 60, 400])
def test_one_heap_is_one_heap(seed: int, n: int) -> None:
    pixels = np.random.default_rng(seed).normal(0, 1, (n, 4))
    assert second_peak(pixels) is None


def test_two_heaps_are_told_apart_pixel_by_pixel(rng: np.random.Generator) -> None:
    pixels = np.concatenate([gaussian(rng, 60, 0), gaussian(rng, 30, 6)])
    found = second_peak(pixels)
    assert found is not None
    assert found.second.tolist() == [False] * 60 + [True] * 30
    assert second_peak(np.zeros((50, 3))) is None
    assert second_peak(pixels[55:65]) is None  # too few to say so


def test_the_rim_is_what_touches_the_outside() -> None:
    rows, cols = (at.ravel().astype(np.int32) for at in np.mgrid[3:8, 2:8])
    inner = (rows > 3) & (rows < 7) & (cols > 2) & (cols < 7)
    assert (~rim_of(rows, cols, np.zeros(len(rows), np.intp))).tolist() == inner.tolist()


def test_an_odd_rim_is_found(rng: np.random.Generator) -> None:
    pixels = gaussian(rng, 64, 0)
    rows, cols = (at.ravel() for at in np.mgrid[:8, :8])
    border = (rows % 7 == 0) | (cols % 7 == 0)
    pixels[border] += 9
    rest = [(1, gaussian(rng, 64, 0)) for _ in range(6)]
    figures = site_figures(in_sites([(1, pixels), *rest]))
    assert [one.rim for one in figures] == [True] + [False] * 6


@pytest.mark.parametrize(
    ("figures", "words"),
    [
        ({"like": 2, "like_share": 0.8}, "looks like Sand: 32 of its 40 pixels. [move delete"),
        ({"like": 2, "like_share": 0.4, "oddness": 2}, "across an edge. [split shrink delete"),
        ({"rim": True}, "along its border. It may touch an edge. [shrink"),
        ({"two_kinds": True, "oddness": 1.2}, "two kinds of pixels. [split delete"),
        ({"n_covered": 90}, "hidden: 50 of its 90 pixels are cloud, shadow or no data. [delete"),
        ({"oddness": 1.5}, "is unlike the other sites of Grass. [delete"),
    ],
)
def test_each_trouble_comes_with_its_acts(figures: dict[str, object], words: str) -> None:
    (said,) = said_of(**figures)  # type: ignore[arg-type]
    assert words in said
    assert said.endswith(" trust]")
    assert said_of(trusted=True, **figures) == []  # type: ignore[arg-type]


def test_no_word_where_all_is_well() -> None:
    assert said_of() == []
    assert said_of(two_kinds=True) == []
    assert said_of(like=2, like_share=0.1) == []


def test_advice_comes_in_the_order_of_what_it_gains() -> None:
    classes = {
        **CLASSES,
        3: ClassFacts("Reed", n_sites=0, n_pixels=0, left_out=False, around=0),
        4: ClassFacts("Hedge", n_sites=2, n_pixels=3, left_out=True, around=0.1),
        5: ClassFacts("Shingle", n_sites=3, n_pixels=20, left_out=False, around=0.1),
        6: ClassFacts("Town", n_sites=9, n_pixels=900, left_out=False, around=0.001),
    }
    doubted = [
        SiteFacts(1, "Site 1 of Grass", 40, False, replace(PLAIN, rim=True)),
        SiteFacts(2, "Site 2 of Grass", 40, False, replace(PLAIN, like=2, like_share=1.0)),
    ]
    said = advise(classes, doubted, [Contested(1, 2, 1)], n_bands=3, n_idle=2)
    beginnings = [one.sentence.split(".")[0] for one in said]
    assert beginnings == [
        "1 pixel lies in sites of both Grass and Sand",
        "Reed has no site yet and will not appear on the map",
        "Hedge has too few pixels to be trained: at least 4 are needed",
        "Site 2 of Grass looks like Sand: 40 of its 40 pixels",
        "Site 1 of Grass has unusual pixels along its border",
        "Shingle has 20 pixels; ten per band, 30, is the usual minimum",
        "Shingle has 3 sites; a dozen or more, spread over the scene, show more of its kinds",
        "The sites of Town lie close together",
        "2 sites take no part; the list of its class says why",
    ]
