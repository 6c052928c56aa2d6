"""Training as an analyst does it: sites grown, painted and cut, doubts followed, sites of others
brought in, the first check, the class scheme, and where to draw next."""

import json
import re
from contextlib import suppress
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Locator, TimeoutError, expect
from shapely.geometry import shape

from support.eventually import eventually
from support.study_page import StudyPage

pytestmark = pytest.mark.browser
FIELD = (305, 526)  # row and column in the middle of the panes, inside a field


def n_sites(study_page: StudyPage) -> int:
    return len(study_page.stored_sites())


def newest(study_page: StudyPage) -> dict[str, Any]:
    return max(study_page.stored_sites(), key=lambda site: int(site["id"]))


def test_a_site_is_grown_painted_on_and_cut(study_page: StudyPage) -> None:
    page = study_page.page
    page.keyboard.press("5")
    page.keyboard.press("f")
    study_page.click(*FIELD)
    keep = page.get_by_role("button", name="Keep", exact=True)
    expect(keep).to_be_visible()
    slider = page.get_by_role("slider", name="Distance, at most")
    slider.press("ArrowRight")
    study_page.settle()
    grown = int(
        re.sub(r"\D", "", page.get_by_text(re.compile(r"^[\d\u202f]+ pixels$")).inner_text())
    )
    keep.click()
    eventually(lambda: n_sites(study_page) == 47)
    study_page.settle()
    assert newest(study_page)["n_pixels"] == grown
    page.keyboard.press("v")
    far = (FIELD[0] + 45, FIELD[1] + 40)
    study_page.drag(far, (far[0], far[1] + 6))
    eventually(lambda: n_sites(study_page) == 48)
    study_page.settle()
    painted = newest(study_page)
    assert painted["n_pixels"] == 7, "away from the chosen site it is a site of its own"
    study_page.drag(far, (far[0] + 2, far[1]))
    eventually(lambda: newest(study_page)["n_pixels"] == 9)
    page.keyboard.press("x")
    study_page.click(far[0] - 3, far[1] + 3)
    page.mouse.dblclick(*study_page.at(far[0] + 6, far[1] + 3.2))
    eventually(lambda: n_sites(study_page) == 49)
    study_page.settle()
    page.keyboard.press("Control+z")
    eventually(lambda: n_sites(study_page) == 48)


def test_a_circle_is_round(study_page: StudyPage) -> None:
    study_page.page.keyboard.press("i")
    study_page.drag(FIELD, (FIELD[0], FIELD[1] + 6))
    eventually(lambda: n_sites(study_page) == 47)
    outline = shape(newest(study_page)["geometry"])
    left, bottom, right, top = outline.bounds
    assert right - left == pytest.approx(top - bottom, rel=0.01)
    assert outline.area == pytest.approx(3.14 * ((right - left) / 2) ** 2, rel=0.01)


def scrolled_to(wanted: Locator, table: Locator) -> Locator:
    """What is in a row of a long table, of which the rows that are seen are drawn."""
    for top in range(0, 2_000, 120):
        table.evaluate("(table, top) => { table.parentElement.scrollTop = top; }", top)
        with suppress(TimeoutError):
            wanted.wait_for(timeout=400)
            return wanted
    raise AssertionError("The row was not found.")


def test_doubted_sites_are_named_shown_and_put_right(study_page: StudyPage) -> None:
    page = study_page.page
    page.get_by_role("tab", name="Sites").click()
    table = page.get_by_role("table", name="Training sites")
    expect(table).to_have_attribute("aria-rowcount", "47")
    expect(table.get_by_role("row").nth(3)).to_be_visible()
    names = [table.get_by_role("row").nth(i).inner_text() for i in (1, 2, 3)]
    assert {re.sub(r"\s.*", "", name.strip(), flags=re.S) for name in names} == {"Pasture", "Salt"}
    expect(page.get_by_text(re.compile("Site 7 of Pasture looks like Barley"))).to_be_visible()
    page.get_by_role("button", name="Show", exact=True).click()
    chosen = table.get_by_role("button", pressed=True)
    expect(chosen).to_have_text("Pasture 7")
    before = study_page.counts("Barley")
    page.get_by_role("button", name="Move to Barley").click()
    eventually(lambda: study_page.counts("Barley")[0] == before[0] + 1)
    for name in ("Salt marsh 6", "Shingle 1"):
        scrolled_to(table.get_by_role("checkbox", name=f"Mark {name}"), table).check()
    expect(page.get_by_text("2 sites marked")).to_be_visible()
    page.get_by_role("button", name="Set aside", exact=True).click()
    eventually(lambda: sum(s["set_aside"] for s in study_page.stored_sites()) == 2)
    page.get_by_role("tab", name="First check").click()
    expect(page.get_by_role("columnheader", name="set aside")).to_be_visible()
    page.get_by_role("button", name="More sites?").click()
    expect(page.get_by_text(re.compile("the share told right went from"))).to_be_visible()


