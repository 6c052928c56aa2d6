"""No violation of WCAG 2.2 AA that a machine can find, on every station, sheet and tab; and what
it cannot see: keys alone, names, contrast against what is really behind a text."""

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from playwright.sync_api import expect

from support.study_page import StudyPage

pytestmark = pytest.mark.browser

AXE = Path("web/node_modules/axe-core/axe.min.js")
# Two rules that axe-core leaves out unless they are asked for by name.
RUN_AXE = """
async () => {
  const found = await axe.run(document, {
    runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'],
    rules: { 'target-size': { enabled: true }, 'label-content-name-mismatch': { enabled: true } },
  });
  return found.violations.map(({ id, nodes }) =>
    [id, ...nodes.map(({ html, failureSummary }) => html.slice(0, 160) + ' ' + failureSummary)]);
}
"""
NAMELESS = """
() => [...document.querySelectorAll('button, a, input, select, textarea, [role=application]')]
  .filter((e) => e.checkVisibility())
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
    .filter((e) => e.checkVisibility() && !e.closest('[disabled], [data-disabled]'))
    .filter((e) => [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim()))
    .filter((e) => getComputedStyle(e).opacity === '1')
    .map((e) => {
      const [a, b] = [light(rgb(getComputedStyle(e).color)), light(ground(e))];
      return [(Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05), e.innerText.slice(0, 40)];
    })
    .filter(([ratio]) => ratio < 4.5);
}
"""
# What the theme changes are colours: nothing else has to be looked at twice.
IN_THE_DARK = f"""
async () => {{
  const page = document.documentElement;
  page.classList.add('dark');
  page.style.colorScheme = 'dark';
  try {{
    const found = await axe.run(document, {{ runOnly: ['color-contrast'] }});
    const ours = ({CONTRAST.strip()})();
    return [...found.violations.flatMap(({{ nodes }}) => nodes.map(({{ html }}) => html)), ...ours];
  }} finally {{
    page.classList.remove('dark');
    page.style.colorScheme = 'light';
  }}
}}
"""
IS_DARK = """() => document.documentElement.classList.contains('dark')
  && document.documentElement.style.colorScheme === 'dark'"""
STATIONS = ["Scenes", "Correct", "Derive", "Train", "Classify", "Tidy", "Check", "Deliver"]
TABS = ["Spectrum", "Histogram", "Line", "Feature space", "Time"]
Walk = Callable[[StudyPage], Iterator[str]]


def stations(study_page: StudyPage) -> Iterator[str]:
    for station in STATIONS:
        study_page.go(station)
        yield station


def tabs(study_page: StudyPage) -> Iterator[str]:
    study_page.page.get_by_role("button", name="Four panes").click()
    for name in TABS:
        study_page.page.get_by_role("tab", name=name).click()
        study_page.point_to(300.5, 520.5)
        yield name


def sheets(study_page: StudyPage) -> Iterator[str]:
    page = study_page.page
    page.keyboard.press("l")
    yield "Layers"
    study_page.go("Scenes")
    for sheet in ("Bring in scenes", "Catalogue"):
        page.get_by_role("button", name=sheet).click()
        yield sheet
        page.get_by_role("button", name="Back to the panes").click()
    page.get_by_role("article", name="Summer pass").get_by_text("facts and acts").click()
    page.get_by_role("button", name="All facts of this scene").click()
    yield "Facts"
    page.keyboard.press("Escape")
    page.keyboard.press("?")
    yield "Keys"


def results(study_page: StudyPage) -> Iterator[str]:
    """What stands there once a map is made and a layer is derived."""
    page = study_page.page
    page.get_by_role("button", name="Classify the whole scene").click()
    expect(study_page.caption(1)).to_contain_text("class map 1")
    page.get_by_text("How sure", exact=True).click()
    yield "Classify"
    page.get_by_role("button", name="Trained classifiers (1)").click()
    page.get_by_role("button", name="Put on scenes").click()
    yield "Trained classifiers"
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Try all methods").click()
    yield "Methods"
    page.keyboard.press("Escape")
    for station in ("Check", "Deliver"):
        study_page.go(station)
        yield station
    page.get_by_text("Polygons", exact=True).click()
    yield "Polygons"
    study_page.go("Derive")
    kinds = page.get_by_role("group", name="What is derived")
    for kind in ("Ratio", "Formula", "Principal components", "Class breaks"):
        kinds.get_by_role("button", name=kind).click()
        yield kind


