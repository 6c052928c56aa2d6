"""What goes wrong is told in words, and nothing that was drawn is lost."""

import json

import pytest
from playwright.sync_api import Route, expect

from kitesort.store.layers import remove_layer
from support.eventually import eventually
from support.study_page import StudyPage

pytestmark = pytest.mark.browser
TOP, LEFT, BOTTOM, RIGHT = 300, 520, 310, 532
NETWORK = ("Failed to load resource", "net::ERR")


def draw_while_server_is_away(study_page: StudyPage) -> tuple[int, int]:
    study_page.expected = NETWORK
    page = study_page.page
    page.keyboard.press("6")
    counts = study_page.counts("Barley")
    page.route("**/sites?**", lambda route: refuse_writing(route))
    study_page.draw_rectangle((TOP, LEFT), (BOTTOM, RIGHT))
    expect(page.get_by_text("kept in this browser only")).to_be_visible(timeout=15_000)
    return counts


def refuse_writing(route: Route) -> None:
    if route.request.method == "POST":
        route.abort("connectionrefused")
    else:
        route.continue_()


def test_an_outline_the_server_did_not_get_is_kept_and_sent_later(study_page: StudyPage) -> None:
    sites, pixels = draw_while_server_is_away(study_page)
    study_page.page.unroute("**/sites?**")
    study_page.page.get_by_role("button", name="Try again").click()
    study_page.expect_counts("Barley", sites + 1, pixels + 120)
    expect(study_page.page.get_by_text("kept in this browser only")).to_have_count(0)


def test_it_outlives_a_reload(study_page: StudyPage) -> None:
    sites, pixels = draw_while_server_is_away(study_page)
    study_page.page.unroute("**/sites?**")
    study_page.page.reload()
    study_page.page.get_by_role("button", name="Try again").click()
    study_page.expect_counts("Barley", sites + 1, pixels + 120)


@pytest.mark.slow("two pages, and requests that are tried again before they are given up")
def test_another_window_erases_no_outline(study_page: StudyPage) -> None:
    """Each window knows what the other one keeps, and hands over what it has itself."""
    sites, _ = draw_while_server_is_away(study_page)
    page = study_page.page
    second = page.context.new_page()
    second.goto(page.url)
    expect(second.get_by_text("1 outline is kept in this browser only")).to_be_visible()
    study_page.draw_rectangle((TOP + 30, LEFT), (BOTTOM + 30, RIGHT))
    told = "2 outlines are kept in this browser only"
    for window in (page, second):
        expect(window.get_by_text(told)).to_be_visible()
    second.get_by_role("button", name="Try again").click()
    for window in (second, page):
        expect(window.get_by_text("kept in this browser only")).to_have_count(0)
    eventually(lambda: len(study_page.stored_sites()) == 46 + 2)
    assert sites > 0
    page.unroute("**/sites?**")

    # What the other window does is told and seen at once, and undone only when that is meant.
    study_page.draw_rectangle((TOP + 60, LEFT), (BOTTOM + 60, RIGHT))
    news = "In another window: Draw a site of Barley."
    expect(second.get_by_text(news)).to_be_visible(timeout=1_500)
    expect(page.get_by_text(news)).to_have_count(0)
    second.keyboard.press("Control+z")
    question = second.get_by_role("alertdialog", name="Undo what another window did?")
    question.get_by_role("button", name="Leave it").click()
    expect(question).to_have_count(0)
    assert len(study_page.stored_sites()) == 46 + 3
    second.keyboard.press("Control+z")
    question.get_by_role("button", name="Undo it").click()
    expect(page.get_by_text("In another window: undone: Draw a site of Barley.")).to_be_visible()
    eventually(lambda: len(study_page.stored_sites()) == 46 + 2)
    second.close()


def test_what_waits_while_the_server_is_away_is_said_and_sent(study_page: StudyPage) -> None:
    study_page.expected = NETWORK
    page, bar = study_page.page, study_page.page.get_by_role("banner")
    n_before = len(study_page.stored_sites())
    page.keyboard.press("6")
    page.context.set_offline(True)
    study_page.draw_rectangle((TOP, LEFT), (BOTTOM, RIGHT))
    expect(bar).to_contain_text("1 outline waits")
    expect(page.get_by_text("kept in this browser only")).to_be_visible(timeout=15_000)
    page.context.set_offline(False)
    expect(bar).not_to_contain_text("does not answer", timeout=15_000)
    expect(page.get_by_text("kept in this browser only")).to_have_count(0)
    eventually(lambda: len(study_page.stored_sites()) == n_before + 1)


def test_it_can_be_discarded(study_page: StudyPage) -> None:
    draw_while_server_is_away(study_page)
    study_page.page.get_by_role("button", name="Discard").click()
    expect(study_page.page.get_by_text("kept in this browser only")).to_have_count(0)


