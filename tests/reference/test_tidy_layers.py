"""Steps that look at other layers, and edits: against NumPy, rasterio, SciPy and brute force."""

from itertools import pairwise

import numpy as np
import numpy.typing as npt
import pytest
import rasterio.features
from scipy import ndimage
from shapely.geometry import shape

from kitesort.core.errors import BadSettingsError, InputError
from kitesort.core.grid import Window
from kitesort.core.operation import Context
from kitesort.core.settings import validate_settings
from kitesort.core.tidy.registry import TIDYINGS
from support.code_maps import (
    MAP,
    SCENE,
    SHARES,
    Codes,
    context_of,
    make_codes,
    make_scene,
    make_shares,
    open_step,
    raster_of,
    read,
    tidied,
)

KNOWN = np.array([1, 2, 4, 7])


def condition(layer: int, role: str, relation: str, value: float) -> dict[str, object]:
    return {"layer": {"scene_id": layer, "role": role}, "relation": relation, "value": value}


RULES = [
    {"classes": [4, 255], "conditions": [condition(SCENE, "red", "at most", 0.4)],
     "becomes": {"code": 1}},
    {"conditions": [condition(MAP, "class", "is", 7), condition(SCENE, "nir", "above", 0.5)],
     "becomes": {"code": 12, "name": "Quarry", "colour": "#aa8866"}},
    {"classes": [1], "conditions": [condition(MAP, "class", "is not", 2)],
     "becomes": {"code": 255}},
]  # fmt: skip


def by_numpy(codes: Codes) -> Codes:
    """The three rules written out; a comparison with not-a-number never holds."""
    scene, other = make_scene(codes.shape), make_codes(40, codes.shape)
    red, nir = (np.where(scene.valid, band, np.nan) for band in scene.values)
    first = (codes == 4) | (codes == 255)
    first &= red <= np.float32(0.4)
    second = (other == 7) & (nir > np.float32(0.5)) & (codes != 0)
    third = (codes == 1) & (other != 2) & (other != 0)
    return np.select([first, second, third], [1, 12, 255], codes.astype(int)).astype(np.uint16)


def test_the_first_rule_that_holds_counts() -> None:
    codes = make_codes()
    want = by_numpy(codes)
    assert np.array_equal(tidied("rules", codes, rules=RULES), want)
    assert (want == 12).sum() > 50 and ((want == 255) & (codes == 1)).sum() > 50
    made = open_step("rules", codes, rules=RULES)
    assert [e.name for e in made.bands[0].legend if e.code == 12] == ["Quarry"]


def test_each_rule_tells_its_pixels() -> None:
    codes, spec = make_codes(), TIDYINGS["rules"]
    settings, context = validate_settings(spec, {"rules": RULES}), context_of(codes)
    assert spec.parts
    parts = spec.parts((raster_of(codes),), settings, context)
    hit = parts.which(Window(0, 0, *codes.shape))
    assert parts.words == ("Rule 1", "Rule 2", "Rule 3")
    became = np.select([hit == 1, hit == 2, hit == 3], [1, 12, 255], codes.astype(int))
    assert np.array_equal(became, by_numpy(codes))


def test_a_number_as_pixels_are_kept_is_at_most_itself() -> None:
    """0.1 has no exact place in single precision."""
    codes = np.full((4, 4), 2, np.uint16)
    scene = make_scene((4, 4))
    scene.values[:], scene.valid[:] = np.float32(0.1), True
    spec = TIDYINGS["rules"]
    rule = {"conditions": [condition(SCENE, "red", "at most", 0.1)], "becomes": {"code": 7}}
    settings = validate_settings(spec, {"rules": [rule]})
    made = spec.open((raster_of(codes),), settings, Context(lambda *_: scene))
    assert (read(made, made.grid.whole) == 7).all()


def test_rules_about_what_is_not_there_are_refused() -> None:
    wrong = {"conditions": [condition(SCENE, "swir16", "below", 1)], "becomes": {"code": 1}}
    with pytest.raises(InputError, match="swir16"):
        tidied("rules", make_codes(), rules=[wrong])


def outline(corners: list[tuple[float, float]]) -> dict[str, object]:
    """From columns and rows of the made-up grid."""
    ring = [[400_000 + 10 * x, 5_000_000 - 10 * y] for x, y in [*corners, corners[0]]]
    return {"type": "Polygon", "coordinates": [ring]}


def test_edits_as_rasterio_burns_them() -> None:
    codes = make_codes(1)
    edits = [
        {"outline": outline([(5.2, 3.1), (50.7, 8.4), (30.3, 44.9)]), "becomes": {"code": 2}},
        {"outline": outline([(20, 10), (70, 12), (60, 50)]), "becomes": {"code": 7},
         "classes": [1, 2], "note": "the new pier"},
    ]  # fmt: skip
    want, transform = codes.copy(), raster_of(codes).grid.transform
    for edit, only in zip(edits, ([*KNOWN.tolist(), 255], [1, 2]), strict=True):
        inside = rasterio.features.rasterize([shape(edit["outline"])], codes.shape,
                                             transform=transform).astype(bool)  # fmt: skip
        want[inside & np.isin(codes, only)] = edit["becomes"]["code"]  # type: ignore[index]
    assert np.array_equal(tidied("edits", codes, edits=edits), want)
    made = open_step("edits", codes, edits=edits)
    assert "the new pier" in TIDYINGS["edits"].say(
        validate_settings(TIDYINGS["edits"], {"edits": edits})
    )
    piece = Window(11, 17, 20, 30)
    assert np.array_equal(read(made, piece), want[piece.slices])


