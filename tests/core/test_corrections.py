"""Every correction keeps the rules of the family, and does by hand what it says."""

from typing import Any

import numpy as np
import pytest
from affine import Affine

from kitesort.core.correct.methods.dark_object import find_dark_values
from kitesort.core.correct.methods.match_histogram import quantile_table
from kitesort.core.correct.methods.regress import fit_line
from kitesort.core.correct.registry import CORRECTIONS
from kitesort.core.delivery import open_delivery, read_delivery
from kitesort.core.errors import (
    BadSettingsError,
    GridMismatchError,
    InputError,
    MissingRoleError,
    NotFoundError,
    NoValidPixelsError,
    OutsideSceneError,
)
from kitesort.core.raster.protocol import Raster, roles_of
from kitesort.core.recipe import DeliveredLeaf, open_recipe
from kitesort.core.settings import validate_settings
from support.arrays import ArrayRaster, random_raster
from support.code_maps import CodesOn
from support.opening import open_by, prepare_by
from support.operations import AREA, CORRECTION_SETTINGS
from support.recipes import stepped
from support.scene_context import context_of, reader_of
from support.small_scene import CLOUD, COLUMNS, FILL_COLUMNS, ROWS, SmallScene, rectangle

SETTINGS = CORRECTION_SETTINGS


@pytest.fixture(scope="module")
def source(small_scene: SmallScene) -> Raster:
    return open_delivery(read_delivery(small_scene.metadata))


@pytest.fixture(scope="module")
def brighter(source: Raster) -> ArrayRaster:
    """The same ground under other light: value × 1.2 + 0.03, other pixels missing."""
    block = source.read(source.grid.whole)
    valid = block.valid.copy()
    valid[50:55, 50:60] = False
    return ArrayRaster(block.values * np.float32(1.2) + np.float32(0.03), valid, roles_of(source))


def corrected(operation: str, source: Raster, scene: SmallScene, other: Raster) -> Raster:
    spec = CORRECTIONS[operation]
    context = context_of({2: other, 3: CodesOn(source)}, read_delivery(scene.metadata))
    settings = validate_settings(spec, SETTINGS[operation])
    return open_by(spec, source, prepare_by(spec, source, settings, context), context)


def test_every_correction_is_tried_here() -> None:
    assert set(SETTINGS) == set(CORRECTIONS)
    with pytest.raises(NotFoundError, match="no method called “nonsense”"):
        CORRECTIONS["nonsense"]


@pytest.mark.parametrize("operation", sorted(SETTINGS))
class TestFamily:
    def test_pieces_are_the_same_as_the_whole(
        self, operation: str, source: Raster, small_scene: SmallScene, brighter: Raster
    ) -> None:
        raster = corrected(operation, source, small_scene, brighter)
        whole = raster.read(raster.grid.whole)
        for window in raster.grid.blocks(29):
            part = raster.read(window)
            assert np.array_equal(part.valid, whole.valid[window.slices])
            inside = whole.values[(slice(None), *window.slices)]
            assert np.array_equal(part.values[:, part.valid], inside[:, part.valid])

    def test_the_same_again(
        self, operation: str, source: Raster, small_scene: SmallScene, brighter: Raster
    ) -> None:
        one = corrected(operation, source, small_scene, brighter)
        two = corrected(operation, source, small_scene, brighter)
        assert one.fingerprint == two.fingerprint
        spec = CORRECTIONS[operation]
        at_the_source = spec.leaves_out(validate_settings(spec, SETTINGS[operation]))
        assert at_the_source or one.fingerprint != source.fingerprint
        first, second = one.read(one.grid.whole), two.read(two.grid.whole)
        assert np.array_equal(first.values, second.values, equal_nan=True)

    def test_never_more_valid_than_before(
        self, operation: str, source: Raster, small_scene: SmallScene, brighter: Raster
    ) -> None:
        """What was fill, cloud or saturated does not come back; values are plain numbers."""
        raster = corrected(operation, source, small_scene, brighter)
        block = raster.read(raster.grid.whole)
        assert np.isfinite(block.values[:, block.valid]).all()
        if raster.grid == source.grid:
            before = source.read(source.grid.whole).valid
            assert not (block.valid & ~before).any()
        assert block.valid.any()

    def test_one_band_alone_is_the_same(
        self, operation: str, source: Raster, small_scene: SmallScene, brighter: Raster
    ) -> None:
        raster = corrected(operation, source, small_scene, brighter)
        whole = raster.read(raster.grid.whole)
        alone = raster.read(raster.grid.whole, ("nir",))
        position = roles_of(raster).index("nir")
        both = whole.valid & alone.valid
        assert np.array_equal(alone.values[0][both], whole.values[position][both], equal_nan=True)

    def test_settings_are_data_and_words(
        self, operation: str, source: Raster, small_scene: SmallScene, brighter: Raster
    ) -> None:
        spec = CORRECTIONS[operation]
        rasters = {2: brighter, 3: CodesOn(source)}
        context = context_of(rasters, read_delivery(small_scene.metadata))
        settings = prepare_by(spec, source, validate_settings(spec, SETTINGS[operation]), context)
        again = validate_settings(spec, settings.model_dump(mode="json"))
        assert again == settings
        assert spec.say(settings) and spec.title and spec.good_for and spec.source
        with pytest.raises(BadSettingsError, match=spec.title.split("(", maxsplit=1)[0]):
            validate_settings(spec, {"unheard_of": 1})


