"""Derived layers in the store: previews, names, what depends on what, and what is saved."""

from pathlib import Path
from typing import Any

import numpy as np
import pytest

from kitesort.core.delivery import read_delivery
from kitesort.core.derive.breaks import BreakTable
from kitesort.core.errors import (
    BadSettingsError,
    FormulaError,
    GridMismatchError,
    InputError,
    NotFoundError,
    OutsideSceneError,
)
from kitesort.core.raster import neighbourhood
from kitesort.core.recipe import LayerLeaf, Recipe, sentence_of
from kitesort.runs.perform import perform_run
from kitesort.store import layers
from kitesort.store.drafts import KEPT_DRAFTS
from kitesort.store.edits import redo, undo
from kitesort.store.layers import dependants_of, get_layer, remove_layer, rename_layer
from kitesort.store.presets import list_presets, remove_preset, save_preset
from kitesort.store.records import Layer
from kitesort.store.runs import create_run
from kitesort.store.scenes import add_scene, derive_scene, list_scenes
from kitesort.store.studies import create_study
from kitesort.study.breaks import breaks_recipe, breaks_tile, count_in_layer, start_in_layer
from kitesort.study.derive import layer_names, make_draft, prepare_derived
from kitesort.study.look import band_sample, natural_limits, shown_tile
from kitesort.study.rasters import READER, open_layer, opened, quantity_of
from kitesort.study.readout import read_place, usable_share
from support.recipes import stepped
from support.small_scene import CLOUD, FILL_COLUMNS, write_small_scene
from support.study import SmallStudy, centre_of

NDVI = "(nir - red) / (nir + red)"


@pytest.fixture
def july(small_study: SmallStudy, tmp_path: Path) -> Layer:
    """A second date on the same grid."""
    scene = write_small_scene(tmp_path / "july", seed=11)
    return add_scene(small_study.id, "July pass", read_delivery(scene.metadata))


def recipe_of(s: SmallStudy, operation: str = "formula", **settings: Any) -> Recipe:
    return prepare_derived(s.id, s.scene_id, operation, settings or {"formula": NDVI})


def make(s: SmallStudy, operation: str = "formula", **settings: Any) -> Layer:
    return derive_scene(s.id, recipe_of(s, operation, **settings))