def test_sites_are_compared_in_several_scenes_at_once(study_page: StudyPage) -> None:
    """Each has its column and its number of sites that seem changed, which can be marked."""
    page = study_page.page
    page.get_by_role("tab", name="Sites").click()
    choice = page.get_by_role("combobox", name="Compare with another scene")
    choice.select_option(label="And on Spring pass")
    heads = page.get_by_role("table", name="Training sites").get_by_role("columnheader")
    expect(heads.filter(has_text="On Spring pass")).to_be_visible()
    choice.select_option(label="And on Two years earlier")
    earlier = page.get_by_role("region", name="On Two years earlier")
    expect(earlier).to_contain_text(re.compile(r"[1-9]\d* sites? seems? changed"))
    n_changed = int(re.findall(r"(\d+) site", earlier.inner_text())[0])
    earlier.get_by_role("button", name="Mark them").click()
    expect(page.get_by_text(re.compile(f"^{n_changed} sites? marked"))).to_be_visible()
    page.get_by_role("button", name="Leave out Two years earlier").click()
    expect(heads.filter(has_text="Two years earlier")).to_have_count(0)


def test_sites_of_others_are_looked_at_and_brought_in(
    study_page: StudyPage, tmp_path: Path
) -> None:
    page = study_page.page
    known = study_page.stored_sites()[:3]
    features = [
        {"type": "Feature", "geometry": site["geometry"], "properties": {"cover": cover}}
        for site, cover in zip(known, ("PASTURE", "Heather", "Heather"), strict=True)
    ]
    crs = {"type": "name", "properties": {"name": "EPSG:32625"}}
    path = tmp_path / "given.geojson"
    path.write_text(json.dumps({"type": "FeatureCollection", "features": features, "crs": crs}))
    page.get_by_role("button", name="Bring in", exact=True).click()
    page.locator("input[type=file]").set_input_files(path)
    expect(page.get_by_text("3 sites can be taken.").first).to_be_visible()
    expect(page.get_by_label("Class of PASTURE")).to_have_value(re.compile(r"\d+"))
    page.get_by_label("Class of PASTURE").select_option("Leave out")
    page.get_by_role("button", name="Bring in 2 sites").click()
    eventually(lambda: n_sites(study_page) == 48)
    expect(study_page.class_row("Heather")).to_be_visible()
    study_page.settle()
    page.keyboard.press("Control+z")
    eventually(lambda: n_sites(study_page) == 46)
    expect(study_page.class_row("Heather")).to_have_count(0)


def test_the_scheme_is_put_in_order(study_page: StudyPage) -> None:
    page = study_page.page
    page.get_by_role("button", name="Scheme", exact=True).click()
    rows = page.get_by_role("list", name="Classes").last.get_by_role("listitem")
    page.get_by_role("button", name="Move Reedbed up").click()
    expect(rows.nth(2)).to_have_accessible_name("Reedbed")
    page.get_by_label("Pasture is reported under").select_option("Barley")
    code = page.get_by_label("Code of Shingle")
    code.fill("")
    code.press_sequentially("255")
    expect(page.get_by_role("alert").filter(has_text="not 255")).to_be_visible()
    code.fill("")
    code.press_sequentially("3311")  # its beginnings are codes, too, and some are taken
    code.press("Enter")
    expect(rows.nth(7)).to_have_accessible_name("Shingle")
    page.get_by_role("button", name="Merge Built-up into another class").click()
    page.get_by_label("Merge Built-up into", exact=True).select_option("Shingle")
    expect(rows).to_have_count(8)
    study_page.settle()
    classes = page.request.get(
        f"{study_page.address}/api/studies/{study_page.study_id}/classes"
    ).json()
    assert [c["name"] for c in classes][:4] == ["Tidal water", "Mudflat", "Reedbed", "Salt marsh"]
    by_name = {c["name"]: c for c in classes}
    assert by_name["Pasture"]["parent_id"] == by_name["Barley"]["id"]
    assert by_name["Shingle"]["code"] == 3311
    page.keyboard.press("Escape")
    expect(study_page.pane(0)).to_be_visible()


def test_it_says_where_to_draw_next(study_page: StudyPage) -> None:
    page = study_page.page
    page.get_by_role("button", name="Where next?").click()
    expect(page.get_by_text(re.compile("from the nearest site"))).to_be_visible()
    first = page.get_by_text(re.compile("from the nearest site")).inner_text()
    page.keyboard.press("m")
    expect(page.get_by_text(re.compile(r"^2 / \d+ ›$"))).to_be_visible()
    assert page.get_by_text(re.compile("from the nearest site")).inner_text() != first
    page.get_by_role("button", name=re.compile("^Draw ")).first.click()
    tool = page.get_by_role("button", name="Draw an outline", exact=True)
    expect(tool).to_have_attribute("aria-pressed", "true")
    page.get_by_role("button", name="Stop", exact=True).click()
    expect(page.get_by_role("button", name=re.compile("the next advice"))).to_be_visible()