class TestDarkObject:
    def test_haze_comes_out_and_fill_is_not_dark(self, source: Raster) -> None:
        """Known haze is added to each band; the dark values find it again."""
        block = source.read(source.grid.whole)
        values = np.where(block.valid, np.maximum(block.values, 0.01), 0).astype(np.float32)
        haze = np.array([0.08, 0.03, 0.01, 0.0], np.float32)[:, None, None]
        hazy = ArrayRaster(np.where(block.valid, values + haze, 0), block.valid, roles_of(source))
        found = find_dark_values(hazy, 0.1)
        clear = find_dark_values(ArrayRaster(values, block.valid, roles_of(source)), 0.1)
        for i, role in enumerate(roles_of(source)):
            assert found[role] - clear[role] == pytest.approx(float(haze[i, 0, 0]), abs=1e-6)
        spec = CORRECTIONS["dark-object"]
        settings = prepare_by(spec, hazy, validate_settings(spec, {}), context_of())
        out = open_by(spec, hazy, settings, context_of()).read(hazy.grid.whole)
        assert out.values[0][block.valid].min() == pytest.approx(0.01, abs=2e-3)
        assert np.array_equal(out.valid, block.valid)

    def test_a_drawn_dark_area(self, source: Raster) -> None:
        """Water lies in the upper left quarter; its median is what the small scene was made of."""
        found = find_dark_values(source, 0.1, rectangle(5, 10, 30, 40))
        assert found["blue"] == pytest.approx(0.06, abs=0.002)
        assert found["nir"] == pytest.approx(0.02, abs=0.002)

    def test_values_moved_by_hand_are_kept(self, source: Raster) -> None:
        spec = CORRECTIONS["dark-object"]
        settings = prepare_by(spec, source, validate_settings(spec, {"dark": {"blue": 0.05}}),
                                context_of())  # fmt: skip
        assert settings.dark["blue"] == 0.05 and settings.dark["red"] != 0.05  # type: ignore[attr-defined]
        assert "blue 0.050" in spec.say(settings)

    def test_nothing_valid(self) -> None:
        empty = ArrayRaster(np.zeros((1, 9, 9), np.float32), np.zeros((9, 9), bool), ("red",))
        with pytest.raises(NoValidPixelsError):
            find_dark_values(empty, 0.1)


class TestMasks:
    def test_cloud_becomes_no_data_even_to_the_eye(self, small_scene: SmallScene) -> None:
        reader = reader_of(small_scene.metadata)
        source = DeliveredLeaf(delivery=read_delivery(small_scene.metadata))
        masked = stepped(source, "mask-quality", {"flags": ["cloud"]}, reader)
        shown = open_recipe(masked, reader, ("fill",))
        valid = shown.read(shown.grid.whole).valid
        expected = np.ones((ROWS, COLUMNS), bool)
        expected[:, :FILL_COLUMNS] = expected[CLOUD] = False
        assert np.array_equal(valid, expected)

    def test_a_meaning_that_the_band_does_not_know(
        self, source: Raster, small_scene: SmallScene
    ) -> None:
        spec = CORRECTIONS["mask-quality"]
        context = context_of({}, read_delivery(small_scene.metadata))
        with pytest.raises(BadSettingsError, match=r"nothing of snow.*knows fill, cloud"):
            open_by(spec, source, validate_settings(spec, {"flags": ["snow"]}), context)

    def test_no_quality_band(self, source: Raster, small_scene: SmallScene) -> None:
        delivery = read_delivery(small_scene.metadata).model_copy(update={"quality": None})
        spec = CORRECTIONS["mask-quality"]
        with pytest.raises(InputError, match="without a quality band"):
            open_by(spec, source, validate_settings(spec, {}), context_of({}, delivery))

    def test_drawn_areas_inside_and_outside(self, source: Raster) -> None:
        spec = CORRECTIONS["mask-areas"]
        before = source.read(source.grid.whole).valid
        covered = np.zeros_like(before)
        covered[20:45, 30:70] = True
        for side, expected in (("inside", before & ~covered), ("outside", before & covered)):
            settings = validate_settings(spec, {"areas": [AREA], "mask": side})
            out = open_by(spec, source, settings, context_of()).read(source.grid.whole)
            assert np.array_equal(out.valid, expected)

    def test_another_grid_s_mask_is_refused(self, source: Raster) -> None:
        spec = CORRECTIONS["mask-like"]
        with pytest.raises(GridMismatchError):
            open_by(spec, source, validate_settings(spec, {"scene_id": 2}),
                       context_of({2: random_raster(5, 5)}))  # fmt: skip

    def test_a_range_out_of_order(self) -> None:
        with pytest.raises(BadSettingsError, match="lowest value must be below"):
            validate_settings(CORRECTIONS["mask-range"], {"lowest": 1, "highest": 0})


