"""Sites are drawn, reshaped, moved, deleted, undone; with the pointer and without one."""

import re

import pytest
from playwright.sync_api import expect

from support.eventually import eventually
from support.study_page import StudyPage

pytestmark = pytest.mark.browser
# A field in the middle of the panes, in rows and columns of the scene.
TOP, LEFT, BOTTOM, RIGHT = 300, 520, 310, 532
CORNERS = [(TOP, LEFT), (TOP, RIGHT), (BOTTOM, RIGHT), (BOTTOM, LEFT)]


def newest_outline(study_page: StudyPage) -> list[list[float]]:
    ring: list[list[float]] = study_page.stored_sites()[-1]["geometry"]["coordinates"][0]
    return ring


def draw_and_store(study_page: StudyPage) -> None:
    """A rectangle that the server has and that is chosen on the map."""
    n_before = len(study_page.stored_sites())
    study_page.draw_rectangle((TOP, LEFT), (BOTTOM, RIGHT))
    eventually(lambda: len(study_page.stored_sites()) == n_before + 1)
    study_page.settle()


def bounds(study_page: StudyPage) -> tuple[float, float, float, float]:
    xs, ys = zip(*newest_outline(study_page), strict=True)
    return min(xs), min(ys), max(xs), max(ys)


def test_an_outline_is_counted_and_the_live_map_follows(study_page: StudyPage) -> None:
    before = study_page.picture(1)
    study_page.page.keyboard.press("6")
    sites, pixels = study_page.counts("Barley")
    study_page.draw_outline(CORNERS)
    study_page.expect_counts("Barley", sites + 1, pixels + 120)
    study_page.settle()
    assert (study_page.picture(1) != before).any(axis=2).mean() > 0.001


def test_a_rectangle_can_be_drawn_in_either_pane(study_page: StudyPage) -> None:
    study_page.page.keyboard.press("5")
    sites, pixels = study_page.counts("Pasture")
    study_page.draw_rectangle((TOP, LEFT), (BOTTOM, RIGHT), pane=1)
    study_page.expect_counts("Pasture", sites + 1, pixels + 120)


def test_a_rectangle_is_dragged_and_a_huge_one_is_asked_about(study_page: StudyPage) -> None:
    page = study_page.page
    page.keyboard.press("5")
    sites, pixels = study_page.counts("Pasture")
    page.keyboard.press("r")
    study_page.drag((TOP, LEFT), (BOTTOM, RIGHT))
    study_page.expect_counts("Pasture", sites + 1, pixels + 120)
    page.keyboard.press("w")  # all of the scene
    study_page.settle()
    box = study_page.pane(0).bounding_box()
    assert box is not None
    for share in (0.2, 0.8):
        page.mouse.click(box["x"] + box["width"] * share, box["y"] + box["height"] * share)
    question = page.get_by_role("alertdialog", name=re.compile(r"A site of \d+ % of the scene\?"))
    question.get_by_role("button", name="Leave it").click()
    study_page.settle()
    assert len(study_page.stored_sites()) == 46 + 1


def test_number_keys_pick_the_class(study_page: StudyPage) -> None:
    for key, name in (("3", "Salt marsh"), ("9", "Built-up"), ("1", "Tidal water")):
        study_page.page.keyboard.press(key)
        row = study_page.class_row(name)
        expect(row.get_by_role("button", pressed=True)).to_have_count(1)


def test_a_site_is_moved_as_a_whole(study_page: StudyPage) -> None:
    draw_and_store(study_page)
    left, bottom, right, top = bounds(study_page)
    study_page.page.keyboard.press("c")
    study_page.drag((TOP + 5, LEFT + 6), (TOP + 15, LEFT + 26))
    moved = pytest.approx((left + 200, bottom - 100, right + 200, top - 100), abs=3)
    eventually(lambda: bounds(study_page) == moved)


def test_a_corner_is_moved(study_page: StudyPage) -> None:
    draw_and_store(study_page)
    left, bottom, right, top = bounds(study_page)
    study_page.page.keyboard.press("c")
    study_page.drag((BOTTOM, RIGHT), (BOTTOM + 12, RIGHT + 12))
    larger = pytest.approx((left, bottom - 120, right + 120, top), abs=3)
    eventually(lambda: bounds(study_page) == larger)


def test_delete_undo_and_redo_by_keys(study_page: StudyPage) -> None:
    page = study_page.page
    page.keyboard.press("6")
    sites, pixels = study_page.counts("Barley")
    study_page.draw_rectangle((TOP, LEFT), (BOTTOM, RIGHT))
    study_page.expect_counts("Barley", sites + 1, pixels + 120)
    page.keyboard.press("c")
    page.keyboard.press("Delete")
    study_page.expect_counts("Barley", sites, pixels)
    page.keyboard.press("Control+z")
    study_page.expect_counts("Barley", sites + 1, pixels + 120)
    page.keyboard.press("Control+z")
    study_page.expect_counts("Barley", sites, pixels)
    page.keyboard.press("Control+Shift+z")
    study_page.expect_counts("Barley", sites + 1, pixels + 120)
    expect(page.get_by_role("button", name="Redo: Delete a site")).to_be_enabled()


