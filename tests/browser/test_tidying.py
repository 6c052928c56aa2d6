"""Tidy: steps on a class map, seen before anything is kept."""

import re

import pytest
from playwright.sync_api import Locator, expect

from support.study_page import StudyPage

pytestmark = pytest.mark.browser


def add_step(study_page: StudyPage, title: str) -> None:
    study_page.page.get_by_role("button", name="Add a step").click()
    study_page.page.get_by_role("button", name=re.compile(f"^{title}")).click()
    study_page.settle()


def made_map(study_page: StudyPage) -> None:
    study_page.page.get_by_role("button", name="Classify the whole scene").click()
    expect(study_page.caption(1)).to_contain_text("class map 1")
    study_page.go("Tidy")
    study_page.settle()


def changes(study_page: StudyPage) -> Locator:
    return study_page.page.get_by_role("region", name="What changes")


def test_a_chain_is_seen_and_counted(study_page: StudyPage) -> None:
    page = study_page.page
    made_map(study_page)
    plain = study_page.picture(1)
    add_step(study_page, "Majority filter")
    expect(study_page.caption(1)).to_contain_text("class map 1 after 1 step; not kept yet")
    smooth = study_page.picture(1)
    assert (smooth != plain).any()
    add_step(study_page, "Sieve")
    expect(changes(study_page)).to_contain_text("% of the pixels")
    expect(study_page.caption(1)).to_contain_text("after 2 steps")
    page.get_by_text("Class by class").click()
    expect(changes(study_page).get_by_role("row")).to_have_count(10)
    page.get_by_role("region", name="Sieve").get_by_role("button", name="Leave out").click()
    study_page.settle()
    assert (study_page.picture(1) == smooth).all()


def test_a_chain_is_made_and_checked(study_page: StudyPage) -> None:
    page = study_page.page
    made_map(study_page)
    add_step(study_page, "Majority filter")
    add_step(study_page, "Recode and join")
    page.get_by_label("Barley becomes").select_option(label="Pasture")
    page.get_by_text("Class by class").click()
    expect(changes(study_page).get_by_role("row").filter(has_text="Barley")).to_contain_text(
        "-100.0 %"
    )
    expect(page.get_by_text(re.compile("Barley loses 100 %"))).to_be_visible()
    page.get_by_role("button", name="Make the tidied map").click()
    expect(study_page.caption(1)).to_contain_text("smoothed, recoded")
    expect(page.get_by_role("button", name="Keep as a file")).to_be_visible()
    study_page.go("Check")
    expect(page.get_by_role("table", name=re.compile("Error matrix"))).to_be_visible()


def test_rules_and_edits_by_hand(study_page: StudyPage) -> None:
    page = study_page.page
    made_map(study_page)
    add_step(study_page, "Rules")
    rules = page.get_by_role("region", name="Rules")
    rules.get_by_role("button", name="Add a rule").click()
    rules.get_by_role("button", name="Where …").click()
    rules.get_by_label("Band").select_option("nir")
    rules.get_by_role("spinbutton", name="Value").fill("0.1")
    rules.get_by_label("Becomes").select_option(label="Tidal water")
    expect(changes(study_page).get_by_text(re.compile(r"Rule 1: .* pixels"))).to_be_visible()
    add_step(study_page, "Edits by hand")
    page.get_by_role("button", name="Brush").click()
    study_page.drag((280, 520), (310, 580))
    expect(page.get_by_role("button", name="Take Painted away")).to_be_visible()
    page.get_by_role("button", name="Edit 1 area").click()
    page.get_by_label("Edit 1 becomes").select_option(label="Built-up")
    page.get_by_label("Note on edit 1").fill("a new harbour")
    expect(
        changes(study_page).get_by_text(re.compile("Edit 1: a new harbour: .* pixels"))
    ).to_be_visible()
    study_page.settle()
    plain = study_page.picture(1)
    changes(study_page).get_by_role("button", name="Light what changes").click()
    study_page.settle()
    assert (study_page.picture(1) != plain).any()
    changes(study_page).get_by_role("button", name="Light what changes").click()


def test_a_chain_is_kept_and_opened_again(study_page: StudyPage) -> None:
    page = study_page.page
    made_map(study_page)
    add_step(study_page, "Sieve")
    page.get_by_label("Name to save the chain under").fill("Usual")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("button", name="Remove the saved chain Usual")).to_be_visible()
    step = page.get_by_role("region", name="Sieve")
    step.get_by_role("button", name="Leave out", exact=True).first.click()
    add_step(study_page, "Smooth by scores")
    page.get_by_role("button", name="Make the shares of this map").click()
    expect(changes(study_page)).to_contain_text("% of the pixels")
    page.get_by_role("button", name="Usual", exact=True).click()
    expect(page.get_by_role("region", name="Smooth by scores")).to_have_count(0)
    expect(step).to_be_visible()


def test_a_chain_asks_for_classes_that_another_map_has_not(study_page: StudyPage) -> None:
    page = study_page.page
    made_map(study_page)
    address = f"{study_page.address}/api/studies/{study_page.study_id}"
    order = {"scene_id": study_page.scene_id, "roles": ["red", "nir"]}
    made = page.request.post(f"{address}/cluster-runs", data=order)
    assert made.ok, made.text()
    which = page.get_by_label("Class map", exact=True)
    clusters = which.locator("option").filter(has_text=re.compile("clusters", re.IGNORECASE))
    expect(clusters).to_have_count(1)
    trained = which.locator("option").filter(has_text="class map 1")
    which.select_option(label=trained.first.inner_text())
    add_step(study_page, "Recode and join")
    page.get_by_label("Barley becomes").select_option(label="Pasture")
    expect(changes(study_page)).to_contain_text("% of the pixels")
    study_page.expected = ("422",)
    which.select_option(label=clusters.first.inner_text())
    said = page.get_by_text("Step 1, Recode and join: The map has no class “Barley”")
    expect(said).to_be_visible()
    expect(page.get_by_role("button", name="Make the tidied map")).to_be_disabled()
    which.select_option(label=trained.first.inner_text())
    expect(changes(study_page)).to_contain_text("% of the pixels")


def test_polygons_are_made_and_taken(study_page: StudyPage) -> None:
    page = study_page.page
    made_map(study_page)
    study_page.go("Deliver")
    page.get_by_text("Polygons", exact=True).first.click()
    page.get_by_role("spinbutton", name="Simplified by, m").fill("10")
    page.get_by_label("Format").select_option("geojson")
    page.get_by_role("button", name="Make polygons").click()
    link = page.get_by_role("link", name=re.compile(r"polygons$"))
    expect(link).to_be_visible(timeout=60_000)
    with page.expect_download() as coming:
        link.click()
    assert coming.value.suggested_filename.endswith(".geojson")
    expect(page.get_by_text(re.compile("areas of classes within 0"))).to_be_visible()
