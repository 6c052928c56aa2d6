"""Tidying against SciPy, rasterio and brute force, pixel for pixel, with rules of ties and edges as
stated: windows end at the map's edge, ties keep the centre, else the lower code."""

from typing import Any

import numpy as np
import pytest
import rasterio.features
from scipy import ndimage
from scipy.spatial import cKDTree

from kitesort.core.errors import BadSettingsError
from kitesort.core.tidy.methods.majority import half_widths
from kitesort.core.tidy.methods.sieve import sieve
from kitesort.core.tidy.registry import TIDYINGS
from support.code_maps import MAP, SCENE, SHARES, Codes, make_codes, open_step, read, tidied

Json = dict[str, Any]


def by_scipy(codes: Codes, footprint: Codes, weight: int, minority: bool) -> Codes:
    """SciPy's generic filter, with the rule written out."""
    middle = int(footprint.sum()) // 2

    def rule(values: Codes) -> int:
        centre = int(values[middle])
        if centre in (0, 255):
            return centre
        part = values[(values != 0) & (values != 255)].astype(int)
        counts = np.bincount(part, minlength=256)
        counts[centre] += weight - 1
        there = counts > 0
        best = counts[there].min() if minority else counts.max()
        return centre if counts[centre] == best else int(np.flatnonzero(counts == best)[0])

    found = ndimage.generic_filter(codes, rule, footprint=footprint, mode="constant", cval=0)
    return np.asarray(found)


@pytest.mark.parametrize("window", [3, 5, 9])
@pytest.mark.parametrize("rule", ["majority", "minority"])
@pytest.mark.parametrize("weight", [1, 4])
def test_square_windows_as_scipy(window: int, rule: str, weight: int) -> None:
    codes = make_codes()
    want = by_scipy(codes, np.ones((window, window), bool), weight, rule == "minority")
    got = tidied("majority", codes, window_px=window, rule=rule, weight=weight)
    assert np.array_equal(got, want)
    assert (got != codes).mean() > 0.05


@pytest.mark.parametrize("window", [3, 7, 11])
def test_round_windows_as_scipy(window: int) -> None:
    codes, radius = make_codes(1), window // 2
    rows, cols = np.indices((window, window)) - radius
    disc = rows**2 + cols**2 <= (radius + 0.5) ** 2
    assert np.array_equal(2 * half_widths(radius) + 1, disc.sum(axis=1))
    want = by_scipy(codes, disc, 1, False)
    assert np.array_equal(tidied("majority", codes, window_px=window, shape="round"), want)


def test_a_window_as_wide_as_can_be() -> None:
    codes = make_codes(2)
    want = by_scipy(codes, np.ones((31, 31), bool), 1, False)
    assert np.array_equal(tidied("majority", codes, window_px=31), want)


def test_only_some_classes_change_or_win() -> None:
    codes = make_codes(3)
    free = tidied("majority", codes, window_px=5)
    held = tidied("majority", codes, window_px=5, changing=[2])
    assert np.array_equal(held, np.where(codes == 2, free, codes))
    never = tidied("majority", codes, window_px=5, winning=[1, 4])
    changed = never != codes
    assert set(np.unique(never[changed])) <= {1, 4} and changed.any()


def test_unclassified_takes_part_on_request() -> None:
    codes = np.full((9, 9), 255, np.uint16)
    codes[4, 4] = 2
    assert tidied("majority", codes)[4, 4] == 2
    assert tidied("majority", codes, with_unclassified=True)[4, 4] == 255