def clusters(study_page: StudyPage) -> Iterator[str]:
    """Found, then named."""
    page = study_page.page
    study_page.go("Classify")
    page.get_by_role("button", name="By clusters").click()
    expect(study_page.caption(1)).to_contain_text("in 8 clusters")
    yield "Clusters found"
    page.get_by_role("button", name="Cluster the whole scene").click()
    expect(page.get_by_role("button", name="Divide in 2")).to_be_visible()
    for name in ("Clusters", "Tree", "How many"):
        page.get_by_role("tab", name=name).click()
        yield name


@pytest.mark.slow("every element of up to eight views is looked at, light and dark")
@pytest.mark.parametrize("walk", [stations, tabs, sheets, results, clusters])
def test_nothing_keeps_anybody_out(study_page: StudyPage, walk: Walk) -> None:
    page = study_page.page
    still = page.add_style_tag(content="* { transition: none !important; }")
    page.evaluate(AXE.read_text())
    wrong = []
    for place in walk(study_page):
        page.mouse.move(640, 20)
        study_page.settle()
        for check in (RUN_AXE, NAMELESS, CONTRAST):
            wrong += [f"{place}: {found}" for found in page.evaluate(check)]
        wrong += [f"{place}, dark: {found}" for found in page.evaluate(IN_THE_DARK)]
    still.evaluate("(style) => style.remove()")
    assert not wrong, "\n".join(wrong)


def test_the_theme_is_switched_by_a_class_of_the_page(study_page: StudyPage) -> None:
    """Which is how the colours of the dark theme are looked at everywhere."""
    page = study_page.page
    assert not page.evaluate(IS_DARK)
    page.keyboard.press("?")
    page.get_by_text("Dark theme").click()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    assert page.evaluate(IS_DARK)


def test_single_keys_can_be_switched_off(study_page: StudyPage) -> None:
    """WCAG 2.1.4: who dictates must not change the work by a word."""
    page = study_page.page
    page.keyboard.press("?")
    page.get_by_text("Letters and numbers alone are keys").click()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    chosen = study_page.class_row("Salt marsh").get_by_role("button", pressed=True)
    for key in ("t", "l", "3", "o", "?", "e"):
        page.keyboard.press(key)
    study_page.settle()
    expect(page.get_by_role("application")).to_have_count(2)
    expect(page.get_by_role("heading", level=1)).to_have_text("Train")
    expect(chosen).to_have_count(0)
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.reload()
    study_page.settle()
    page.keyboard.press("t")
    study_page.settle()
    expect(page.get_by_role("application")).to_have_count(2)
    page.get_by_role("button", name="Help and shortcuts").click()
    page.get_by_text("Letters and numbers alone are keys").click()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.keyboard.press("3")
    expect(chosen).to_have_count(1)


def test_classes_of_the_matrix_are_told_by_more_than_colour(study_page: StudyPage) -> None:
    page = study_page.page
    page.get_by_role("button", name="Classify the whole scene").click()
    expect(study_page.caption(1)).to_contain_text("class map 1")
    study_page.go("Check")
    study_page.settle()
    matrix = page.get_by_role("table", name="Error matrix, rows as mapped")
    heads = matrix.get_by_role("columnheader").all_inner_texts()
    assert [text.split()[0] for text in heads if text.strip()] == [*"123456789", "all"]
    names = page.get_by_role("table", name="Producer's and user's accuracy per class")
    expect(names.get_by_text("3 Salt marsh")).to_be_visible()