class TestPlace:
    def test_crop_to_an_area_leaves_no_data_outside(self, source: Raster) -> None:
        triangle = {"type": "Polygon", "coordinates": [[[400_300, 4_999_800], [400_700, 4_999_800],
                    [400_300, 4_999_400], [400_300, 4_999_800]]]}  # fmt: skip
        spec = CORRECTIONS["crop"]
        out = open_by(spec, source, validate_settings(spec, {"areas": [triangle]}), context_of())
        assert (out.grid.height, out.grid.width) == (40, 40)
        valid = out.read(out.grid.whole).valid
        assert valid[2, 2] and not valid[38, 38]
        assert valid.mean() == pytest.approx(0.5, abs=0.03)

    def test_crop_to_coordinates_keeps_whole_pixels(self, source: Raster) -> None:
        spec = CORRECTIONS["crop"]
        sides = {"left": 400_104, "bottom": 4_999_803, "right": 400_196, "top": 4_999_899}
        out = open_by(spec, source, validate_settings(spec, {"extent": sides}), context_of())
        assert out.grid.bounds == (400_100, 4_999_800, 400_200, 4_999_900)

    @pytest.mark.parametrize(
        "settings",
        [
            {"areas": [rectangle(9000, 9000, 5, 5)]},
            {"extent": {"left": 0, "bottom": 0, "right": 1, "top": 1}},
        ],
    )
    def test_a_boundary_that_misses_the_scene(
        self, source: Raster, settings: dict[str, Any]
    ) -> None:
        spec = CORRECTIONS["crop"]
        with pytest.raises(OutsideSceneError, match="miss"):
            open_by(spec, source, validate_settings(spec, settings), context_of())

    def test_crop_needs_one_of_the_two(self) -> None:
        with pytest.raises(BadSettingsError, match="either coordinates or areas"):
            validate_settings(CORRECTIONS["crop"], {})

    def test_onto_another_scene_s_grid(self, source: Raster) -> None:
        other = random_raster(40, 50)
        spec = CORRECTIONS["regrid"]
        context = context_of({2: other})
        settings = prepare_by(spec, source, validate_settings(spec, {"scene_id": 2}), context)
        assert open_by(spec, source, settings, context_of()).grid == other.grid, (
            "kept in the recipe"
        )

    def test_moving_changes_the_place_and_no_value(self, source: Raster) -> None:
        spec = CORRECTIONS["move"]
        settings = validate_settings(spec, {"right_px": 2, "down_px": -1})
        out = open_by(spec, source, settings, context_of())
        assert out.grid.transform == source.grid.transform @ Affine.translation(2, -1)
        whole = source.grid.whole
        assert np.array_equal(out.read(whole).values, source.read(whole).values, equal_nan=True)

    def test_assigning_moves_nothing_and_reprojecting_does(self, source: Raster) -> None:
        assign, regrid = CORRECTIONS["assign-crs"], CORRECTIONS["regrid"]
        said = open_by(
            assign, source, validate_settings(assign, {"crs": "EPSG:32624"}), context_of()
        )
        assert said.grid.bounds == source.grid.bounds
        settings = prepare_by(regrid, source, validate_settings(regrid, {"crs": "EPSG:32624"}),
                                  context_of())  # fmt: skip
        moved = open_by(regrid, source, settings, context_of())
        assert abs(moved.grid.bounds[0] - source.grid.bounds[0]) > 100_000
        with pytest.raises(BadSettingsError, match="no coordinate system “EPSG:1”"):
            open_by(assign, source, validate_settings(assign, {"crs": "EPSG:1"}), context_of())