def test_a_reshape_the_server_refuses_is_put_back(study_page: StudyPage) -> None:
    study_page.expected = ("409",)
    page = study_page.page
    n_before = len(study_page.stored_sites())
    study_page.draw_rectangle((TOP, LEFT), (BOTTOM, RIGHT))
    eventually(lambda: len(study_page.stored_sites()) == n_before + 1)
    study_page.settle()
    before = study_page.stored_sites()[-1]["geometry"]
    detail = "Somebody else was quicker."

    def refuse(route: Route) -> None:
        if route.request.method == "PATCH":
            body = json.dumps({"detail": detail, "type": "urn:kitesort:conflict"})
            route.fulfill(status=409, content_type="application/problem+json", body=body)
        else:
            route.continue_()

    page.route("**/api/sites/**", refuse)
    page.keyboard.press("c")
    study_page.drag((TOP + 5, LEFT + 6), (TOP + 15, LEFT + 26))
    expect(page.get_by_text(detail)).to_be_visible()
    assert study_page.stored_sites()[-1]["geometry"] == before


def test_a_class_with_too_few_pixels_is_named_when_classifying(study_page: StudyPage) -> None:
    study_page.expected = ("422",)
    page = study_page.page
    study_page.add_class("Saltpan")
    expect(study_page.class_row("Saltpan")).to_be_visible()
    study_page.draw_rectangle((TOP, LEFT), (TOP + 2, LEFT + 2))
    study_page.expect_counts("Saltpan", 1, 4)
    expect(page.get_by_text("Saltpan has too few pixels to be trained")).to_be_visible()
    expect(page.get_by_role("link", name="Train")).to_contain_text("too few training pixels")
    page.get_by_role("button", name="Classify the whole scene").click()
    expect(page.get_by_text("Saltpan has 4 training pixels")).to_be_visible()


@pytest.mark.usefixtures("resting_worker")
def test_a_waiting_run_is_cancelled(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.go("Classify")
    page.get_by_role("button", name="Classify the whole scene").click()
    expect(page.get_by_text("Waiting for its turn", exact=True)).to_be_visible()
    expect(page.get_by_role("status")).to_contain_text("Classifying Summer pass")
    page.get_by_role("button", name="Cancel").click()
    expect(page.get_by_text("was cancelled. Nothing was written.")).to_be_visible()
    expect(page.get_by_role("button", name="Cancel")).to_have_count(0)


def test_a_layer_removed_in_another_window_leaves_the_panes_working(
    study_page: StudyPage,
) -> None:
    page = study_page.page
    page.get_by_role("button", name="Classify the whole scene").click()
    expect(study_page.caption(1)).to_contain_text("class map 1")
    layers = page.request.get(f"{study_page.address}/api/studies/{study_page.study_id}/maps").json()
    remove_layer(layers[0]["id"])
    page.reload()
    expect(study_page.caption(1)).to_contain_text("Class map as it stands")
    study_page.settle()


def test_tiles_that_fail_are_told_and_asked_for_again(study_page: StudyPage) -> None:
    study_page.expected = NETWORK
    page = study_page.page
    page.route("**/tiles/**", lambda route: route.abort("failed"))
    study_page.go("Scenes")
    spring = page.get_by_role("article", name="Spring pass")
    spring.get_by_role("button", name="Show left").click()
    told = page.get_by_role("status").filter(has_text="Part of the picture could not be loaded.")
    expect(told).to_be_visible()
    page.unroute("**/tiles/**")
    told.get_by_role("button", name="Again").click()
    expect(told).to_have_count(0)
    study_page.settle()
    assert study_page.picture(0).std() > 20, "the scene is there"


def test_an_old_picture_under_a_new_caption_is_dimmed_and_told(study_page: StudyPage) -> None:
    page, held = study_page.page, list[Route]()
    study_page.go("Scenes")
    before = study_page.picture(0).std()
    page.route("**/tiles/**", lambda route: held.append(route))
    spring = page.get_by_role("article", name="Spring pass")
    spring.get_by_role("button", name="Show left").click()
    told = page.get_by_role("status").filter(has_text="Being drawn anew")
    expect(told).to_be_visible()
    assert study_page.picture(0).std() < 0.7 * before
    page.unroute("**/tiles/**")  # lets them go
    expect(told).to_have_count(0)
    study_page.settle()
    assert study_page.picture(0).std() > 0.7 * before


def test_a_study_that_does_not_exist_says_so(study_page: StudyPage) -> None:
    study_page.expected = ("404",)
    study_page.page.goto(f"{study_page.address}/studies/999999/train")
    page = study_page.page
    expect(page.get_by_text("not there any more")).to_be_visible()
    page.get_by_role("link", name="Open a study that is there").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Train")


def test_a_server_that_is_away_at_the_start_is_told(study_page: StudyPage) -> None:
    study_page.expected = NETWORK
    page = study_page.page
    page.route("**/api/**", lambda route: route.abort("connectionrefused"))
    page.goto(study_page.address)
    expect(page.get_by_text("The server does not answer")).to_be_visible(timeout=20_000)


def test_no_number_is_shown_before_it_is_known(study_page: StudyPage) -> None:
    """While sites are still being counted, none is not the answer."""
    page = study_page.page
    held: list[Route] = []
    page.route("**/training?**", lambda route: held.append(route))
    page.reload()
    expect(study_page.class_row("Barley")).to_contain_text("–")
    expect(study_page.caption(1)).to_contain_text("of Summer pass · being updated")
    expect(page.get_by_role("navigation").get_by_text("sites")).to_have_count(0)
    assert held
    page.unroute("**/training?**")  # lets them go
    expect(study_page.caption(1)).to_contain_text("from 46 sites · up to date")
    expect(page.get_by_role("navigation").get_by_text("46 sites")).to_be_visible()
    assert study_page.counts("Barley")[0] > 0
