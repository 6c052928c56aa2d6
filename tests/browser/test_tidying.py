"""Tidy: steps on a class map, seen before anything is kept."""

import re

import pytest
from playwright.sync_api import expect

from support.study_page import StudyPage

pytestmark = pytest.mark.browser


def add_step(study_page: StudyPage, title: str) -> None:
    study_page.page.get_by_role("button", name="Add a step").click()
    study_page.page.get_by_role("button", name=re.compile(f"^{title}")).click()
    study_page.settle()


def test_a_chain_is_seen_counted_and_made(study_page: StudyPage) -> None:
    page = study_page.page
    page.get_by_role("button", name="Classify the whole scene").click()
    expect(study_page.caption(1)).to_contain_text("class map 1")
    study_page.go("Tidy")
    study_page.settle()
    plain = study_page.picture(1)
    add_step(study_page, "Majority filter")
    expect(study_page.caption(1)).to_contain_text("class map 1 after 1 step; not kept yet")
    smooth = study_page.picture(1)
    assert (smooth != plain).any()
    add_step(study_page, "Sieve")
    expect(page.get_by_role("region", name="What changes")).to_contain_text("% of the pixels")
    expect(study_page.caption(1)).to_contain_text("after 2 steps")
    page.get_by_text("Class by class").click()
    table = page.get_by_role("table", name="Pixels before and after")
    expect(table.get_by_role("row")).to_have_count(10)
    page.get_by_role("region", name="Sieve").get_by_role("button", name="Leave out").click()
    study_page.settle()
    assert (study_page.picture(1) == smooth).all()
    add_step(study_page, "Recode and join")
    page.get_by_label("Barley becomes").select_option(label="Pasture")
    expect(table.get_by_role("row").filter(has_text="Barley")).to_contain_text("-100.0 %")
    expect(page.get_by_text(re.compile("Barley loses 100 %"))).to_be_visible()
    page.get_by_role("button", name="Make the tidied map").click()
    expect(study_page.caption(1)).to_contain_text("smoothed, recoded")
    expect(page.get_by_role("button", name="Keep as a file")).to_be_visible()
    study_page.go("Check")
    expect(page.get_by_role("table", name=re.compile("Error matrix"))).to_be_visible()
