"""Classify: the method in hand on the live map, all of them tried, a map with how sure it is, its
classifier on another date, two maps beside each other."""

import re

import pytest
from playwright.sync_api import expect

from support.study_page import StudyPage

pytestmark = pytest.mark.browser


def choose(study_page: StudyPage, method: str) -> None:
    study_page.page.get_by_role("combobox", name="Method").select_option(method)


def test_the_live_map_follows_the_method(study_page: StudyPage) -> None:
    """Its settings too; the choice is there again after a reload."""
    page = study_page.page
    study_page.go("Classify")
    choose(study_page, "parallelepiped")
    expect(study_page.caption(1)).to_contain_text("parallelepiped on 7 bands")
    expect(study_page.caption(1)).to_contain_text("up to date")
    study_page.settle()
    before = study_page.picture(1)
    page.get_by_text("Settings", exact=True).click()
    page.get_by_label("Sides of a box").select_option("deviations")
    study_page.settle()
    assert (study_page.picture(1) != before).any()
    page.reload()
    expect(page.get_by_role("combobox", name="Method")).to_have_value("parallelepiped")
    expect(study_page.caption(1)).to_contain_text("parallelepiped on 7 bands")


def test_typed_priors_are_asked_for_where_they_are_wanted(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.expected = ("422",)
    study_page.go("Classify")
    page.get_by_text("Settings", exact=True).click()
    expect(page.get_by_label("Prior of Barley")).to_have_count(0)
    page.get_by_label("Prior probabilities").select_option("typed")
    page.get_by_label("Prior of Barley").fill("40")
    study_page.settle()
    expect(study_page.caption(1)).to_contain_text("up to date")


@pytest.mark.slow("five folds of all methods, until the quick ones are told")
def test_methods_are_tried_and_one_is_chosen(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.go("Classify")
    page.get_by_role("button", name="Try all methods").click()
    page.get_by_role("button", name="Try them all").click()
    table = page.get_by_role("table", name="Methods tried")
    row = table.get_by_role("row").filter(has_text="Linear discriminant")
    expect(row).to_contain_text(re.compile(r"\d\d\.\d %"), timeout=30_000)
    page.get_by_role("button", name="Cancel").first.click()
    row.get_by_role("button", name="Beside the method in hand: Linear discriminant").click()
    expect(study_page.caption(1)).to_contain_text("maximum likelihood")
    expect(study_page.caption(2)).to_contain_text("linear discriminant, everywhere")
    expect(study_page.caption(3)).to_contain_text("linear discriminant, where it differs")
    study_page.settle()
    assert (study_page.picture(2) != study_page.picture(3)).any()
    page.get_by_role("button", name="Try all methods").click()
    row.get_by_role("button", name="Choose Linear discriminant").click()
    expect(study_page.caption(1)).to_contain_text("linear discriminant")
    expect(page.get_by_role("combobox", name="Method")).to_have_value("linear-discriminant")


@pytest.mark.slow("two runs over whole scenes, and one over a third")
def test_a_map_with_how_sure_it_is_and_another_date(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.go("Classify")
    choose(study_page, "linear-discriminant")
    page.get_by_text("How sure", exact=True).click()
    page.get_by_text("confidence", exact=True).click()
    page.get_by_text("classes still possible at 90 %").click()
    page.get_by_role("button", name="Classify the whole scene").click()
    expect(study_page.caption(1)).to_contain_text("Summer pass, class map 1", timeout=30_000)

    page.get_by_role("button", name="Trained classifiers (1)").click()
    entry = page.get_by_role("region", name="Summer pass, class map 1")
    expect(entry).to_contain_text(re.compile(r"First check: \d\d\.\d % told right"))
    entry.get_by_role("button", name="Put on scenes").click()
    expect(entry).to_contain_text(re.compile(r"Spring pass is \d+ % darker in red"))
    entry.get_by_text("Spring pass", exact=True).click()
    entry.get_by_role("button", name="Classify 1 scene").click()
    expect(study_page.caption(1)).to_contain_text("Spring pass, class map 2", timeout=30_000)

    page.get_by_role("button", name="Beside another").click()
    expect(page.get_by_text(re.compile(r"of the pixels that both cover"))).to_be_visible()
    page.get_by_role("button", name="Show where they differ").click()
    expect(study_page.caption(1)).to_contain_text("Where maps differ")


@pytest.mark.slow("a run over five folds without each of seven layers")
def test_a_layer_that_is_not_missed_is_left_out(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.go("Classify")
    choose(study_page, "linear-discriminant")
    page.get_by_role("button", name="Which layers matter").click()
    page.get_by_role("button", name="Try each layer").click()
    table = page.get_by_role("table", name="Layers of Linear discriminant")
    expect(table.get_by_role("row")).to_have_count(8, timeout=30_000)
    table.get_by_role("row").filter(has_text="nir").get_by_role("checkbox").check(force=True)
    page.get_by_role("button", name="Leave 1 layer out").click()
    expect(study_page.caption(1)).to_contain_text("6 bands")
