"""The live state of training, and what is read under a point."""

import numpy as np
import pytest

from kitesort.core.delivery import read_delivery
from kitesort.core.display.stretch import Stretch
from kitesort.core.errors import InputError, MissingRoleError
from kitesort.core.training.overlap import Contested
from kitesort.runs.perform import perform_run
from kitesort.store import scheme, sites, studies
from kitesort.store.edits import undo
from kitesort.store.files import layer_folder, layer_path, sweep_strays
from kitesort.store.layers import kept_files, remove_layer, rename_layer
from kitesort.store.runs import create_run, get_run
from kitesort.store.scenes import add_scene
from kitesort.study.accuracy import check_map
from kitesort.study.look import channel_curves
from kitesort.study.maps import list_maps
from kitesort.study.pairs import hardest_pairs, starved_classes, untold_classes
from kitesort.study.rasters import code_at, opened
from kitesort.study.readout import read_place
from kitesort.study.site_reading import SiteSummary, site_summary
from kitesort.study.training import make_training, remembered_state, training_state
from support.small_scene import BANDS, BOW_TIE, rectangle
from support.study import ROLES, SmallStudy, centre_of, map_order


def state_of(s: SmallStudy):  # type: ignore[no-untyped-def]
    return training_state(s.id, s.scene_id, ROLES)


def kept_map(s: SmallStudy) -> int:
    run = create_run(
        s.id,
        "Classifying",
        "map",
        map_order(s),
    )
    perform_run(run.id)
    layer_id = get_run(run.id).layer_id
    assert layer_id is not None
    return layer_id


def test_state_counts_pixels_and_can_classify(small_study: SmallStudy) -> None:
    state = state_of(small_study)
    assert state.problem is None
    assert {code: s.n_pixels for code, s in state.statistics.items()} == dict.fromkeys(
        (1, 2, 3, 4), 180
    )
    assert remembered_state(state.version) is state


def test_version_changes_with_sites_classes_and_bands_and_comes_back(
    small_study: SmallStudy,
) -> None:
    versions = [state_of(small_study).version]
    sites.update_site(small_study.site_ids[1], {"geometry": rectangle(12, 20, 8, 8)})
    versions.append(state_of(small_study).version)
    scheme.update_class(small_study.class_ids[1], {"colour": "#010203"})
    versions.append(state_of(small_study).version)
    versions.append(training_state(small_study.id, small_study.scene_id, ROLES[:3]).version)
    assert len(set(versions)) == 4
    undo(small_study.id)
    undo(small_study.id)
    assert state_of(small_study).version == versions[0]


def test_a_class_with_too_few_pixels_is_left_out_of_the_live_map(small_study: SmallStudy) -> None:
    sites.update_site(small_study.site_ids[4], {"geometry": rectangle(60, 80, 2, 2)})
    state = state_of(small_study)
    assert state.left_out == (4,)
    assert state.model is not None
    got = state.model.classify(np.full((4, 5), 0.1, np.float32))
    assert 4 not in got


def test_one_class_alone_says_what_is_missing(small_study: SmallStudy) -> None:
    for code in (2, 3, 4):
        sites.delete_site(small_study.site_ids[code])
    state = state_of(small_study)
    assert state.model is None
    assert "second class" in (state.problem or "")


def test_no_site_says_what_to_do(small_study: SmallStudy) -> None:
    for site_id in small_study.site_ids.values():
        sites.delete_site(site_id)
    assert "Draw sites of two classes" in (state_of(small_study).problem or "")


def test_pairs_come_worst_first(small_study: SmallStudy) -> None:
    pairs = hardest_pairs(state_of(small_study))
    values = [pair.jeffries_matusita for pair in pairs]
    assert len(pairs) == 6
    assert values == sorted(values)
    assert values[-1] <= 2


def test_site_summary_tells_what_takes_part(small_study: SmallStudy) -> None:
    scene_id = small_study.scene_id
    assert site_summary(scene_id, ROLES, rectangle(60, 0, 5, 10)) == SiteSummary(30, 50)
    crossing = site_summary(scene_id, ROLES, BOW_TIE)
    assert crossing.n_valid == 0
    assert "crosses itself" in (crossing.problem or "")
    beyond = site_summary(scene_id, ROLES, rectangle(-5, 60, 10, 10))
    assert (beyond.n_covered, beyond.outside) == (50, 0.5)


