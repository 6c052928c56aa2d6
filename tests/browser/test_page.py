"""The page as a whole: its weight, its names, its keyboard, its sizes."""

import gzip
from pathlib import Path

import pytest
from playwright.sync_api import expect

from support.study_page import StudyPage

pytestmark = pytest.mark.browser

NAMELESS = """
() => [...document.querySelectorAll('button, a, input, select, textarea, [role=application]')]
  .filter((e) => e.offsetParent !== null)
  .filter((e) => !(e.getAttribute('aria-label') || e.getAttribute('aria-labelledby')
      || e.innerText?.trim() || e.labels?.length || e.querySelector('img[alt]')))
  .map((e) => e.outerHTML.slice(0, 160))
"""
CONTRAST = """
() => {
  const canvas = document.createElement('canvas').getContext('2d', { willReadFrequently: true });
  const rgb = (colour) => {
    canvas.clearRect(0, 0, 1, 1);
    canvas.fillStyle = colour;
    canvas.fillRect(0, 0, 1, 1);
    return [...canvas.getImageData(0, 0, 1, 1).data];
  };
  const light = ([r, g, b]) => [r, g, b].map((v) => v / 255)
    .map((v) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4))
    .reduce((sum, v, i) => sum + v * [0.2126, 0.7152, 0.0722][i], 0);
  const ground = (e) => {
    for (let at = e; at; at = at.parentElement) {
      const colour = rgb(getComputedStyle(at).backgroundColor);
      if (colour[3] === 255) return colour;
    }
    return [255, 255, 255, 255];
  };
  return [...document.querySelectorAll('p, span, h1, h2, button, a, td, th, label')]
    .filter((e) => e.offsetParent !== null && !e.closest('[disabled], [data-disabled]'))
    .filter((e) => [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim()))
    .filter((e) => getComputedStyle(e).opacity === '1')
    .map((e) => {
      const [a, b] = [light(rgb(getComputedStyle(e).color)), light(ground(e))];
      return [(Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05), e.innerText.slice(0, 40)];
    })
    .filter(([ratio]) => ratio < 4.5);
}
"""
STATIONS = ["Scenes", "Correct", "Train", "Classify", "Check", "Deliver"]


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


def test_nothing_comes_from_anywhere_else(study_page: StudyPage) -> None:
    addresses: list[str] = study_page.page.evaluate(
        "() => performance.getEntriesByType('resource').map((r) => r.name)"
    )
    assert all(a.startswith((study_page.address, "data:", "blob:")) for a in addresses)


@pytest.mark.parametrize("dark", [False, True])
def test_every_control_has_a_name_and_every_text_contrast(
    study_page: StudyPage, dark: bool
) -> None:
    """WCAG 2.2 AA: 4.5 to 1 for text (success criterion 1.4.3), names (4.1.2)."""
    page = study_page.page
    if dark:
        page.keyboard.press("?")
        page.get_by_text("Dark theme").click()
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_have_count(0)
    for station in STATIONS:
        study_page.go(station)
        page.mouse.move(640, 20)
        page.wait_for_timeout(300)
        assert page.evaluate(NAMELESS) == [], station
        assert page.evaluate(CONTRAST) == [], station
    page.get_by_role("button", name="Four panes").click()
    page.keyboard.press("l")
    for tab in ("Histogram", "Line", "Feature space", "Time"):
        page.get_by_role("tab", name=tab).click()
        page.mouse.move(640, 20)
        page.wait_for_timeout(600)
        assert page.evaluate(NAMELESS) == [], tab
        assert page.evaluate(CONTRAST) == [], tab
    page.get_by_role("button", name="Two panes").click()
    study_page.go("Scenes")
    for sheet in ("Bring in scenes", "Catalogue"):
        page.get_by_role("button", name=sheet).click()
        page.mouse.move(640, 20)
        page.wait_for_timeout(600)
        assert page.evaluate(NAMELESS) == [], sheet
        assert page.evaluate(CONTRAST) == [], sheet
        page.get_by_role("button", name="Back to the panes").click()


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
    page.wait_for_timeout(400)
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
