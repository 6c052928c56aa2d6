"""Panes show the same place; captions change what they show; a pixel is a square."""

import re

import numpy as np
import pytest
import rasterio
from playwright.sync_api import expect

from kitesort.core.delivery import read_delivery
from kitesort.core.display.stretch import Stretch
from kitesort.demo.generate import DemoStudy
from kitesort.study.look import channel_curves
from kitesort.study.rasters import open_layer, opened
from support.eventually import eventually
from support.study_page import StudyPage

pytestmark = pytest.mark.browser


def show(study_page: StudyPage, pane: int, what: str) -> None:
    study_page.caption(pane).get_by_role("button").first.click()
    study_page.page.get_by_role("dialog").get_by_role("button", name=what).first.click()
    study_page.settle()


def test_panes_move_and_zoom_together(study_page: StudyPage) -> None:
    show(study_page, 1, "Summer pass")
    study_page.page.mouse.move(5, 5)
    eventually(lambda: are_alike(*pictures(study_page)))
    study_page.point_to(300, 500)
    study_page.page.mouse.wheel(0, -400)
    study_page.settle()
    study_page.drag((300, 500), (310, 520))
    study_page.settle()
    eventually(lambda: are_alike(*pictures(study_page)))


def are_alike(one: np.ndarray, other: np.ndarray) -> bool:
    """But for the crosshair, whose lines may fall on halves of pixels; a place next to it would
    differ almost everywhere."""
    return bool((one != other).any(axis=2).mean() < 0.001)


def pictures(study_page: StudyPage) -> tuple[np.ndarray, np.ndarray]:
    """Both pictures without their outlines: the station Scenes draws none."""
    study_page.go("Scenes")
    study_page.settle()
    within = (slice(6, -6), slice(6, -6))  # the panes' corners are round
    return study_page.picture(0)[within], study_page.picture(1)[within]


def test_colours_on_the_screen_are_the_stretched_bands(study_page: StudyPage) -> None:
    """Each screen pixel of a scene pixel has the level that the stretch says, within rounding."""
    study_page.go("Scenes")
    study_page.settle()
    study_page.page.mouse.move(5, 5)
    scene_id = study_page.scene_id
    raster = open_layer(scene_id, "look")
    roles = ("nir", "red", "green")
    block = raster.read(raster.grid.whole, roles)
    curves = channel_curves(opened(scene_id), roles, Stretch())
    for row, column in ((250, 450), (300, 520), (330, 560)):
        got = study_page.colour_at(row + 0.5, column + 0.5, 0)
        for channel, curve in enumerate(curves):
            limits = curve.limits
            share = (block.values[channel, row, column] - limits.low) / (limits.high - limits.low)
            assert got[channel] == pytest.approx(255 * min(1, max(0, share)), abs=3)


def test_a_pixel_is_a_square(study_page: StudyPage) -> None:
    """At four screen pixels per scene pixel, colours change only at the edges of scene pixels."""
    page = study_page.page
    study_page.go("Scenes")
    page.get_by_role("button", name="1 : 1").click()
    study_page.settle()
    study_page.pane(0).focus()
    study_page.settle()
    for _ in range(4):
        page.keyboard.press("+")
        study_page.settle()
    study_page.settle()
    page.mouse.move(5, 5)
    line = study_page.picture(0)[200, 20:400].astype(int)
    changes = np.abs(np.diff(line, axis=0)).sum(axis=1) > 6
    assert 0.05 < changes.mean() < 0.45, "runs of equal colour, no blending between them"


def test_composite_is_chosen_by_role(study_page: StudyPage) -> None:
    before = study_page.picture(0)
    caption = study_page.caption(0)
    caption.get_by_role("button", name="nir, red, green").click()
    study_page.page.get_by_role("dialog").get_by_role("button", name="True colour").click()
    expect(caption).to_contain_text("shown as red, green, blue")
    study_page.settle()
    assert (study_page.picture(0) != before).any(axis=2).mean() > 0.5


