"""Five thousand points beside the drawn sites: the page draws of them what is seen, and every one
is reached by keyboard."""

import re

import pytest
from playwright.sync_api import Locator, expect
from shapely.geometry import box, mapping

from kitesort.demo.delivery import ORIGIN
from kitesort.store.sites import create_sites
from support.study_page import StudyPage

pytestmark = pytest.mark.browser
N_POINTS = 5_000
MOST_ELEMENTS = 2_500  # of the whole page; ten thousand sites once were 149 000


def add_points(study_page: StudyPage) -> None:
    """Spread over the scene, the outline of one pixel each, of the class of the first site."""
    class_id = study_page.stored_sites()[0]["class_id"]
    squares = [
        mapping(box(x, y - 10, x + 10, y))
        for i in range(N_POINTS)
        for x, y in [(ORIGIN[0] + 100 + 90 * (i % 100), ORIGIN[1] - 100 - 130 * (i // 100))]
    ]
    create_sites(study_page.study_id, [(class_id, square, "") for square in squares])


def row_in_focus(table: Locator) -> int:
    """The place among all rows, the headings the first, of what has the focus."""
    found = table.locator("[aria-rowindex]").filter(has=table.page.locator(":focus"))
    return int(found.get_attribute("aria-rowindex") or 0)


@pytest.mark.slow("It trains with five thousand points.")
def test_five_thousand_points_on_the_page(study_page: StudyPage) -> None:
    page = study_page.page
    add_points(study_page)
    counts = page.get_by_role("navigation").get_by_text("sites")
    expect(counts).to_have_text(re.compile(r"5\D?046 sites"), timeout=30_000)
    page.get_by_role("tab", name="Sites").click()
    table = page.get_by_role("table", name="Training sites")
    n_rows = N_POINTS + 47
    expect(table).to_have_attribute("aria-rowcount", str(n_rows), timeout=30_000)
    expect(table.get_by_role("row").nth(3)).to_be_visible()
    assert table.get_by_role("row").count() < 80
    assert page.locator("*").count() < MOST_ELEMENTS
    table.locator("[data-row]").first.focus()
    for key, place in (("End", n_rows), ("ArrowUp", n_rows - 1), ("Home", 2)):
        page.keyboard.press(key)
        expect(table.locator(f'[aria-rowindex="{place}"] [data-row]')).to_be_focused()
    assert row_in_focus(table) == 2
    expect(page.get_by_text("of its 1 pixel")).to_have_count(0)