class TestLayers:
    def test_a_layer_is_a_scene_with_words(self, small_study: SmallStudy) -> None:
        made = make(small_study, "index", index="ndvi")
        assert made.title == "NDVI, June pass"
        assert made.acquired == get_layer(small_study.scene_id).acquired
        assert sentence_of(layers.recipe_of(made.id)) == (
            "Normalized Difference Vegetation Index, NDVI = (nir - red)/(nir + red), of June pass."
        )
        assert quantity_of(made.id) == "values"
        raster = open_layer(made.id)
        block = raster.read(raster.grid.whole)
        bands = open_layer(small_study.scene_id).read(raster.grid.whole, ("nir", "red"))
        nir, red = bands.values.astype(np.float64)
        good = block.valid
        assert np.array_equal(good, bands.valid & (nir + red != 0))
        assert np.allclose(block.values[0][good], ((nir - red) / (nir + red))[good], rtol=1e-5)
        assert not block.valid[:, :FILL_COLUMNS].any() and not block.valid[CLOUD].any()

    def test_names_are_made_free(self, small_study: SmallStudy) -> None:
        titles = [make(small_study, "ratio", upper="nir", lower="blue").title for _ in range(2)]
        assert titles == ["nir / blue, June pass", "nir / blue, June pass 2"]

    def test_layers_of_layers(self, small_study: SmallStudy, july: Layer) -> None:
        """An index of two dates, stacked with bands, read through to the files."""
        june_ndvi = make(small_study, "index", index="ndvi")
        july_ndvi = derive_scene(
            small_study.id,
            prepare_derived(small_study.id, july.id, "index", {"index": "ndvi"}),
        )
        members = [
            {"scene_id": small_study.scene_id, "role": "nir"},
            {"scene_id": june_ndvi.id, "role": "ndvi"},
            {"scene_id": july_ndvi.id, "role": "ndvi", "name": "july_ndvi"},
        ]
        stack = make(small_study, "stack", members=members)
        assert [b.role for b in open_layer(stack.id).bands] == ["nir", "ndvi", "july_ndvi"]
        assert stack.acquired == july.acquired, "both dates of the small scene are the same"
        assert {d.id for d in dependants_of(june_ndvi.id)} == {stack.id}
        assert {d.id for d in dependants_of(small_study.scene_id)} == {june_ndvi.id, stack.id}
        difference = make(
            small_study, formula="ndvi_july_pass.ndvi - ndvi_june_pass", name="change"
        )
        raster = open_layer(difference.id)
        both = [open_layer(i).read(raster.grid.whole) for i in (june_ndvi.id, july_ndvi.id)]
        block = raster.read(raster.grid.whole)
        want = both[1].values[0] - both[0].values[0]
        assert np.allclose(block.values[0][block.valid], want[block.valid], atol=1e-6)

    def test_what_was_taken_out_still_carries_what_is_made_of_it(
        self, small_study: SmallStudy, july: Layer
    ) -> None:
        made = derive_scene(
            small_study.id, prepare_derived(small_study.id, july.id, "index", {"index": "ndvi"})
        )
        remove_layer(july.id)
        assert open_layer(made.id).read(open_layer(made.id).grid.whole).valid.any()

    def test_renaming_a_scene_does_not_touch_recipes(
        self, small_study: SmallStudy, july: Layer
    ) -> None:
        made = make(small_study, formula="nir - july_pass.nir", name="d")
        before = layers.recipe_of(made.id)
        rename_layer(july.id, "Another name")
        layers.recipe_of.forget()
        assert layers.recipe_of(made.id) == before
        assert open_layer(made.id).bands[0].role == "d"
        with pytest.raises(FormulaError, match=r"no layer called july_pass.nir"):
            make(small_study, formula="nir - july_pass.nir")
        assert make(small_study, formula="nir - another_name.nir")

    def test_only_layers_of_the_same_study(self, small_study: SmallStudy) -> None:
        other = create_study("Another study")
        metadata = small_study.folder / "SMALL_1_metadata.txt"
        stranger = add_scene(other.id, "Stranger", read_delivery(metadata))
        with pytest.raises(InputError, match="another study"):
            make(small_study, "stack", members=[{"scene_id": stranger.id, "role": "nir"}])

    def test_a_corrected_layer_is_still_a_layer(self, small_study: SmallStudy) -> None:
        made = make(small_study, "index", index="ndvi")
        source = LayerLeaf(layer_id=made.id, name=made.title)
        longer = stepped(source, "mask-range", {"lowest": 0.1, "highest": 1.0}, READER)
        masked = derive_scene(small_study.id, longer)
        assert quantity_of(masked.id) == "values"
        block = open_layer(masked.id).read(open_layer(masked.id).grid.whole)
        assert block.values[0][block.valid].min() >= 0.1
        with pytest.raises(InputError, match="or derived, has no factors"):
            stepped(source, "convert", {}, READER)

    def test_neighbourhoods_do_not_slow_lists(self, small_study: SmallStudy) -> None:
        made = make(small_study, "texture", role="nir", window_px=3)
        assert usable_share(made.id) == usable_share(small_study.scene_id)

    def test_a_kept_neighbourhood_is_seen_from_its_file(
        self, small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        """Of more than some pixels at once nothing is shown, until the layer is kept."""
        made = make(small_study, "texture", role="nir", window_px=3, measures=["entropy"])
        monkeypatch.setattr(
            neighbourhood, "_is_too_large", lambda window, shape, _: window.height > shape[0]
        )
        whole = open_layer(made.id).grid.whole
        shape = (24, 32)
        assert not opened(made.id).shown.read(whole, None, shape).valid.any()
        assert band_sample(opened(made.id), "nir_entropy").size > 0, (
            "its native pixels are no coarse view"
        )
        before = shown_tile(opened(made.id), 0, 0, 0, ("nir_entropy",))
        run = create_run(small_study.id, "Keeping", "keep", {"layer_id": made.id})
        perform_run(run.id)
        assert opened(made.id).shown.read(whole, None, shape).valid.any()
        after = shown_tile(opened(made.id), 0, 0, 0, ("nir_entropy",))
        assert after.valid.any() and not (after.valid & ~before.valid).any(), "cloud is out now"
        seen, used = (r.read(whole) for r in (opened(made.id).shown, open_layer(made.id)))
        assert np.array_equal(seen.valid, used.valid)
        assert np.array_equal(seen.values[:, seen.valid], used.values[:, used.valid])

    def test_limits_without_a_stretch_are_those_of_the_values(
        self, small_study: SmallStudy
    ) -> None:
        made = make(small_study, formula="nir * 100 - 50", name="far")
        limits = natural_limits(opened(made.id), ("far",))
        raster = open_layer(made.id)
        values = raster.read(raster.grid.whole)
        inside = values.values[0][values.valid]
        assert (limits.low, limits.high) == (inside.min(), inside.max())

    def test_readout_tells_derived_values(self, small_study: SmallStudy) -> None:
        made = make(small_study, "index", index="ndvi")
        x, y = centre_of(60, 40)
        found = read_place(small_study.id, x, y, (small_study.scene_id, made.id))
        bands, derived = (scene.values for scene in found.scenes)
        nir, red = bands["nir"], bands["red"]
        assert nir is not None and red is not None
        assert derived["ndvi"] == pytest.approx((nir - red) / (nir + red), rel=1e-5)


class TestNames:
    def test_handles_from_titles(self, small_study: SmallStudy, july: Layer) -> None:
        rename_layer(july.id, "2024, July – mean!")
        names = layer_names(small_study.id)
        assert names["june_pass.nir"].scene_id == small_study.scene_id
        assert names["layer_2024_july_mean.nir"].scene_id == july.id
        assert "june_pass" not in names, "a scene of several bands needs a role"
        made = make(small_study, "index", index="ndvi")
        rename_layer(made.id, "Max")
        assert layer_names(small_study.id)["layer_max"].scene_id == made.id, "max is a function"

    def test_like_titles_get_numbers(self, small_study: SmallStudy, july: Layer) -> None:
        rename_layer(july.id, "June-pass")
        names = layer_names(small_study.id)
        assert {names["june_pass.nir"].scene_id, names["june_pass_2.nir"].scene_id} == {
            small_study.scene_id, july.id,
        }  # fmt: skip


class TestDrafts:
    def test_a_preview_is_in_no_list(self, small_study: SmallStudy) -> None:
        before = list_scenes(small_study.id)
        draft = make_draft(small_study.id, recipe_of(small_study))
        assert list_scenes(small_study.id) == before
        assert open_layer(draft.id).read(open_layer(draft.id).grid.whole).valid.any()
        assert not any("preview" in name for name in layer_names(small_study.id))
        assert dependants_of(small_study.scene_id) == []

    def test_the_same_recipe_is_the_same_preview(self, small_study: SmallStudy) -> None:
        one = make_draft(small_study.id, recipe_of(small_study))
        two = make_draft(small_study.id, recipe_of(small_study))
        other = make_draft(small_study.id, recipe_of(small_study, formula="nir - red"))
        assert one.id == two.id != other.id

    def test_old_previews_go(self, small_study: SmallStudy) -> None:
        drafts = [
            make_draft(small_study.id, recipe_of(small_study, formula=f"nir - {n}"))
            for n in range(KEPT_DRAFTS + 3)
        ]
        with pytest.raises(NotFoundError):
            get_layer(drafts[0].id)
        assert get_layer(drafts[-1].id) and get_layer(drafts[3].id)

    def test_undo_knows_nothing_of_previews(self, small_study: SmallStudy) -> None:
        make_draft(small_study.id, recipe_of(small_study))
        rename_layer(small_study.scene_id, "Renamed")
        assert undo(small_study.id).redo == "Rename June pass"


class TestPresets:
    TABLE = {
        "components": [{"name": "a", "weights": [{"role": "nir", "value": 0.6},
                                                 {"role": "red", "value": 0.8}]}]
    }  # fmt: skip

    def test_saved_replaced_removed_undone(self, small_study: SmallStudy) -> None:
        first = save_preset(small_study.id, "formula", " Mine ", {"formula": NDVI})
        again = save_preset(small_study.id, "formula", "Mine", {"formula": "nir - red"})
        assert first.id == again.id and again.content == {"formula": "nir - red"}
        save_preset(small_study.id, "coefficients", "Mine", self.TABLE)
        assert [p.kind for p in list_presets(small_study.id)] == ["formula", "coefficients"]
        remove_preset(first.id)
        assert [p.kind for p in list_presets(small_study.id)] == ["coefficients"]
        undo(small_study.id)
        undo(small_study.id)
        undo(small_study.id)
        (left,) = list_presets(small_study.id)
        assert left.content == {"formula": NDVI}, "back to what was saved first"
        redo(small_study.id)
        assert list_presets(small_study.id)[0].content == {"formula": "nir - red"}

    def test_what_cannot_be_used_is_not_saved(self, small_study: SmallStudy) -> None:
        with pytest.raises(FormulaError):
            save_preset(small_study.id, "formula", "Bad", {"formula": "nir +"})
        with pytest.raises(BadSettingsError, match="table cannot be saved"):
            save_preset(small_study.id, "coefficients", "Bad", {"components": []})
        with pytest.raises(BadSettingsError, match="Give it a name"):
            save_preset(small_study.id, "formula", "  ", {"formula": NDVI})
        assert list_presets(small_study.id) == []


class TestBreaks:
    def test_counts_start_and_tiles_agree(self, small_study: SmallStudy) -> None:
        made = make(small_study, "index", index="ndvi")
        table = start_in_layer(made.id, "ndvi", 3, "natural breaks")
        found = count_in_layer(made.id, "ndvi", table)
        assert found.remarks == [] and sum(found.pixels.values()) == found.n_valid
        tile = breaks_tile(made.id, "ndvi", table, 0, 0, 0)
        assert set(np.unique(tile.values[0][tile.valid])) == {1.0, 2.0, 3.0}
        assert np.isnan(tile.values[0][~tile.valid]).all()
        recipe = breaks_recipe(made.id, "ndvi", table)
        assert sentence_of(recipe).startswith("NDVI, June pass in classes by breaks of ndvi: ")

    def test_a_missing_role(self, small_study: SmallStudy) -> None:
        table = BreakTable(rows=[{"code": 1, "name": "a", "colour": "#000000"}])
        with pytest.raises(InputError, match="no band with the role lwir"):
            breaks_recipe(small_study.scene_id, "lwir", table)


def test_other_grids_are_offered_never_taken(small_study: SmallStudy, july: Layer) -> None:
    source = LayerLeaf(layer_id=july.id, name=july.title)
    coarse = derive_scene(
        small_study.id, stepped(source, "regrid", {"pixel_size": 40.0}, READER), "Coarse"
    )
    assert coarse.title == "Coarse"
    with pytest.raises(GridMismatchError, match="Allow other grids"):
        make(small_study, formula="nir - coarse.nir")
    made = make(small_study, formula="nir - coarse.nir", align=True)
    assert open_layer(made.id).grid == open_layer(small_study.scene_id).grid


def test_layers_of_another_place_are_refused(small_study: SmallStudy, july: Layer) -> None:
    source = LayerLeaf(layer_id=july.id, name=july.title)

    def cut(title: str, left: float, right: float) -> Layer:
        extent = {"left": left, "right": right, "bottom": 4_999_100, "top": 4_999_900}
        return derive_scene(
            small_study.id, stepped(source, "crop", {"extent": extent}, READER), title
        )

    west, east = cut("West", 400_100, 400_400), cut("East", 400_500, 400_900)
    with pytest.raises(OutsideSceneError, match=r"west\.nir and this scene have no ground in"):
        prepare_derived(
            small_study.id, east.id, "formula", {"formula": "nir - west.nir", "align": True}
        )
    members = [{"scene_id": i, "role": "nir"} for i in (east.id, west.id)]
    with pytest.raises(OutsideSceneError, match="no ground in common"):
        prepare_derived(small_study.id, east.id, "stack", {"members": members, "align": True})
    whole = {"formula": "nir - west.nir", "align": True}
    partly = derive_scene(
        small_study.id, prepare_derived(small_study.id, small_study.scene_id, "formula", whole)
    )
    assert usable_share(partly.id) < 0.3, "of the whole scene, only where both are"


def test_what_values_mean_goes_through_every_kind_of_source(small_study: SmallStudy) -> None:
    index = make(small_study, "index", index="ndvi")
    assert quantity_of(index.id) == "values"
    members = [
        {"scene_id": small_study.scene_id, "role": "nir"}, {"scene_id": index.id, "role": "ndvi"},
    ]  # fmt: skip
    both = make(small_study, "stack", members=members)
    assert quantity_of(both.id) == "mixed"
    assert quantity_of(both.id, ("nir",)) == "reflectance"
    source = LayerLeaf(layer_id=small_study.scene_id, name="June")
    raw = derive_scene(small_study.id, stepped(source, "convert", {"quantity": "numbers"}, READER))
    assert quantity_of(raw.id) == "numbers"
    again = LayerLeaf(layer_id=raw.id, name="Raw")
    scaled = derive_scene(small_study.id, stepped(again, "scale", {}, READER))
    assert quantity_of(scaled.id) == "reflectance"