def test_scene_of_another_study_is_refused(small_study: SmallStudy) -> None:
    other = studies.create_study("Other")
    with pytest.raises(InputError, match="another study"):
        make_training(other.id, small_study.scene_id, ROLES)


def test_bands_that_are_not_there_are_named(small_study: SmallStudy) -> None:
    with pytest.raises(MissingRoleError, match="swir22"):
        make_training(small_study.id, small_study.scene_id, ("red", "swir22"))
    with pytest.raises(InputError, match="at least one band"):
        make_training(small_study.id, small_study.scene_id, ())


def test_point_is_read_with_values_and_class(small_study: SmallStudy) -> None:
    state = state_of(small_study)
    layer_id = kept_map(small_study)
    at = read_place(
        small_study.id, *centre_of(70, 90), (small_study.scene_id,), state.version, (layer_id,)
    )
    assert (at.live_code, at.layer_codes) == (4, {layer_id: 4})
    assert at.live_scores[0].code == 4 and len(at.live_scores) == 3
    shares = [score.share for score in at.live_scores]
    assert shares == sorted(shares, reverse=True) and 0.9 < sum(shares) <= 1 + 1e-9
    (pixel,) = at.scenes
    assert (pixel.row, pixel.column) == (70, 90)
    assert pixel.values["nir"] == pytest.approx(BANDS["nir"][2][3], abs=0.05)
    assert pixel.usable
    assert 44 < at.latitude < 46


def test_point_on_cloud_has_values_but_no_class(small_study: SmallStudy) -> None:
    at = read_place(
        small_study.id, *centre_of(5, 110), (small_study.scene_id,), state_of(small_study).version
    )
    (pixel,) = at.scenes
    assert not pixel.usable
    assert at.live_code is None
    assert pixel.values["red"] is not None


def test_point_on_fill_has_no_values(small_study: SmallStudy) -> None:
    (at,) = read_place(small_study.id, *centre_of(50, 1), (small_study.scene_id,)).scenes
    assert set(at.values.values()) == {None}


def test_point_outside_is_nothing(small_study: SmallStudy) -> None:
    assert read_place(small_study.id, 0, 0, (small_study.scene_id,)).scenes == []


def test_stretch_leaves_cloud_and_fill_out(small_study: SmallStudy) -> None:
    extremes = Stretch(kind="extremes")
    limits = channel_curves(opened(small_study.scene_id), ("nir",), extremes)[0].limits
    assert -0.05 < limits.low < 0.03
    assert 0.40 < limits.high < 0.46


def test_kept_map_is_checked_against_the_points(small_study: SmallStudy) -> None:
    """One of five points in each quarter is told wrong, one lies on fill."""
    accuracy = check_map(kept_map(small_study))
    assert accuracy.matrix.n_points == 20
    assert accuracy.n_without_map == 1
    assert accuracy.matrix.overall.value == pytest.approx(16 / 20)
    assert accuracy.matrix.counts.diagonal().tolist() == [4, 4, 4, 4]


def test_a_point_of_a_class_that_the_map_does_not_know_is_an_error(
    small_study: SmallStudy,
) -> None:
    """It lies on no gap in the data: the map says something there, and that is wrong."""
    layer_id = kept_map(small_study)
    row = scheme.create_class(small_study.id, "Reed", "#112233", "")
    studies.add_points(small_study.id, [(*centre_of(70, 90 + i), row.code) for i in range(3)])
    studies.add_points(
        small_study.id, [(*centre_of(70, 95), 200)]
    )  # a class that nobody knows any more
    accuracy = check_map(layer_id)
    assert accuracy.unknown == ["Reed", "Class 200"]
    assert (accuracy.matrix.n_points, accuracy.n_without_map) == (24, 1)
    assert accuracy.matrix.overall.value == pytest.approx(16 / 24)
    reed = [entry.name for entry in accuracy.entries].index("Reed")
    assert accuracy.matrix.counts[:, reed].sum() == 3
    assert accuracy.matrix.producers[reed].value == 0


