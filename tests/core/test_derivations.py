"""Every derivation keeps the rules of the family."""

import pickle
from dataclasses import replace
from typing import Any

import numpy as np
import pytest

from kitesort.core.derive.methods import _moments
from kitesort.core.derive.registry import DERIVATIONS
from kitesort.core.derive.undefined import count_undefined
from kitesort.core.engine import Watch
from kitesort.core.errors import (
    BadSettingsError,
    FormulaError,
    GridMismatchError,
    InputError,
    MissingRoleError,
    NotFoundError,
    TooFewPixelsError,
)
from kitesort.core.grid import Window
from kitesort.core.operation import Context, LayerRef
from kitesort.core.raster.joined import JoinedRaster, Member
from kitesort.core.raster.protocol import Raster, roles_of
from kitesort.core.raster.window import WindowRaster
from kitesort.core.settings import validate_settings
from support.arrays import ArrayRaster, random_raster
from support.opening import open_by, prepare_by
from support.operations import DERIVATION_SETTINGS, TABLE

SETTINGS = DERIVATION_SETTINGS


@pytest.fixture(scope="module")
def source() -> ArrayRaster:
    return replace(random_raster(67, 83, 6), coarse=(("swir16", 2), ("swir22", 3)))


@pytest.fixture(scope="module")
def other() -> ArrayRaster:
    return random_raster(67, 83, 6, seed=5)


@pytest.fixture(scope="module")
def context(source: ArrayRaster, other: ArrayRaster) -> Context:
    scenes: dict[int, Raster] = {1: source, 2: other}
    names = {f"other.{role}": LayerRef(scene_id=2, role=role) for role in other.roles}
    return Context(lambda i, _: scenes[i], layers=names, sensor="Test sensor")


def prepared(operation: str, source: Raster, context: Context, **changes: Any) -> Any:
    spec = DERIVATIONS[operation]
    settings = validate_settings(spec, SETTINGS[operation] | changes)
    return prepare_by(spec, source, settings, context)


def derived(operation: str, source: Raster, context: Context, **changes: Any) -> Raster:
    settings = prepared(operation, source, context, **changes)
    return open_by(DERIVATIONS[operation], source, settings, context)


def test_every_derivation_is_tried_here() -> None:
    assert set(SETTINGS) == set(DERIVATIONS)
    with pytest.raises(NotFoundError, match="no method called “nonsense”"):
        DERIVATIONS["nonsense"]


