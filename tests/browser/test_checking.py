"""From a cell of the error matrix to the points behind it."""

import re

import pytest
from playwright.sync_api import expect

from support.study_page import StudyPage

pytestmark = pytest.mark.browser


@pytest.fixture
def checked(study_page: StudyPage) -> StudyPage:
    page = study_page.page
    page.get_by_role("button", name="Classify the whole scene").click()
    expect(study_page.caption(1)).to_contain_text("class map 1")
    study_page.go("Check")
    expect(page.get_by_test_id("overall")).to_be_visible()
    return study_page


def test_cells_add_up_to_the_points_and_the_diagonal_to_the_overall(checked: StudyPage) -> None:
    matrix = checked.page.get_by_role("table", name="Error matrix, rows as mapped")
    counts = [
        [int(text) for text in row.get_by_role("button").all_inner_texts()]
        for row in matrix.get_by_role("row").all()[1:-1]
    ]
    total = sum(map(sum, counts))
    ground = matrix.get_by_role("row").last.get_by_role("cell").all_inner_texts()
    assert [int(text) for text in ground] == [*map(sum, zip(*counts, strict=True)), total]
    assert f"from {total} points" in checked.page.get_by_role("region", name="Check").inner_text()
    right = sum(row[i] for i, row in enumerate(counts))
    expect(checked.page.get_by_test_id("overall")).to_have_text(f"{100 * right / total:.1f} %")


def test_a_cell_leads_through_its_points_on_the_map_that_is_judged(checked: StudyPage) -> None:
    page = checked.page
    checked.caption(1).get_by_role("button").first.click()
    page.get_by_role("dialog").get_by_role("button", name="Class map as it stands").click()
    cell = page.get_by_role("button", name=re.compile(r"^\d+ mapped")).and_(
        page.get_by_title(re.compile("mapped Salt marsh, on the ground Salt marsh"))
    )
    n_points = int(cell.inner_text())
    cell.click()
    expect(checked.caption(1)).to_contain_text("class map 1")
    seen = set()
    for i in range(min(n_points, 3)):
        page.get_by_role("button", name="Next").click()
        expect(page.get_by_text(f"{i + 1} of {n_points}")).to_be_visible()
        place = page.get_by_test_id("readout-place")
        expect(place).to_contain_text("Salt marsh")
        checked.settle()
        seen.add(place.inner_text())
    assert len(seen) == min(n_points, 3)


def test_weakest_classes_stand_first(checked: StudyPage) -> None:
    table = checked.page.get_by_role("table", name="Producer's and user's accuracy per class")
    weakest = [
        min(int(share) for share in re.findall(r"(\d+) %", row.inner_text()))
        for row in table.get_by_role("row").all()[1:]
    ]
    assert len(weakest) == 9
    assert weakest == sorted(weakest)


def test_at_the_upper_level_classes_that_belong_together_are_one(checked: StudyPage) -> None:
    """The scheme changes in another window; no reload is needed here."""
    page = checked.page
    expect(page.get_by_role("button", name="By the classes above")).to_have_count(0)
    own = page.get_by_test_id("overall").inner_text()
    base = f"{checked.address}/api/studies/{checked.study_id}"
    classes = {one["name"]: one["id"] for one in page.request.get(f"{base}/classes").json()}
    page.request.patch(
        f"{checked.address}/api/classes/{classes['Mudflat']}",
        data={"parent_id": classes["Salt marsh"]},
    )
    page.get_by_role("button", name="By the classes above").click()
    table = page.get_by_role("table", name="Producer's and user's accuracy per class")
    expect(table.get_by_role("row")).to_have_count(9)
    expect(table).not_to_contain_text("Mudflat")
    expect(page.get_by_test_id("overall")).not_to_have_text(own)
    page.get_by_role("button", name="By the classes above").click()
    expect(page.get_by_test_id("overall")).to_have_text(own)