def shares_of(codes: Codes) -> npt.NDArray[np.float32]:
    raster = make_shares(codes)
    return np.where(raster.valid, raster.values, np.nan).astype(np.float32)


def decided(codes: Codes, sums: npt.NDArray[np.float64]) -> Codes:
    """The best class, where the pixel has one and shares; its own of equals."""
    takes_part = np.isin(codes, KNOWN) & ~np.isnan(shares_of(codes)).any(axis=0)
    best = KNOWN[sums.argmax(axis=0)]
    return np.where(takes_part, best, codes).astype(np.uint16)


@pytest.mark.parametrize("side", [3, 9])
def test_averaged_shares_as_scipy(side: int) -> None:
    codes = make_codes(2)
    known = np.nan_to_num(shares_of(codes)).astype(np.float64)
    means = np.stack([ndimage.uniform_filter(one, side, mode="constant") for one in known])
    got = tidied("scores", codes, shares_id=SHARES, window_px=side)
    assert np.array_equal(got, decided(codes, means))
    assert (got != codes).mean() > 0.1


def likeness(guide: npt.NDArray[np.float64], a: tuple[int, int], b: tuple[int, int]) -> float:
    step = guide[:, a[0], a[1]] - guide[:, b[0], b[1]]
    return float(np.exp(-0.5 * np.nansum(step**2) / len(guide)))


def guide_of(codes: Codes, edge: float) -> npt.NDArray[np.float64]:
    scene = make_scene(codes.shape)
    values = np.where(scene.valid, scene.values, np.nan).astype(np.float64)
    return values / (np.nanstd(values, axis=(1, 2))[:, None, None] * edge)


def around(at: tuple[int, int], radius: int, size: tuple[int, ...]) -> list[tuple[int, int]]:
    rows, cols = (
        range(max(0, i - radius), min(n, i + radius + 1)) for i, n in zip(at, size, strict=True)
    )
    return [(r, c) for r in rows for c in cols]


def test_edges_are_kept_as_by_brute_force() -> None:
    codes = make_codes(3, (24, 30))
    shares, guide = shares_of(codes).astype(np.float64), guide_of(codes, 0.7)
    sums = np.zeros(shares.shape)
    for at in np.ndindex(*codes.shape):
        for other in around(at, 2, codes.shape):  # type: ignore[arg-type]
            if not np.isnan(shares[0][other]):
                like = likeness(guide, at, other)  # type: ignore[arg-type]
                sums[:, at[0], at[1]] += like * shares[:, other[0], other[1]]
    got = tidied("scores", codes, shares_id=SHARES, guide_id=SCENE, edge=0.7)
    assert np.array_equal(got, decided(codes, sums))
    plain = tidied("scores", codes, shares_id=SHARES)
    assert not np.array_equal(got, plain)


def energy(codes: Codes, weight: float) -> float:
    """Of the Potts model: minus the logarithm of shares, minus the weight of each pair that
    agrees, counted once (Besag 1986)."""
    shares, part = shares_of(codes_before()), takes_part(codes_before())
    place = np.searchsorted(KNOWN, np.where(part, codes, 1))
    own = np.take_along_axis(np.nan_to_num(shares), place[None], axis=0)[0]
    total = -np.log(np.maximum(own, 1e-6))[part].sum()
    for r, c in ((0, 1), (1, 0), (1, 1), (1, -1)):
        one, other = shifted(codes, r, c)
        both = np.logical_and(*shifted(part, r, c))
        total -= weight * (both & (one == other)).sum()
    return float(total)


def shifted(a: npt.NDArray[np.generic], r: int, c: int) -> tuple[np.ndarray, np.ndarray]:
    rows, cols = a.shape
    if c < 0:
        return a[: rows - r, -c:], a[r:, : cols + c]
    return a[: rows - r, : cols - c], a[r:, c:]


def codes_before() -> Codes:
    return make_codes(4, (40, 44))


def takes_part(codes: Codes) -> npt.NDArray[np.bool_]:
    return np.asarray(np.isin(codes, KNOWN) & ~np.isnan(shares_of(codes)).any(axis=0))