@pytest.mark.parametrize("operation", sorted(SETTINGS))
class TestFamily:
    def test_pieces_are_the_same_as_the_whole(
        self, operation: str, source: ArrayRaster, context: Context
    ) -> None:
        raster = derived(operation, source, context)
        whole = raster.read(raster.grid.whole)
        for size in (29, 40):
            for window in raster.grid.blocks(size):
                part = raster.read(window)
                inside = whole.values[(slice(None), *window.slices)]
                assert np.array_equal(part.valid, whole.valid[window.slices])
                assert np.array_equal(part.values[:, part.valid], inside[:, part.valid])

    def test_the_same_again(self, operation: str, source: ArrayRaster, context: Context) -> None:
        one, two = (derived(operation, source, context) for _ in range(2))
        assert one.fingerprint == two.fingerprint
        first, second = one.read(one.grid.whole), two.read(two.grid.whole)
        assert np.array_equal(first.values, second.values, equal_nan=True)

    def test_never_more_valid_than_before(
        self, operation: str, source: ArrayRaster, context: Context
    ) -> None:
        raster = derived(operation, source, context)
        block = raster.read(raster.grid.whole)
        assert block.values.dtype == np.float32
        assert np.isfinite(block.values[:, block.valid]).all()
        assert not (block.valid & ~source.valid).any()
        assert block.valid.any()

    def test_one_band_alone_is_the_same(
        self, operation: str, source: ArrayRaster, context: Context
    ) -> None:
        raster = derived(operation, source, context)
        whole = raster.read(raster.grid.whole)
        last = roles_of(raster)[-1]
        alone = raster.read(raster.grid.whole, (last,))
        both = whole.valid & alone.valid
        assert np.array_equal(alone.values[0][both], whole.values[-1][both], equal_nan=True)
        with pytest.raises(MissingRoleError):
            raster.read(raster.grid.whole, ("unheard_of",))

    def test_a_band_is_the_same_whichever_others_are_asked_for(
        self, operation: str, source: ArrayRaster, context: Context
    ) -> None:
        """Also where every band of the scene lacks other pixels."""
        rng = np.random.default_rng(11)
        members = tuple(
            Member(role, replace(source, valid=rng.random(source.valid.shape) > 0.05), role)
            for role in source.roles
        )
        raster = derived(operation, JoinedRaster(members, source.grid), context)
        whole = raster.read(raster.grid.whole)
        for i, role in enumerate(roles_of(raster)):
            alone = raster.read(raster.grid.whole, (role,))
            both = whole.valid & alone.valid
            assert both.any()
            assert np.array_equal(alone.values[0][both], whole.values[i][both], equal_nan=True)

    def test_coarse_views_show_pixels_of_the_full_one(
        self, operation: str, source: ArrayRaster, context: Context
    ) -> None:
        """A coarse view never invents values: each of its pixels is some native pixel's."""
        raster = derived(operation, source, context)
        window = Window(0, 0, 66, 82)
        whole, coarse = raster.read(window), raster.read(window, None, (33, 41))
        known = {tuple(v) for v in whole.values[:, whole.valid].T.tolist()}
        found = {tuple(v) for v in coarse.values[:, coarse.valid].T.tolist()}
        assert found and found <= known

    def test_input_is_left_alone(
        self, operation: str, source: ArrayRaster, context: Context
    ) -> None:
        before = source.values.copy()
        raster = derived(operation, source, context)
        raster.read(raster.grid.whole)
        assert np.array_equal(source.values, before, equal_nan=True)

    def test_settings_are_data_and_words(
        self, operation: str, source: ArrayRaster, context: Context
    ) -> None:
        spec = DERIVATIONS[operation]
        settings = prepared(operation, source, context)
        again = validate_settings(spec, settings.model_dump(mode="json"))
        assert again == settings, "the recipe holds all of it"
        assert prepare_by(spec, source, again, context) == settings, "nothing is left open"
        assert spec.say(settings) and spec.name(settings)
        assert spec.title and spec.good_for and spec.source
        with pytest.raises(BadSettingsError):
            validate_settings(spec, {"unheard_of": 1})
        fields = spec.settings.model_json_schema()["properties"]
        for name, field in fields.items():
            assert field.get("widget") == "hidden" or field["title"]
            other = field.get("differs_from", name)
            assert fields[other].get("differs_from", other) == name, "each names the other"

    def test_other_settings_are_other_pixels(
        self, operation: str, source: ArrayRaster, context: Context
    ) -> None:
        changed = {
            "formula": {"formula": "nir - red"}, "index": {"index": "ndwi"},
            "noise-fraction": {"lag_px": 2}, "principal-components": {"matrix": "covariance"},
            "ratio": {"lower": "red"}, "sharpen": {"roles": ["swir16"]},
            "stripe-filter": {"direction_deg": 90},
            "stack": {"members": [{"scene_id": 2, "role": "red"}]},
            "tasseled-cap": {"table": {"components": TABLE["components"][:1]}},
            "texture": {"window_px": 3},
        }[operation]  # fmt: skip
        one, two = (
            derived(operation, source, context),
            derived(operation, source, context, **changed),
        )
        assert one.fingerprint != two.fingerprint

    def test_can_be_sent_to_another_process(
        self, operation: str, source: ArrayRaster, context: Context
    ) -> None:
        raster = derived(operation, source, context)
        sent = pickle.loads(pickle.dumps(raster))
        window = Window(10, 10, 20, 20)
        assert np.array_equal(sent.read(window).values, raster.read(window).values, equal_nan=True)


@pytest.mark.parametrize("operation", ["stripe-filter", "texture"])
def test_pixels_without_a_value_are_counted_where_they_came_about(
    operation: str, source: ArrayRaster, context: Context
) -> None:
    """Those of the layer behind are not those of a layer made from it."""
    logarithm = derived("formula", source, context, formula="log(nir - 0.2)", name="nir")
    assert count_undefined(logarithm).n_undefined > 100
    settings = {"roles": ["nir"]} if operation == "stripe-filter" else {}
    counted = count_undefined(derived(operation, logarithm, context, **settings))
    whole = logarithm.read(logarithm.grid.whole)
    assert (counted.n_undefined, counted.n_usable) == (0, int(whole.valid.sum()))