def by_brute_force(codes: Codes, least: int, diagonal: bool) -> Codes:
    """Patches by SciPy's label; borders counted side by side."""
    structure = np.ones((3, 3)) if diagonal else None
    labels, n = np.zeros(codes.shape, int), 0
    for code in np.unique(codes):
        here, m = ndimage.label(codes == code, structure)
        labels[here > 0] = here[here > 0] + n
        n += m
    sizes = np.bincount(labels.reshape(-1))
    small = (sizes < least)[labels] & (codes != 0)
    out = codes.copy()
    for label in np.unique(labels[small]):
        border = np.zeros(256, int)
        for r, c in np.argwhere(labels == label):
            for y, x in ((r - 1, c), (r + 1, c), (r, c - 1), (r, c + 1)):
                inside = 0 <= y < codes.shape[0] and 0 <= x < codes.shape[1]
                if inside and not small[y, x] and codes[y, x] not in (0, 255):
                    border[codes[y, x]] += 1
        if border.any():
            out[labels == label] = border.argmax()
    return out


@pytest.mark.parametrize("least", [2, 5, 40])
@pytest.mark.parametrize("diagonal", [False, True])
def test_the_sieve_by_brute_force(least: int, diagonal: bool) -> None:
    codes = make_codes(4)
    want = by_brute_force(codes, least, diagonal)
    neighbours = "8" if diagonal else "4"
    got = tidied("sieve", codes, least_px=least, neighbours=neighbours)
    assert np.array_equal(got, want)
    assert (got != codes).any()


def test_the_sieve_takes_out_what_rasterio_does_where_there_is_no_choice() -> None:
    """Single pixels inside one large field: only one neighbour to go to."""
    codes = np.full((40, 40), 4, np.uint16)
    codes[5::7, 3::6] = 2
    assert np.array_equal(sieve(codes, 3, False, ()), rasterio.features.sieve(codes, 3))


def test_hectares_become_pixels() -> None:
    """A pixel of 10 m is 0.01 ha on the plane; the ellipsoid makes it a little less or more."""
    codes = make_codes(5)
    assert np.array_equal(
        tidied("sieve", codes, least_ha=0.0495), tidied("sieve", codes, least_px=5)
    )
    assert not np.array_equal(
        tidied("sieve", codes, least_ha=0.08), tidied("sieve", codes, least_px=5)
    )


def test_fill_by_the_nearest_of_a_tree() -> None:
    """SciPy's k-d tree over all pixels that have a class; of equally near ones the lower code."""
    codes = make_codes(6)
    got = tidied("fill", codes, furthest_px=4)
    places = np.argwhere((codes != 0) & (codes != 255))
    tree = cKDTree(places)
    for place in np.argwhere(codes == 255):
        away, _ = tree.query(place)
        if away > 4:
            assert got[tuple(place)] == 255
            continue
        near = tree.query_ball_point(place, away + 1e-9)
        assert got[tuple(place)] == min(codes[tuple(places[i])] for i in near)
    assert np.array_equal(got[codes != 255], codes[codes != 255])


def test_holes_are_filled_the_collar_never() -> None:
    codes = np.full((30, 30), 2, np.uint16)
    codes[:, :4] = 0
    codes[10:12, 10:13] = 0
    codes[20:26, 20:26] = 0
    got = tidied("fill", codes, unclassified=False, holes_px=20, furthest_px=9)
    assert (got[10:12, 10:13] == 2).all()
    assert (got[:, :4] == 0).all() and (got[20:26, 20:26] == 0).all()


def test_recoded_and_joined() -> None:
    codes = make_codes(7)
    table = [{"code": 7, "to": 2}, {"code": 1, "to": 255}]
    got = tidied("recode", codes, table=table)
    want = np.where(codes == 7, 2, np.where(codes == 1, 255, codes))
    assert np.array_equal(got, want)
    made = open_step("recode", codes, table=table)
    assert [e.code for e in made.bands[0].legend] == [2, 4, 255]
    parent = {"to": 30, "name": "Land", "colour": "#aabbcc"}
    joined = open_step("recode", codes, table=[{"code": 1, **parent}, {"code": 2, **parent}])
    assert [e.name for e in joined.bands[0].legend if e.code == 30] == ["Land"]
    assert (read(joined, joined.grid.whole) == 30).sum() == np.isin(codes, [1, 2]).sum()


def below(layer: int, role: str, value: float) -> Json:
    return {"layer": {"scene_id": layer, "role": role}, "relation": "below", "value": value}


