"""Clusters: found live, kept, named by keys beside the picture, divided, counted, checked."""

import re

import pytest
from playwright.sync_api import expect

from support.eventually import eventually
from support.study_page import StudyPage

pytestmark = pytest.mark.browser


def by_clusters(study_page: StudyPage) -> None:
    study_page.go("Classify")
    study_page.page.get_by_role("button", name="By clusters").click()
    expect(study_page.caption(1)).to_contain_text("K-means in 8 clusters on 7 bands")
    study_page.settle()


def keep_clusters(study_page: StudyPage) -> None:
    page = study_page.page
    page.get_by_role("button", name="Cluster the whole scene").click()
    expect(page.get_by_role("button", name="Keep the map in classes")).to_be_visible()
    expect(page.get_by_role("heading", name="Cluster 1", exact=True)).to_be_visible()
    study_page.settle()


def test_live_clusters_follow_the_slider(study_page: StudyPage) -> None:
    page = study_page.page
    by_clusters(study_page)
    before = study_page.picture(1)
    page.get_by_role("slider", name="Clusters").press("ArrowLeft")
    expect(study_page.caption(1)).to_contain_text("in 7 clusters")
    study_page.settle()
    assert (study_page.picture(1) != before).any()
    page.get_by_role("combobox", name="Method").select_option("hierarchical")
    page.get_by_text("Settings", exact=True).click()
    page.get_by_label("Cut", exact=True).select_option("height")
    page.get_by_role("spinbutton", name="Height").fill("100000")
    expect(page.get_by_text(re.compile("the tree makes one cluster")).first).to_be_visible()
    expect(page.get_by_role("button", name="Cluster the whole scene")).to_be_disabled()


@pytest.mark.slow("a scene is clustered, named, kept and checked")
def test_from_nothing_to_a_named_and_checked_map_by_keys(study_page: StudyPage) -> None:
    page = study_page.page
    by_clusters(study_page)
    keep_clusters(study_page)
    page.get_by_role("tab", name="Clusters").click()
    grey = study_page.picture(1)
    dimmed = study_page.picture(0)
    page.keyboard.press("1")
    water = page.get_by_role("button", name=re.compile("^1 Tidal water"))
    expect(water).to_have_attribute("aria-pressed", "true")
    study_page.settle()
    assert (study_page.picture(1) != grey).any(), "the map in classes follows"
    page.keyboard.press("m")
    expect(page.get_by_role("heading", name="Cluster 2", exact=True)).to_be_visible()
    study_page.settle()
    assert (study_page.picture(0) != dimmed).any(), "another cluster is lit"
    page.get_by_role("button", name=re.compile("^Call it [A-Z]")).click()
    expect(study_page.caption(1)).to_contain_text("2 of 8 named")
    page.keyboard.press("0")
    expect(study_page.caption(1)).to_contain_text("1 of 8 named")
    page.keyboard.press("Control+z")
    expect(study_page.caption(1)).to_contain_text("2 of 8 named")
    page.get_by_role("button", name="Keep the map in classes").click()
    expect(study_page.caption(1)).to_contain_text("clusters under the names of classes")
    study_page.go("Check")
    expect(page.get_by_text(re.compile(r"\d+ points"))).not_to_have_count(0)
    table = page.get_by_role("table", name=re.compile("Error matrix"))
    expect(table).to_be_visible()


def test_a_cluster_is_divided_and_a_branch_named(study_page: StudyPage) -> None:
    page = study_page.page
    by_clusters(study_page)
    keep_clusters(study_page)
    page.get_by_role("button", name="Divide in 2").click()
    expect(page.get_by_role("heading", name="Cluster 1.1")).to_be_visible()
    expect(study_page.caption(1)).to_contain_text("0 of 9 named")
    page.get_by_role("tab", name="Tree").click()
    joints = page.get_by_role("button", name=re.compile("^Joint of"))
    expect(joints).to_have_count(8)
    joints.last.focus()
    page.keyboard.press("Enter")
    page.get_by_label("Class of the branch").select_option(label="Barley")
    page.get_by_role("button", name="Call all so").click()
    expect(study_page.caption(1)).to_contain_text("2 of 9 named")


def test_a_number_of_clusters_is_suggested_and_taken(study_page: StudyPage) -> None:
    page = study_page.page
    by_clusters(study_page)
    page.get_by_role("button", name="How many?").click()
    page.get_by_label("Most clusters").fill("5")
    page.get_by_role("button", name="Try these").click()
    expect(page.get_by_text(re.compile("The variance ratio is greatest at"))).to_be_visible()
    page.get_by_role("button", name="3 clusters on the map").click()
    expect(study_page.caption(1)).to_contain_text("in 3 clusters")
    eventually(lambda: page.get_by_role("slider", name="Clusters").get_attribute("aria-valuenow")
               == "3")  # fmt: skip