class TestFormula:
    def test_values_and_pixels_without_one(
        self, source: ArrayRaster, other: ArrayRaster, context: Context
    ) -> None:
        raster = derived("formula", source, context, formula="log(nir) + other.red")
        block = raster.read(raster.grid.whole)
        nir, red = source.values[3].astype(np.float64), other.values[2]
        good = source.valid & other.valid & (nir > 0)
        assert np.array_equal(block.valid, good)
        assert np.allclose(block.values[0][good], (np.log(nir[good]) + red[good]), rtol=1e-5)
        counted = count_undefined(raster)
        n_both = int((source.valid & other.valid).sum())
        assert (counted.n_usable, counted.exact) == (n_both, True)
        assert counted.n_undefined == n_both - int(good.sum()) > 0

    def test_layers_are_remembered_by_id(self, source: ArrayRaster, context: Context) -> None:
        """Renaming a scene does not change what a recipe reads."""
        settings = prepared("formula", source, context, formula="nir - other.nir")
        assert settings.layers == {"other.nir": LayerRef(scene_id=2, role="nir")}
        assert DERIVATIONS["formula"].others(settings) == (2,)
        renamed = Context(context.opener)
        assert open_by(DERIVATIONS["formula"], source, settings, renamed).bands[0].role == "formula"

    def test_refusals(self, source: ArrayRaster, context: Context) -> None:
        with pytest.raises(FormulaError, match="names no band"):
            derived("formula", source, context, formula="1 + 2")
        with pytest.raises(FormulaError, match=r"Did you mean “other.nir"):
            derived("formula", source, context, formula="nir - othr.nir")
        with pytest.raises(BadSettingsError, match="name"):
            validate_settings(DERIVATIONS["formula"], {"formula": "nir", "name": "Not good"})

    def test_other_grids_are_only_brought_here_when_that_is_allowed(
        self, source: ArrayRaster, other: ArrayRaster
    ) -> None:
        part = WindowRaster(other, Window(10, 20, 40, 50))
        names = {"part.nir": LayerRef(scene_id=3, role="nir")}
        context = Context(lambda *_: part, layers=names)
        with pytest.raises(GridMismatchError, match=r"part.nir lies on another grid"):
            derived("formula", source, context, formula="nir - part.nir")
        raster = derived("formula", source, context, formula="nir - part.nir", align=True)
        block = raster.read(raster.grid.whole)
        inside = np.zeros_like(source.valid)
        inside[10:50, 20:70] = True
        assert np.array_equal(block.valid, source.valid & other.valid & inside)
        want = source.values[3] - other.values[3]
        assert np.allclose(block.values[0][block.valid], want[block.valid], atol=1e-6)


class TestRatio:
    def test_of_two_dates(self, source: ArrayRaster, other: ArrayRaster, context: Context) -> None:
        raster = derived("ratio", source, context, upper="nir", lower="other.nir")
        block = raster.read(raster.grid.whole)
        want = source.values[3] / other.values[3]
        assert np.allclose(block.values[0][block.valid], want[block.valid], rtol=1e-5)
        assert roles_of(raster) == ("nir_over_other_nir",)

    def test_refusals(self, source: ArrayRaster, context: Context) -> None:
        with pytest.raises(BadSettingsError, match="1 everywhere"):
            derived("ratio", source, context, upper="nir", lower="nir")
        with pytest.raises(MissingRoleError, match=r"no band nirr. Did you mean “nir"):
            derived("ratio", source, context, upper="nirr")