def test_escape_gives_an_outline_up(study_page: StudyPage) -> None:
    n_before = len(study_page.stored_sites())
    study_page.page.keyboard.press("o")
    for row, column in CORNERS[:3]:
        study_page.click(row, column)
    study_page.page.keyboard.press("Escape")
    study_page.page.mouse.dblclick(*study_page.at(TOP + 20, LEFT + 20))
    study_page.settle()
    assert len(study_page.stored_sites()) == n_before


def test_a_site_is_drawn_without_a_pointer(study_page: StudyPage) -> None:
    """Arrow keys move the crosshair by a pixel, Space sets a corner, Enter closes the outline."""
    page = study_page.page
    page.keyboard.press("6")
    sites, pixels = study_page.counts("Barley")
    study_page.point_to(TOP, LEFT)
    page.keyboard.press("o")
    study_page.pane(0).focus()
    for key, times in (("ArrowRight", 1), ("ArrowRight", 9), ("ArrowDown", 8), ("ArrowLeft", 9)):
        for _ in range(times):
            page.keyboard.press(key)
        page.keyboard.press(" ")
    page.keyboard.press("Enter")
    eventually(lambda: study_page.counts("Barley")[0] == sites + 1)
    ring = newest_outline(study_page)
    assert len(ring) == 5
    left, bottom, right, top = bounds(study_page)
    assert (right - left, top - bottom) == pytest.approx((90, 80))
    eventually(lambda: study_page.counts("Barley")[1] > pixels + 50)


def test_a_crossing_outline_is_kept_and_says_what_to_do(study_page: StudyPage) -> None:
    page = study_page.page
    page.keyboard.press("2")
    sites, pixels = study_page.counts("Mudflat")
    bow_tie = [(TOP, LEFT), (BOTTOM, RIGHT), (TOP, RIGHT), (BOTTOM, LEFT)]
    study_page.draw_outline(bow_tie)
    study_page.expect_counts("Mudflat", sites + 1, pixels)
    expect(page.get_by_text("crosses itself").first).to_be_visible()


def test_the_site_list_leads_there_and_moves_to_another_class(study_page: StudyPage) -> None:
    page = study_page.page
    page.keyboard.press("8")
    shingle, built = study_page.counts("Shingle"), study_page.counts("Built-up")
    page.get_by_role("button", name="Site 1 ·").click()
    page.get_by_role("button", name="Move this site to another class").first.click()
    page.get_by_role("menuitem", name="Built-up").click()
    eventually(lambda: study_page.counts("Shingle")[0] == shingle[0] - 1)
    eventually(lambda: study_page.counts("Built-up")[0] == built[0] + 1)


def test_classes_are_added_renamed_and_deleted(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.add_class("Saltpan")
    expect(study_page.class_row("Saltpan")).to_be_visible()
    page.get_by_role("button", name="Change Saltpan").click()
    name = page.get_by_role("dialog").get_by_label("Name")
    name.fill("Brine pool")
    page.get_by_role("dialog").get_by_role("button", name="Save").click()
    expect(study_page.class_row("Brine pool")).to_be_visible()
    expect(page.get_by_role("dialog")).to_have_count(0)  # else the press closes it
    study_page.settle()
    page.get_by_role("button", name="Change Brine pool").click()
    page.get_by_role("button", name="Delete it and 0 sites").click()
    expect(study_page.class_row("Brine pool")).to_have_count(0)


def test_two_classes_cannot_have_one_name(study_page: StudyPage) -> None:
    study_page.expected = ("409",)
    page = study_page.page
    study_page.add_class("pasture")
    expect(page.get_by_text("There is a class called “pasture” already")).to_be_visible()
    expect(page.get_by_label("Name of a new class")).to_have_value("pasture")


def test_picking_another_class_midway_keeps_the_sketch(study_page: StudyPage) -> None:
    page = study_page.page
    page.keyboard.press("5")
    sites, pixels = study_page.counts("Barley")
    page.keyboard.press("o")
    for row, column in CORNERS[:2]:
        study_page.click(row, column)
    page.keyboard.press("6")
    study_page.click(*CORNERS[2])
    page.mouse.dblclick(*study_page.at(*CORNERS[3]))
    study_page.expect_counts("Barley", sites + 1, pixels + 120)


@pytest.mark.parametrize("key", ["6", "Control+z", "Escape"])
def test_a_single_corner_does_not_wait_for_ever(study_page: StudyPage, key: str) -> None:
    """The next click would close a box from a place long forgotten."""
    page = study_page.page
    page.keyboard.press("5")
    page.keyboard.press("r")
    study_page.click(TOP, LEFT)
    hint = page.get_by_text("Click the opposite corner; Esc gives it up.")
    expect(hint).to_be_visible()
    page.keyboard.press(key)
    expect(hint).to_have_count(0)
    study_page.click(TOP + 60, LEFT + 60)
    study_page.settle()
    assert len(study_page.stored_sites()) == 46
    expect(page.get_by_text("kept in this browser only")).to_have_count(0)
    page.keyboard.press("Escape")
