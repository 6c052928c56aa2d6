"""Colours of new classes; distances by the reference library scikit-image."""

import itertools

import pytest
from skimage.color import deltaE_ciede2000, rgb2lab

from kitesort.core.class_colours import (
    COVERS,
    LEAST_APART,
    MUTED,
    SIGHTS,
    apartness,
    most_apart,
    suggest_colour,
)


@pytest.mark.parametrize(
    ("name", "hue"),
    [
        ("Conifer wood", "green"), ("Tidal water", "blue"), ("Built-up", "red"),
        ("Winter barley", "yellow"), ("Meadow", "green"), ("Bare soil", "red"),
    ],
)  # fmt: skip
def test_names_suggest_what_readers_expect(name: str, hue: str) -> None:
    red, green, blue = (int(suggest_colour(name, [])[i : i + 2], 16) for i in (1, 3, 5))
    assert {
        "green": green > max(red, blue), "blue": blue > max(red, green),
        "red": red > max(green, blue), "yellow": min(red, green) > blue,
    }[hue]  # fmt: skip


def test_a_name_that_says_nothing_gets_the_default_palette_in_order() -> None:
    taken: list[str] = []
    for _ in MUTED:
        taken.append(suggest_colour("Class", taken))
    assert set(taken) == set(MUTED)


def test_two_waters_are_told_apart_by_everybody() -> None:
    taken: list[str] = []
    for name in ("Lake", "River", "Pond", "Sea", "Pasture", "Meadow", "Maize", "Wheat"):
        taken.append(suggest_colour(name, taken))
    for one, other in itertools.combinations(taken, 2):
        assert apartness(one, [other]) >= LEAST_APART


def test_the_analysts_colours_are_kept_apart_from() -> None:
    assert suggest_colour("Lake", []) == "#3b6fb6"
    assert suggest_colour("Lake", ["#3b6fb6"]) != "#3b6fb6"
    assert suggest_colour("Lake", ["#3c70b5"]) not in ("#3b6fb6", "#3c70b5")


def test_where_all_are_taken_one_is_given_all_the_same() -> None:
    many = [c for _, shades in COVERS for c in shades] + list(MUTED)
    assert suggest_colour("Lake", many) in MUTED


def test_distance_in_normal_sight_is_the_librarys() -> None:
    def lab(colour: str) -> object:
        return rgb2lab([int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)])

    wanted = deltaE_ciede2000(lab("#117733"), lab("#332288"))
    assert apartness("#117733", ["#332288"]) <= wanted + 1e-9
    assert len(SIGHTS) == 3
    # Red and green of one brightness are far apart, but not without one kind of cones.
    assert deltaE_ciede2000(lab("#b05a2a"), lab("#6f7f2a")) > 2 * apartness("#b05a2a", ["#6f7f2a"])


def test_those_furthest_from_what_is_taken_are_chosen_one_after_the_other() -> None:
    taken = ["#000000", "#3050c0"]
    chosen = most_apart(["#0a0a0a", "#ffffff", "#e0b020", "#f8f8f8", "#3050c0"], taken, 2)
    assert "#e0b020" in chosen and {"#ffffff", "#f8f8f8"} & set(chosen)
    assert most_apart(["#ffffff"], taken, 3) == ["#ffffff"]
