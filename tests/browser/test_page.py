"""The page as a whole: its weight, its names, its keyboard, its sizes."""

import gzip
from pathlib import Path

import pytest
from playwright.sync_api import expect

from support.study_page import StudyPage

pytestmark = pytest.mark.browser


@pytest.mark.usefixtures("fresh_window")
def test_scripts_of_the_map_page_weigh_less_than_700_kb(study_page: StudyPage) -> None:
    """All that is loaded until the panes are drawn, charts included, as gzip packs it."""
    addresses: list[str] = study_page.page.evaluate(
        "() => performance.getEntriesByType('resource').map((r) => r.name)"
    )
    scripts = [a for a in addresses if a.endswith(".js")]
    assert len(scripts) >= 2, "split"
    dist = Path("web/dist/assets")
    weight = sum(len(gzip.compress((dist / a.split("/")[-1]).read_bytes())) for a in scripts)
    assert weight < 700_000


@pytest.mark.usefixtures("fresh_window")
def test_nothing_comes_from_anywhere_else(study_page: StudyPage) -> None:
    addresses: list[str] = study_page.page.evaluate(
        "() => performance.getEntriesByType('resource').map((r) => r.name)"
    )
    assert all(a.startswith((study_page.address, "data:", "blob:")) for a in addresses)


def test_everything_is_reached_by_the_tab_key(study_page: StudyPage) -> None:
    page = study_page.page
    page.locator("body").focus()
    seen: set[str] = set()
    for _ in range(140):
        page.keyboard.press("Tab")
        seen.add(
            page.evaluate(
                "() => document.activeElement?.getAttribute('aria-label')"
                " || document.activeElement?.innerText?.split('\\n')[0] || ''"
            )
        )
    for name in (
        "Scenes", "Deliver", "Draw an outline", "Change Barley", "Classify the whole scene",
        "Help and shortcuts", "Fold the readout", "Delete site 1",
    ):  # fmt: skip
        assert name in seen
    assert any(name.startswith("Pane 1") for name in seen)
    assert any(name.startswith("Summer pass.") for name in seen), "handles of the caption"


def test_focus_can_be_seen(study_page: StudyPage) -> None:
    page = study_page.page
    page.get_by_role("button", name="Draw an outline").focus()
    page.keyboard.press("Tab")
    width: str = page.evaluate("() => getComputedStyle(document.activeElement).outlineWidth")
    assert float(width.removesuffix("px")) >= 2


def test_keys_are_on_a_sheet(study_page: StudyPage) -> None:
    study_page.page.keyboard.press("?")
    sheet = study_page.page.get_by_role("dialog", name="Keys")
    expect(sheet.get_by_text("Pick the class that is drawn")).to_be_visible()


@pytest.mark.parametrize(("width", "height"), [(1024, 700), (1280, 800), (2560, 1440)])
def test_nothing_is_cut_off_at_usual_sizes(study_page: StudyPage, width: int, height: int) -> None:
    page = study_page.page
    page.set_viewport_size({"width": width, "height": height})
    study_page.settle()
    inside: list[float] = page.evaluate(
        "() => [document.documentElement.scrollWidth, document.documentElement.scrollHeight]"
    )
    assert inside == [width, height]
    for name in ("Classify the whole scene", "Help and shortcuts"):
        box = page.get_by_role("button", name=name).bounding_box()
        assert box is not None
        assert box["x"] >= 0 and box["x"] + box["width"] <= width
        assert box["y"] >= 0 and box["y"] + box["height"] <= height
    pane = study_page.pane(1).bounding_box()
    assert pane is not None
    assert pane["width"] > 0.2 * width
    assert pane["height"] > 0.4 * height


def test_first_guide_once_dismissed_stays_away(study_page: StudyPage) -> None:
    study_page.page.reload()
    expect(study_page.pane(0)).to_be_visible()
    expect(study_page.page.get_by_text("First steps")).to_have_count(0)