def test_any_three_bands_can_be_shown(study_page: StudyPage) -> None:
    caption = study_page.caption(0)
    caption.get_by_role("button", name="nir, red, green").click()
    for channel in ("red", "green", "blue"):
        study_page.page.get_by_label(f"Band shown as {channel}").select_option("swir22")
    expect(caption).to_contain_text("shown as swir22, swir22, swir22")
    study_page.page.keyboard.press("Escape")
    study_page.go("Scenes")
    study_page.settle()
    study_page.page.mouse.move(5, 5)
    red, green, blue = study_page.colour_at(300.5, 520.5, 0)
    assert red == green == blue


def test_stretch_is_changed_and_impossible_ends_are_told(study_page: StudyPage) -> None:
    before = study_page.picture(0)
    caption = study_page.caption(0)
    caption.get_by_role("button", name="2 to 98 %").click()
    dialog = study_page.page.get_by_role("dialog")
    dialog.get_by_label("Low end in percent").fill("99")
    expect(dialog.get_by_text("The low end must be below the high end")).to_be_visible()
    expect(caption).to_contain_text("2 to 98 %")
    dialog.get_by_label("Low end in percent").fill("20")
    expect(caption).to_contain_text("20 to 98 %")
    study_page.settle()
    study_page.page.get_by_role("banner").click()  # anywhere else
    expect(dialog).to_have_count(0)
    assert (study_page.picture(0) != before).any(axis=2).mean() > 0.5


def test_readout_has_the_values_of_the_files(study_page: StudyPage, demo: DemoStudy) -> None:
    scene = read_delivery(demo.metadata["summer"])
    band = next(b for b in scene.bands if b.role == "nir")
    with rasterio.open(demo.metadata["summer"].parent / band.file) as dataset:
        number = int(dataset.read(1, window=((305, 306), (515, 516)))[0, 0])
    sine = np.sin(np.deg2rad(scene.sun_elevation_deg))
    expected = (number * band.gain + band.offset) / sine
    study_page.point_to(305.5, 515.5)
    chart = study_page.page.get_by_role("img", name=re.compile(rf"nir {expected:.3f}"))
    expect(chart).to_be_visible()
    expect(study_page.page.get_by_test_id("readout-place")).to_contain_text(
        "412 155 E, 5 095 945 N".replace(" ", "\u202f", 1).replace("5 095 ", "5\u202f095\u202f")
    )


def test_study_reopens_as_it_was_left(study_page: StudyPage) -> None:
    show(study_page, 0, "Autumn pass")
    study_page.go("Scenes")
    study_page.pane(0).hover()
    study_page.page.mouse.wheel(0, 300)
    study_page.settle()
    study_page.settle()
    study_page.page.mouse.move(5, 5)
    before = study_page.picture(0)
    study_page.page.reload()
    expect(study_page.caption(0)).to_contain_text("Autumn pass")
    study_page.settle()
    same = (study_page.picture(0) == before).all(axis=2)
    assert same.mean() > 0.98, "the same place at the same zoom"


def test_search_finds_a_scene_a_class_and_a_station(study_page: StudyPage) -> None:
    page = study_page.page
    box = page.get_by_role("combobox", name="Find a layer, class or act")
    box.fill("autumn left")
    page.get_by_role("option", name="Show Autumn pass left").click()
    expect(study_page.caption(0)).to_contain_text("Autumn pass")
    expect(study_page.pane(0)).to_be_focused()
    box.fill("open check")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_have_text("Check")
    box.fill("nothing like it")
    expect(page.get_by_text("Nothing is called that.")).to_be_visible()


def test_training_on_another_date_changes_scene_and_map(study_page: StudyPage) -> None:
    study_page.go("Scenes")
    spring = study_page.page.get_by_role("article", name="Spring pass")
    spring.get_by_role("button", name="Train on this one").click()
    expect(study_page.caption(0)).to_contain_text("Spring pass")
    expect(study_page.caption(1)).to_contain_text("of Spring pass")


def test_a_station_without_a_map_says_where_one_comes_from(study_page: StudyPage) -> None:
    study_page.go("Tidy")
    expect(study_page.page.get_by_text("There is no class map yet.")).to_be_visible()