class TestNormalise:
    def test_a_line_finds_the_light_again(self, source: Raster, brighter: Raster) -> None:
        spec = CORRECTIONS["regress"]
        context = context_of({2: brighter})
        settings = prepare_by(spec, source, validate_settings(spec, {"scene_id": 2}), context)
        for line in settings.lines.values():  # type: ignore[attr-defined]
            assert (line.gain, line.offset) == pytest.approx((1.2, 0.03), abs=1e-4)
            assert line.r_squared == pytest.approx(1)

    def test_change_is_left_out_of_the_line(self) -> None:
        rng = np.random.default_rng(3)
        here = rng.uniform(0, 0.5, 4000)
        there = 0.9 * here + 0.02 + rng.normal(0, 0.002, here.size)
        there[:600] = rng.uniform(0, 0.5, 600)
        plain, trimmed = fit_line(here, there, False), fit_line(here, there, True)
        assert (trimmed.gain, trimmed.offset) == pytest.approx((0.9, 0.02), abs=2e-3)
        assert abs(plain.gain - 0.9) > 0.015
        assert trimmed.n_pixels < 3600

    def test_drawn_targets(self, source: Raster, brighter: Raster) -> None:
        spec = CORRECTIONS["regress"]
        areas = [rectangle(15, 20, 10, 10), rectangle(70, 90, 10, 10)]
        asked = validate_settings(spec, {"scene_id": 2, "areas": areas})
        settings = prepare_by(spec, source, asked, context_of({2: brighter}))
        assert settings.lines["nir"].n_pixels == 200  # type: ignore[attr-defined]
        assert settings.lines["nir"].gain == pytest.approx(1.2, abs=1e-4)  # type: ignore[attr-defined]

    def test_other_grids_are_brought_together_first(self, source: Raster) -> None:
        spec = CORRECTIONS["regress"]
        with pytest.raises(GridMismatchError, match="Bring one onto the other"):
            prepare_by(spec, source, validate_settings(spec, {"scene_id": 2}),
                         context_of({2: random_raster(50, 60)}))  # fmt: skip

    def test_quantiles_of_doubled_values_are_averaged(self) -> None:
        mine, theirs = quantile_table(np.array([0.0, 0.0, 0.0, 1.0]), np.arange(4.0))
        assert len(set(mine)) == len(mine)
        assert mine[1] == 0.0 and theirs[-2] == 3.0, "between the ends that lead beyond the sample"


def test_conversion_gives_back_the_numbers(source: Raster, small_scene: SmallScene) -> None:
    spec = CORRECTIONS["convert"]
    delivery = read_delivery(small_scene.metadata)
    context = context_of({}, delivery)
    raw = open_by(spec, source, validate_settings(spec, {"quantity": "numbers"}), context)
    block = raw.read(raw.grid.whole, ("red",))
    values = block.values[0][block.valid]
    assert np.array_equal(values, values.round()) and values.max() > 1000
    with pytest.raises(InputError, match="gives no radiance factors"):
        open_by(spec, source, validate_settings(spec, {"quantity": "radiance"}), context)
    with pytest.raises(InputError, match="combined of several"):
        open_by(spec, source, validate_settings(spec, {}), context_of())


def test_what_is_scaled_means_what_was_said(source: Raster) -> None:
    """And what is brought to another scene's scale means what that one's values mean."""
    spec = CORRECTIONS["scale"]
    scaled = open_by(spec, source, validate_settings(spec, {"result": "temperature"}), context_of())
    assert {band.quantity for band in scaled.bands} == {"temperature"}
    assert {band.quantity for band in source.bands} == {"reflectance"}
    numbers = random_raster(60, 60, 3)
    raw = ArrayRaster(numbers.values * 1000, numbers.valid, numbers.roles, quantity="numbers")
    for name in ("match-histogram", "regress"):
        spec, context = CORRECTIONS[name], context_of({2: numbers})
        settings = prepare_by(spec, raw, validate_settings(spec, {"scene_id": 2}), context)
        assert {b.quantity for b in open_by(spec, raw, settings, context).bands} == {"reflectance"}


