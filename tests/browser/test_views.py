"""How a study was left: views of older versions, damaged ones, charts as files, keys alone."""

import re
from typing import Any

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import expect

from support.study_page import StudyPage


def store_view(study_page: StudyPage, **view: Any) -> None:
    """Store a view as if the study had been left so, and open it again."""
    page = study_page.page
    study_page.settle()
    address = f"{study_page.address}/api/studies/{study_page.study_id}"
    whole = {"sceneId": study_page.scene_id} | view
    page.goto("about:blank")
    assert page.request.patch(address, data={"view": whole}).ok
    page.goto(f"{study_page.address}/studies/{study_page.study_id}/scenes")
    expect(study_page.pane(0)).to_be_visible()


def test_view_from_before_stretches_had_kinds(study_page: StudyPage) -> None:
    scene = study_page.scene_id
    show = {"kind": "scene", "sceneId": scene, "roles": ["swir16", "nir", "red"]}
    store_view(study_page, panes=[show | {"low": 5, "high": 95}, {"kind": "live"}])
    expect(study_page.caption(0)).to_have_text(
        "Summer pass shown as swir16, nir, red, stretched 5 to 95 % over the whole scene"
    )
    expect(study_page.page.get_by_role("application")).to_have_count(2)


@pytest.mark.parametrize(
    "view",
    [
        {"panes": "nonsense", "count": 7, "pins": "here", "line": [[0, "x"]], "tab": "smell"},
        {"panes": [{"kind": "layer", "layerId": 10**6}, None, {"kind": "scene"}], "layers": None},
        {"readoutHeight": "tall", "place": {"centre": [None, 2]}, "overlays": 3},
        {"panes": [{"kind": "scene", "sceneId": 10**6, "roles": ["nir", "red", "green"]}]},
    ],
)
def test_damaged_view_opens_as_a_first_visit_does(
    study_page: StudyPage, view: dict[str, Any]
) -> None:
    store_view(study_page, **view)
    expect(study_page.caption(0)).to_contain_text("Summer pass shown as nir, red, green")
    expect(study_page.caption(1)).to_contain_text("Class map as it stands")
    expect(study_page.page.get_by_role("tab", selected=True)).to_have_text("Spectrum")


def test_picture_that_is_not_offered_any_more_is_told(study_page: StudyPage) -> None:
    store_view(study_page, panes=[{"kind": "picture", "pictureId": "gone"}])
    expect(study_page.caption(0)).to_contain_text("is not offered any more")


def test_tabs_and_height_by_keys(study_page: StudyPage) -> None:
    page = study_page.page
    page.get_by_role("tab", name="Spectrum").focus()
    for name in (
        "Histogram",
        "Line",
        "Feature space",
        "Time",
        "Sites",
        "Classes",
        "First check",
        "Spectrum",
    ):
        page.keyboard.press("ArrowRight")
        expect(page.get_by_role("tab", selected=True)).to_have_text(name)
        expect(page.get_by_role("tab", name=name)).to_be_focused()
    edge = page.get_by_role("separator", name="Height of the readout")
    before = int(edge.get_attribute("aria-valuenow") or 0)
    edge.focus()
    page.keyboard.press("ArrowUp")
    expect(edge).to_have_attribute("aria-valuenow", str(before + 12))
    box = edge.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 200, box["y"] + 2)
    page.mouse.down()
    page.mouse.move(box["x"] + 200, box["y"] - 78, steps=8)
    page.mouse.up()
    study_page.settle()
    page.reload()
    tall = int(edge.get_attribute("aria-valuenow") or 0)
    assert tall > before + 60


@pytest.mark.parametrize("tab", ["Spectrum", "Histogram", "Feature space"])
def test_charts_are_saved_as_pictures(study_page: StudyPage, tab: str) -> None:
    page = study_page.page
    study_page.point_to(300.5, 520.5)
    page.get_by_role("tab", name=tab).click()
    study_page.settle()
    with page.expect_download() as download:
        page.get_by_role("button", name="PNG").click()
    path = study_page.folder / "chart.png"
    download.value.save_as(path)
    picture = np.asarray(Image.open(path).convert("L")).astype(int)
    assert picture.shape[1] > 400 and picture.shape[0] > 150
    assert 0.005 < (picture < 128).mean() < 0.6, "lines and words on a light ground"


def test_dark_theme_reaches_the_charts(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.point_to(300.5, 520.5)
    page.keyboard.press("?")
    page.get_by_text("Dark theme").click()
    page.keyboard.press("Escape")
    study_page.settle()
    chart = page.get_by_role("img", name=re.compile("Spectrum of the pixel"))
    content = study_page.folder / "dark.png"
    chart.screenshot(path=content)
    assert np.asarray(Image.open(content).convert("L")).mean() < 90


def test_common_covers_stand_behind_with_the_sensors_bands(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.point_to(300.5, 520.5)
    page.get_by_label("Behind the spectrum").select_option("covers")
    expect(page.get_by_test_id("chart-note")).to_contain_text("schematic, as textbooks")
    page.get_by_label("Behind the spectrum").select_option("classes")
    table = page.get_by_role("table", name="Values at the crosshair")
    expect(table.get_by_role("columnheader").nth(2)).to_be_visible()


def test_overview_brings_the_panes_where_it_is_pressed(study_page: StudyPage) -> None:
    page = study_page.page
    overview = page.get_by_role("img", name=re.compile("Overview of the whole scene"))
    box = overview.bounding_box()
    assert box is not None
    before = study_page.picture(0)
    page.mouse.click(box["x"] + 0.2 * box["width"], box["y"] + 0.75 * box["height"])
    study_page.settle()
    page.mouse.move(5, 5)
    assert (study_page.picture(0) != before).any(axis=2).mean() > 0.5
    page.get_by_role("button", name="Whole scene", exact=True).click()
    study_page.settle()
    study_page.pane(0).hover()
    expect(page.get_by_test_id("readout-place")).to_contain_text("row")