def test_a_random_field_comes_to_rest_where_no_pixel_can_do_better() -> None:
    """Iterated conditional modes never raise the energy, and end where no single change lowers
    it; checked by changing every pixel to every class."""
    before, weight = codes_before(), 0.6
    settings = {"shares_id": SHARES, "rule": "field", "weight": weight}
    at = [energy(before, weight)]
    for rounds in (1, 2, 10):
        after = tidied("scores", before, rounds=rounds, **settings)
        at.append(energy(after, weight))
    assert all(a >= b - 1e-9 for a, b in pairwise(at)) and at[-1] < at[0] - 50
    part = takes_part(before)
    assert np.array_equal(after[~part], before[~part])
    rng = np.random.default_rng(0)
    for place in rng.permutation(np.argwhere(part))[:120]:
        for code in KNOWN:
            other = after.copy()
            other[tuple(place)] = code
            assert energy(other, weight) >= at[-1] - 1e-6


def test_a_random_field_keeps_edges_as_by_hand() -> None:
    """One round written out: four lots of pixels, each takes the class of least energy, weighed by
    how alike its neighbours look; its own of equals."""
    codes, weight = make_codes(6, (14, 17)), 1.3
    shares, guide, part = shares_of(codes), guide_of(codes, 0.5), takes_part(codes)
    costs = -np.log(np.maximum(np.nan_to_num(shares), 1e-6).astype(np.float64))
    want = codes.copy()
    for lot in ((0, 0), (0, 1), (1, 0), (1, 1)):
        for at in np.argwhere(part):
            if tuple(at % 2) != lot:
                continue
            place = int(at[0]), int(at[1])
            agree = dict.fromkeys(KNOWN.tolist(), 0.0)
            for other in around(place, 1, codes.shape):
                if other != place and part[other]:
                    agree[int(want[other])] += likeness(guide, place, other)
            energy_of = {
                code: costs[i][place] - weight * agree[code] for i, code in enumerate(agree)
            }
            least = min(energy_of.values())
            if energy_of[int(want[place])] > least:
                want[place] = next(code for code, e in energy_of.items() if e == least)
    got = tidied("scores", codes, shares_id=SHARES, guide_id=SCENE, edge=0.5, rule="field",
                 weight=weight, rounds=1)  # fmt: skip
    assert np.array_equal(got, want) and (got != codes).any()


def test_neighbours_without_weight_change_what_scores_alone_say() -> None:
    codes = codes_before()
    got = tidied("scores", codes, shares_id=SHARES, rule="field", weight=0)
    best = KNOWN[np.nan_to_num(shares_of(codes)).argmax(axis=0)]
    assert np.array_equal(got, np.where(takes_part(codes), best, codes))


def test_a_guide_that_is_the_same_everywhere_is_refused() -> None:
    codes = make_codes(5)
    scene, spec = make_scene(codes.shape), TIDYINGS["scores"]
    scene.values[:] = 1
    settings = validate_settings(spec, {"shares_id": SHARES, "guide_id": SCENE})
    layers = {SCENE: scene, SHARES: make_shares(codes)}
    context = Context(lambda layer_id, _: layers[layer_id])
    with pytest.raises(BadSettingsError, match="same everywhere"):
        spec.prepare((raster_of(codes),), settings, context, None)  # type: ignore[arg-type]


@pytest.mark.parametrize("shape_of_window", ["square", "round"])
def test_ties_go_to_the_larger_share(shape_of_window: str) -> None:
    """Counted by SciPy: of the most frequent classes the pixel's own, else that with the largest
    share there, where there are shares, else the lower code."""
    codes = make_codes(5)
    shares = np.nan_to_num(shares_of(codes), nan=-1.0)
    window = np.ones((3, 3))
    counts = np.stack(
        [ndimage.correlate((codes == k).astype(float), window, mode="constant") for k in KNOWN]
    )
    most = counts == counts.max(axis=0)
    own = (codes == KNOWN[:, None, None]) & most
    likely = np.where(most, shares, -np.inf).argmax(axis=0)
    want = np.where(own.any(axis=0) | ~np.isin(codes, KNOWN), codes, KNOWN[likely])
    settings = {"window_px": 3, "shape": shape_of_window}  # of three by three both are alike
    got = tidied("majority", codes, shares_id=SHARES, **settings)
    assert np.array_equal(got, want)
    plain = tidied("majority", codes, **settings)
    assert (got != plain).sum() > 0
    assert most.sum(axis=0)[got != plain].min() > 1, "only ties"


def test_unclassified_pixels_get_the_largest_share_else_the_nearest_class() -> None:
    codes = make_codes(6)
    shares = shares_of(codes)
    nearest = tidied("fill", codes, furthest_px=2)
    got = tidied("fill", codes, furthest_px=2, shares_id=SHARES)
    gaps, known = codes == 255, ~np.isnan(shares).any(axis=0)
    best = KNOWN[np.nan_to_num(shares).argmax(axis=0)]
    assert (gaps & known).any() and (gaps & ~known).any()
    assert np.array_equal(got, np.where(gaps & known, best, nearest))
    piece = Window(7, 9, 25, 31)
    made = open_step("fill", codes, furthest_px=2, shares_id=SHARES)
    assert np.array_equal(read(made, piece), got[piece.slices])
    assert "largest share" in TIDYINGS["fill"].say(
        validate_settings(TIDYINGS["fill"], {"shares_id": SHARES})
    )