def test_bands_with_factors_of_their_own(source: Raster) -> None:
    spec = CORRECTIONS["scale"]
    own = [{"role": "nir", "scale": 0.5, "offset": 0.25}]
    settings = validate_settings(spec, {"scale": 2.0, "offset": 1.0, "by_band": own})
    scaled = open_by(spec, source, settings, context_of())
    whole = source.grid.whole
    for role, gain, offset in (("red", 2, 1), ("nir", 0.5, 0.25)):
        before, after = (r.read(whole, (role,)).values for r in (source, scaled))
        np.testing.assert_allclose(after, before * gain + offset, rtol=1e-6)
    assert spec.say(settings) == "values × 2 + 1, nir × 0.5 + 0.25, as reflectance"
    with pytest.raises(BadSettingsError, match="twice"):
        validate_settings(spec, {"by_band": own * 2})
    stranger = validate_settings(spec, {"by_band": [own[0] | {"role": "pan"}]})
    with pytest.raises(MissingRoleError):
        open_by(spec, source, stranger, context_of())


def test_steps_that_keep_the_scale_keep_the_quantity(
    source: Raster, brighter: ArrayRaster, small_scene: SmallScene
) -> None:
    for operation in sorted(set(SETTINGS) - {"scale", "convert"}):
        bands = corrected(operation, source, small_scene, brighter).bands
        assert {band.quantity for band in bands} == {"reflectance"}, operation


def test_noise_on_both_dates_does_not_flatten_the_line() -> None:
    """True gain 1 and offset 0.02, noise alike on both: least squares finds 0.86 (slope times the
    share of the spread that is no noise); the reduced major axis finds 1."""
    rng = np.random.default_rng(4)
    ground = rng.normal(0.3, 0.1, 20_000)
    here, there = (ground + rng.normal(0, 0.04, ground.size) for _ in range(2))
    found = fit_line(here, there + 0.02, trim=False)
    assert np.polyfit(here, there, 1)[0] == pytest.approx(0.86, abs=0.01)
    assert found.gain == pytest.approx(1, abs=0.01)
    assert found.offset == pytest.approx(0.02, abs=0.005)
    for other in (-here, np.full_like(here, 0.3)):
        with pytest.raises(InputError, match="must be bright on both"):
            fit_line(here, other, trim=False)


def test_what_no_sample_held_is_not_flattened() -> None:
    here = np.linspace(0.1, 0.3, 1000)
    table = quantile_table(here, 2 * here + 0.1)
    for value in (0.05, 0.2, 0.9):
        assert np.interp(value, *table) == pytest.approx(2 * value + 0.1)


def test_one_percent_is_left_to_reflectance_only() -> None:
    raster = random_raster(40, 40, 2)
    spec = CORRECTIONS["dark-object"]
    for quantity, factor, left in (("reflectance", 1.0, 0.01), ("numbers", 1000.0, 0.0)):
        source = ArrayRaster(
            np.abs(raster.values) * np.float32(factor) + np.float32(factor), raster.valid,
            raster.roles, quantity=quantity,  # type: ignore[arg-type]
        )  # fmt: skip
        settings = prepare_by(
            spec, source, validate_settings(spec, {"foot_percent": 0}), context_of()
        )
        darkest = np.nanmin(
            open_by(spec, source, settings, context_of()).read(source.grid.whole).values
        )
        assert darkest == pytest.approx(left, abs=1e-5 * factor)


def test_a_dark_value_is_one_that_occurs() -> None:
    """Of four numbers the quarter's percentile lies between the first two, where there is none."""
    values = np.array([[[10.0, 20.0], [30.0, 40.0]]], np.float32)
    raster = ArrayRaster(values, np.ones((2, 2), bool), ("blue",))
    assert find_dark_values(raster, 20) == {"blue": 10.0}
    assert find_dark_values(raster, 30) == {"blue": 20.0}


def test_no_haze_lies_on_warmth() -> None:
    raster = random_raster(40, 40, 2)
    warm = ArrayRaster(raster.values + 290, raster.valid, raster.roles, quantity="temperature")
    assert find_dark_values(warm, 0.1) == {}


def test_values_beyond_what_can_be_have_none(source: Raster, small_scene: SmallScene) -> None:
    context = context_of({}, read_delivery(small_scene.metadata))
    spec = CORRECTIONS["scale"]
    huge = open_by(spec, source, validate_settings(spec, {"scale": 1e38, "offset": 0.0}), context)
    twice = open_by(spec, huge, validate_settings(spec, {"scale": 1e30, "offset": 0.0}), context)
    block = twice.read(twice.grid.whole)
    assert not np.isinf(block.values).any()
    with pytest.raises(BadSettingsError, match="larger than that"):
        open_by(spec, source, validate_settings(spec, {"scale": 1.0, "offset": -1e308}), context)