def test_two_samples_of_one_class_do_not_look_apart(small_study: SmallStudy) -> None:
    """Nine pixels in four bands, both from one quarter: their distance is corrected for chance.
    With fewer pixels than bands and two nothing is told, and that is said."""
    for i in range(2):
        row = scheme.create_class(small_study.id, f"Twin {i}", "#112233", "")
        geometry = rectangle(60, 66 + 8 * i, 3, 3)
        sites.create_sites(small_study.id, [(row.id, geometry, "")])
    state = state_of(small_study)
    twins = [code for code, s in state.statistics.items() if s.n_pixels == 9]
    assert len(twins) == 2 and not set(twins) & set(state.left_out), "they can be trained"
    assert starved_classes(state) == twins
    pairs = hardest_pairs(state)
    alike = [{p.code, p.other_code} for p in pairs if p.jeffries_matusita < 0.5]
    assert alike == [{p.code, p.other_code} for p in pairs[:3]], (
        "the twins and the wood that they lie in"
    )
    assert set().union(*alike) == {4, *twins} and len(pairs) == 15
    geometry = rectangle(70, 66, 2, 2)
    row = scheme.create_class(small_study.id, "Tiny", "#112233", "")
    sites.create_sites(small_study.id, [(row.id, geometry, "")])
    state = state_of(small_study)
    assert untold_classes(state) == [row.code]
    assert len(hardest_pairs(state)) == 15


def test_layers_are_renamed_removed_and_brought_back(small_study: SmallStudy) -> None:
    layer_id = kept_map(small_study)
    rename_layer(layer_id, "Summer cover")
    assert [layer.title for layer in list_maps(small_study.id)] == ["Summer cover"]
    remove_layer(layer_id)
    assert list_maps(small_study.id) == []
    undo(small_study.id)
    assert [layer.title for layer in list_maps(small_study.id)] == ["Summer cover"]
    assert code_at(layer_id, *centre_of(70, 90), "EPSG:32625") == 4, "its file was never touched"


def test_only_strays_are_swept(small_study: SmallStudy) -> None:
    layer_id = kept_map(small_study)
    (kept,) = [layer.kept_path for layer in list_maps(small_study.id) if layer.id == layer_id]
    stray = layer_path(".class-map-run-9.123.abcd.part.tif")
    stray.write_bytes(b"half")
    assert sweep_strays(layer_folder(), kept_files()) >= 1
    assert not stray.exists()
    assert layer_path(kept).exists()


def test_ground_that_two_classes_claim_is_told(small_study: SmallStudy) -> None:
    assert state_of(small_study).contested == ()
    first = sites.list_sites(small_study.id)[0]
    sites.create_sites(small_study.id, [(small_study.class_ids[3], first.geometry, "")])
    assert state_of(small_study).contested == (Contested(1, 3, 180),)


def test_another_class_is_no_help_where_two_are_starved(small_study: SmallStudy) -> None:
    for site_id in small_study.site_ids.values():
        sites.delete_site(site_id)
    for code, row in ((1, 5), (2, 40)):
        drawn = (small_study.class_ids[code], rectangle(row, 45, 1, 2), "")
        sites.create_sites(small_study.id, [drawn])
    problem = state_of(small_study).problem or ""
    assert "have too few pixels to be trained: at least 5" in problem
    assert "second class" not in problem


def test_only_flags_that_the_scene_has_are_said_to_be_left_out(small_study: SmallStudy) -> None:
    recipe = make_training(small_study.id, small_study.scene_id, ROLES)
    assert recipe.words.endswith("; fill, cloud left out")
    delivery = read_delivery(small_study.folder / "SMALL_1_metadata.txt")
    without = add_scene(small_study.id, "Bare", delivery.model_copy(update={"quality": None}))
    bare = make_training(small_study.id, without.id, ROLES)
    assert "left out" not in bare.words and bare.words.endswith("4 classes")
