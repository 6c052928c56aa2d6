"""A class map is worked on like a scene; sites tell when they are true; bands tell what they do."""

import re

import pytest
from playwright.sync_api import expect

from support.study_page import StudyPage

pytestmark = pytest.mark.browser


def test_a_map_is_cropped_read_out_and_kept(study_page: StudyPage) -> None:
    page = study_page.page
    page.get_by_role("button", name="Classify the whole scene").click()
    expect(study_page.caption(1)).to_contain_text("class map 1")
    page.get_by_role("tab", name="Histogram").click()
    page.get_by_role("combobox", name="Band", exact=True).select_option(
        label="Summer pass, class map 1"
    )
    shares = page.get_by_role("list", name=re.compile("^Shares of Summer pass, class map 1"))
    expect(shares.get_by_role("listitem")).to_have_count(9)
    said = [float(text.split(" %")[0].split("\n")[-1]) for text in shares.get_by_role(
        "listitem").all_inner_texts()]  # fmt: skip
    assert sum(said) == pytest.approx(100, abs=0.5)

    study_page.go("Correct")
    page.get_by_text("Summer pass, class map 1", exact=True).last.click()
    page.get_by_role("button", name="Add a step").click()
    expect(page.get_by_role("button", name="Scale and offset")).to_be_hidden()
    page.get_by_role("button", name="Crop").click()
    page.get_by_role("button", name="Use what the panes show").click()
    page.get_by_role("button", name="Correct 1 class map").click()
    expect(study_page.caption(1)).to_contain_text("class map 1, cropped, made of another class map")
    study_page.settle()
    whole, cropped = study_page.picture(0), study_page.picture(1)
    assert (whole == cropped).all(axis=-1).mean() > 0.95, "the part that is shown is the same"

    study_page.go("Classify")
    expect(page.get_by_text("Its areas are counted when it is kept.")).to_be_visible()
    page.get_by_role("button", name="Keep as a file").click()
    expect(page.get_by_text("are not counted. The run took")).to_be_visible()


def test_a_site_is_true_on_one_date_only(study_page: StudyPage) -> None:
    page = study_page.page
    page.get_by_role("button", name=re.compile("^Site 1 ·")).first.click()
    page.get_by_label("Note on site 1").fill("low tide")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="18 July 2024 only").click()
    expect(page.get_by_text("· 18 July 2024 only")).to_be_visible()
    stored = {site["note"]: site["true_on"] for site in study_page.stored_sites()}
    assert stored["low tide"] == "2024-07-18"


def test_fewer_bands_are_taken_as_they_are_advised(study_page: StudyPage) -> None:
    page = study_page.page
    page.get_by_role("button", name="Which bands are enough?").click()
    expect(page.get_by_text("Every subset was tried.")).to_be_visible()
    page.get_by_role("button", name="Use the best 4 bands").click()
    expect(study_page.caption(1)).to_contain_text("on 4 bands of Summer pass")
