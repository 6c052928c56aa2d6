"""Correct beyond haze and cloud: dates made alike, made into one, kept, and put in their place."""

import re

import numpy as np
import pytest
import rasterio
from playwright.sync_api import expect

from support.study_page import StudyPage

pytestmark = pytest.mark.browser


def choose(study_page: StudyPage, *titles: str) -> None:
    for title in titles:
        box = study_page.page.get_by_role("checkbox", name=title, exact=True)
        box.check(force=True)


def stepped(study_page: StudyPage, title: str) -> None:
    page = study_page.page
    page.get_by_role("button", name="Add a step").click()
    page.get_by_role("button", name=title).click()
    expect(page.get_by_role("region", name=title)).to_be_visible()


def value_of(study_page: StudyPage, role: str, column: int) -> float:
    """A number of the table at the crosshair; column 1 is the left pane."""
    table = study_page.page.get_by_role("table", name="Values at the crosshair")
    row = table.get_by_role("row", name=re.compile(f"^{role} "))
    return float(row.get_by_role("cell").nth(column - 1).inner_text())


@pytest.mark.slow("a story of several scenes, each computed and drawn")
def test_one_date_is_brought_to_another_s_scale(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.go("Correct")
    choose(study_page, "Autumn pass")
    stepped(study_page, "Normalise: unchanging targets")
    page.get_by_label("To the scale of the scene").select_option(label="Summer pass")
    page.get_by_role("button", name="Correct 1 scene").click()
    expect(study_page.caption(1)).to_contain_text("Autumn pass, normalised")
    row = page.get_by_role("row", name=re.compile("Autumn pass, normalised"))
    expect(row.get_by_text("Normalised to another date: done")).to_be_attached()
    study_page.settle()
    study_page.point_to(300.5, 540.5)
    expect(page.get_by_role("table", name="Values at the crosshair")).to_contain_text("pane 2")
    assert value_of(study_page, "coastal", 2) < value_of(study_page, "coastal", 1), "haze is gone"


@pytest.mark.slow("a story of several scenes, each computed and drawn")
def test_several_dates_into_one_and_kept(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.go("Correct")
    choose(study_page, "Spring pass", "Summer pass", "Autumn pass")
    page.get_by_role("button", name="Make one of 3 scenes").click()
    expect(page.get_by_text("Made “Spring pass, median of dates”.")).to_be_visible()
    expect(study_page.caption(1)).to_contain_text("Spring pass, median of dates")

    study_page.go("Scenes")
    entry = page.get_by_role("article", name="Spring pass, median of dates")
    expect(entry).to_contain_text("9 May 2024 to 26 Sep 2024")
    entry.get_by_text("facts and acts").click()
    entry.get_by_role("button", name="Keep as a file").click()
    link = entry.get_by_role("link", name="Download GeoTIFF")
    expect(link).to_be_visible(timeout=60_000)
    with page.expect_download() as download:
        link.click()
    path = study_page.folder / "median.tif"
    download.value.save_as(path)
    with rasterio.open(path) as dataset:
        assert dataset.tags(ns="IMAGE_STRUCTURE")["LAYOUT"] == "COG"
        assert dataset.count == 8 and dataset.descriptions[5] == "nir"
        assert (
            "The median of Spring pass, Summer pass, Autumn pass"
            in (dataset.tags()["recipe_in_words"])
        )
        assert np.isfinite(dataset.read(6)).mean() > 0.98


def test_statistics_of_a_small_scene_are_those_of_every_pixel(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.go("Scenes")
    entry = page.get_by_role("article", name="Summer pass")
    entry.get_by_text("facts and acts").click()
    entry.get_by_role("button", name="All facts of this scene").click()
    expect(page.get_by_text(re.compile("Counted over every pixel"))).to_be_visible()
    expect(page.get_by_role("button", name="Count every pixel")).to_have_count(0)


def test_a_scene_in_degrees_is_shown_where_it_belongs(study_page: StudyPage) -> None:
    """Reprojected to degrees, it lies under the same crosshair with the same values."""
    page = study_page.page
    study_page.go("Correct")
    choose(study_page, "Summer pass")
    stepped(study_page, "Reproject or resample")
    page.get_by_label("Into the coordinate system").fill("4326")
    page.get_by_role("button", name=re.compile("EPSG:4326 · WGS 84")).click()
    page.get_by_role("button", name="Correct 1 scene").click()
    expect(study_page.caption(1)).to_contain_text("Summer pass, regridded")
    study_page.settle()
    study_page.point_to(300.5, 540.5)
    expect(page.get_by_role("table", name="Values at the crosshair")).to_contain_text("pane 2")
    for role in ("nir", "swir16"):
        left, right = (value_of(study_page, role, column) for column in (1, 2))
        assert right == pytest.approx(left, abs=0.05)
    study_page.go("Scenes")
    for title in ("Summer pass", "Summer pass, regridded"):
        page.get_by_role("checkbox", name=title, exact=True).check(force=True)
    page.get_by_role("button", name="Compare grids").click()
    expect(page.get_by_text(re.compile(r"EPSG:4326 \(WGS 84\)\. Reproject one"))).to_be_visible()


def test_a_step_that_cannot_be_done_is_told(study_page: StudyPage) -> None:
    study_page.expected = ("422",)
    page = study_page.page
    study_page.go("Correct")
    choose(study_page, "Summer pass")
    stepped(study_page, "Mask as in another scene")
    page.get_by_role("button", name="Correct 1 scene").click()
    expect(page.get_by_role("alert")).to_contain_text("Mask as in another scene")
    expect(study_page.caption(0)).to_contain_text("Summer pass shown as")
    page.get_by_role("button", name="Leave out").click()
    expect(page.get_by_text("No step yet.")).to_be_visible()
    expect(page.get_by_role("button", name="Correct 1 scene")).to_be_disabled()


def test_a_scene_is_renamed_removed_and_brought_back(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.go("Scenes")
    entry = page.get_by_role("article", name="Spring pass")
    entry.get_by_text("facts and acts").click()
    entry.get_by_label("Name of Spring pass").fill("May pass")
    page.keyboard.press("Tab")
    entry = page.get_by_role("article", name="May pass")
    expect(entry).to_be_visible()
    entry.get_by_role("button", name="Remove", exact=True).click()
    expect(entry).to_contain_text("Nothing else is made of it")
    entry.get_by_role("button", name="Remove it").click()
    expect(entry).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(page.get_by_role("article", name="May pass")).to_be_visible()
