"""Five thousand points more: the page draws what is seen, and every row is reached."""

import re

import pytest
from playwright.sync_api import expect
from shapely import box
from shapely.geometry import mapping

from kitesort.store.scheme import list_classes
from kitesort.store.sites import create_sites
from support.study_page import StudyPage

pytestmark = [pytest.mark.browser, pytest.mark.slow("It trains on five thousand sites.")]
N_POINTS, COLUMNS, PIXEL = 5_000, 100, 10
FEW = 1_500  # elements: with a row for each site there would be tens of thousands


def add_points(study_page: StudyPage) -> int:
    """Single pixels in rows, spread over the classes; how many sites there are then."""
    classes = list_classes(study_page.study_id)
    (left, top) = study_page.stored_sites()[0]["geometry"]["coordinates"][0][0]
    left, top = left - left % PIXEL, top - top % PIXEL
    drawn = []
    for i in range(N_POINTS):
        x, y = left + PIXEL * (i % COLUMNS), top - 2 * PIXEL * (i // COLUMNS)
        outline = dict(mapping(box(x, y - PIXEL, x + PIXEL, y)))
        drawn.append((classes[i % len(classes)].id, outline, ""))
    create_sites(study_page.study_id, drawn)
    return len(study_page.stored_sites())


def test_thousands_of_sites_are_listed_and_reached(study_page: StudyPage) -> None:
    page = study_page.page
    n_sites = add_points(study_page)
    page.get_by_role("tab", name="Sites", exact=True).click()
    table = page.get_by_role("table", name="Training sites")
    expect(table).to_have_attribute("aria-rowcount", str(n_sites + 1))
    study_page.settle()
    rows = table.locator("tbody tr[data-index]")
    assert 5 < rows.count() < 60
    assert page.locator("*").count() < FEW
    rows.first.locator("[data-row]").focus()
    page.keyboard.press("End")
    last = table.locator(f'tr[data-index="{n_sites - 1}"]')
    expect(last.locator("[data-row]")).to_be_focused()
    expect(last).to_have_attribute("aria-rowindex", str(n_sites + 1))
    page.keyboard.press("ArrowUp")
    expect(table.locator(f'tr[data-index="{n_sites - 2}"] [data-row]')).to_be_focused()
    page.keyboard.press("Home")
    expect(table.locator('tr[data-index="0"] [data-row]')).to_be_focused()
    page.keyboard.press("Enter")
    expect(table.locator('tr[data-index="0"] [data-row]')).to_have_attribute("aria-pressed", "true")
    said = page.get_by_text(re.compile(r"points of .* look like|of its 1 pixel"))
    assert not any("of its 1 pixel" in text for text in said.all_inner_texts())