class TestTransforms:
    def test_components_are_uncorrelated_and_in_order(
        self, source: ArrayRaster, context: Context
    ) -> None:
        raster = derived("principal-components", source, context, n_components=6)
        values = raster.read(raster.grid.whole).values[:, source.valid].astype(np.float64)
        covariance = np.cov(values)
        spread = np.diag(covariance)
        assert (np.diff(spread) <= 1e-9).all()
        assert np.allclose(covariance, np.diag(spread), atol=1e-5)
        assert np.allclose(values.mean(axis=1), 0, atol=1e-5)

    def test_from_every_pixel_is_the_same_whatever_the_blocks(
        self, source: ArrayRaster, context: Context
    ) -> None:
        """The view of a small scene holds every pixel: both ways find the same loadings."""
        view = prepared("principal-components", source, context)
        every = prepared("principal-components", source, context, pixels="every")
        assert np.allclose(view.loadings, every.loadings, rtol=1e-9)
        assert np.allclose(view.eigenvalues, every.eigenvalues, rtol=1e-9)
        assert view.n_pixels == every.n_pixels == int(source.valid.sum())

    @pytest.mark.parametrize("block_size", [16, 29, 64])
    def test_moments_do_not_know_the_blocks(self, source: ArrayRaster, block_size: int) -> None:
        """Pairs of neighbours across the edge of a block are counted, each of them once."""
        for compute in (
            _moments._BlockMoments(source, source.roles),
            _moments._BlockMoments(source, source.roles, _moments._Differences(3), 3),
        ):
            whole = _moments.moments_of_blocks(compute, Watch())
            parts = _moments.moments_of_blocks(compute, Watch(), block_size)
            assert whole is not None and parts is not None
            assert parts.n_pixels == whole.n_pixels
            assert np.allclose(parts.covariance, whole.covariance, rtol=1e-9)

    def test_too_few_pixels_and_constant_bands(self, context: Context) -> None:
        few = ArrayRaster(
            np.random.default_rng(0).random((3, 2, 2)).astype(np.float32),
            np.array([[True, True], [True, False]]), ("red", "nir", "blue"),
        )  # fmt: skip
        flat = random_raster(20, 20)
        flat.values[1] = 0.25
        for operation in ("principal-components", "noise-fraction"):
            with pytest.raises(TooFewPixelsError, match="3 valid pixels for 3 bands"):
                derived(operation, few, context)
            with pytest.raises(InputError, match=r"same value in green. Leave it out"):
                derived(operation, flat, context)
        with pytest.raises(BadSettingsError, match="At least two bands"):
            derived("principal-components", flat, context, roles=["red"])
        with pytest.raises(MissingRoleError):
            derived("principal-components", flat, context, roles=["red", "nir"])

    def test_noise_that_cannot_be_told_apart(self, context: Context) -> None:
        twin = random_raster(40, 40)
        twin.values[2] = twin.values[1]
        with pytest.raises(InputError, match="noise of the bands cannot be told apart"):
            derived("noise-fraction", twin, context)


class TestStack:
    def test_names_tell_layers_apart(
        self, source: ArrayRaster, other: ArrayRaster, context: Context
    ) -> None:
        raster = derived("stack", source, context)
        assert roles_of(raster) == ("nir", "nir_2")
        block = raster.read(raster.grid.whole)
        assert np.array_equal(block.valid, source.valid & other.valid)
        assert np.array_equal(block.values[0][block.valid], other.values[3][block.valid])
        alone = raster.read(raster.grid.whole, ("nir_2",))
        assert np.array_equal(alone.valid, source.valid), "what is not asked for does not count"

    def test_own_names(self, source: ArrayRaster, context: Context) -> None:
        members = [
            {"scene_id": 1, "role": "nir", "name": "now"},
            {"scene_id": 2, "role": "nir", "name": "then"},
        ]
        assert roles_of(derived("stack", source, context, members=members)) == ("now", "then")
        members[1]["name"] = "now"
        with pytest.raises(BadSettingsError, match="Two layers are called now"):
            derived("stack", source, context, members=members)
        with pytest.raises(BadSettingsError, match="at least one layer"):
            derived("stack", source, context, members=[])
        with pytest.raises(MissingRoleError, match="no band lwir"):
            derived("stack", source, context, members=[{"scene_id": 1, "role": "lwir"}])

    def test_a_band_asked_for_twice_is_given_twice(
        self, source: ArrayRaster, other: ArrayRaster
    ) -> None:
        joined = JoinedRaster((Member("a", source, "nir"), Member("b", other, "red")), source.grid)
        block = joined.read(Window(0, 0, 5, 5), ("b", "a", "b"))
        assert np.array_equal(block.values[0], block.values[2], equal_nan=True)
        nir = source.read(Window(0, 0, 5, 5), ("nir",)).values[0]
        assert np.array_equal(block.values[1], nir, equal_nan=True)