def is_code(layer: int, code: int) -> Json:
    return {"layer": {"scene_id": layer, "role": "class"}, "relation": "is", "value": code}


def box_of(top: float, left: float, bottom: float, right: float) -> Json:
    """An outline in pixels of the made-up grid."""
    corners = [(left, top), (right, top), (right, bottom), (left, bottom), (left, top)]
    ring = [[400_000 + 10 * x, 5_000_000 - 10 * y] for x, y in corners]
    return {"type": "Polygon", "coordinates": [ring]}


SETTINGS: dict[str, Json] = {
    "majority": {"window_px": 7, "shape": "round"},
    "sieve": {"least_px": 12, "neighbours": "8"},
    "fill": {"furthest_px": 6, "holes_px": 9},
    "recode": {"table": [{"code": 7, "to": 2}]},
    "rules": {
        "rules": [
            {"classes": [4], "conditions": [below(SCENE, "red", 0.3)], "becomes": {"code": 1}},
            {"conditions": [is_code(MAP, 7)], "becomes": {"code": 255}},
        ]
    },
    "edits": {"edits": [{"outline": box_of(10, 10, 40, 50), "becomes": {"code": 2}}]},
    "scores": {"shares_id": SHARES, "rule": "field", "rounds": 3, "guide_id": SCENE},
}


@pytest.mark.parametrize("operation", list(TIDYINGS))
def test_pieces_are_the_whole(operation: str) -> None:
    """Whatever the blocks; the map is larger than what is looked at around each."""
    made = open_step(operation, make_codes(8), **SETTINGS[operation])
    whole = read(made, made.grid.whole)
    for size in (17, 40):
        pieces = np.zeros_like(whole)
        for window in made.grid.blocks(size):
            pieces[window.slices] = read(made, window)
        assert np.array_equal(pieces, whole)
    assert not np.array_equal(whole, make_codes(8))


@pytest.mark.parametrize(
    ("operation", "settings", "words"),
    [
        ("majority", {"window_px": 4}, "must be odd"),
        ("majority", {"window_px": 33}, "Window"),
        ("majority", {"winning": [9]}, "no class of the code 9"),
        ("majority", {"winning": [255]}, "No class is left"),
        ("sieve", {"least_px": 1}, "Least size"),
        ("sieve", {"classes": [3]}, "no class of the code 3"),
        ("fill", {"unclassified": False}, "what is to be filled"),
        ("recode", {"table": [{"code": 1, "to": 9}]}, "no class of the code 9"),
        ("recode", {"table": [{"code": 1, "to": 2}, {"code": 1, "to": 4}]}, "named twice"),
        ("rules", {"rules": [{"classes": [3], "becomes": {"code": 1}}]}, "no class of the code 3"),
        ("rules", {"rules": [{"becomes": {"code": 9}}]}, "no class of the code 9"),
        (
            "rules",
            {"rules": [{"conditions": [is_code(MAP, 9)], "becomes": {"code": 1}}]},
            "Rule 1: the map has no class of the code 9",
        ),
        (
            "edits",
            {"edits": [{"outline": box_of(90, 0, 99, 9), "becomes": {"code": 1}}]},
            "Edit 1 lies outside",
        ),
        ("scores", {}, "Choose the layer"),
        ("scores", {"shares_id": SCENE}, "no share_class_1"),
        ("scores", {"shares_id": SHARES, "window_px": 4}, "must be odd"),
    ],
)
def test_what_cannot_be_done_is_said(operation: str, settings: Json, words: str) -> None:
    with pytest.raises(BadSettingsError, match=words):
        tidied(operation, make_codes(), **settings)


def test_a_window_larger_than_the_map_is_refused() -> None:
    with pytest.raises(BadSettingsError, match="larger than the map"):
        tidied("majority", make_codes()[:20, :20], window_px=31)


def test_a_sieve_that_would_empty_the_map_leaves_it() -> None:
    codes = np.full((5, 5), 2, np.uint16)
    assert np.array_equal(tidied("sieve", codes, least_px=400), codes)
