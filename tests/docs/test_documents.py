"""The documents say what is there: links lead somewhere, pictures exist, keys are the real ones."""

import re
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
DOCUMENTS = [ROOT / "README.md", ROOT / "CHANGELOG.md", *sorted((ROOT / "docs").rglob("*.md"))]
LINK = re.compile(r"\]\((?!https?:)([^)#\s]+)(?:#[^)]*)?\)")
MAX_SCREENSHOTS = 19


def links_of(path: Path) -> list[str]:
    return LINK.findall(path.read_text("utf-8"))


@pytest.mark.parametrize("path", DOCUMENTS, ids=lambda p: str(p.relative_to(ROOT)))
def test_every_link_leads_somewhere(path: Path) -> None:
    for link in links_of(path):
        assert (path.parent / link).exists(), link


def test_every_screenshot_is_linked_from_the_readme() -> None:
    shots = {p.name for p in (ROOT / "docs" / "screenshots").glob("*.png")}
    linked = {Path(link).name for link in links_of(ROOT / "README.md") if link.endswith(".png")}
    assert shots == linked
    assert len(shots) <= MAX_SCREENSHOTS


def test_every_guide_page_is_named_on_the_first() -> None:
    guide = ROOT / "docs" / "guide"
    named = {(guide / link).resolve() for link in links_of(guide / "README.md")} | {
        (guide / "README.md").resolve()
    }
    assert {p.resolve() for p in guide.glob("*.md")} <= named


def test_options_of_the_readme_are_those_of_the_command() -> None:
    source = (ROOT / "src/kitesort/launch/__main__.py").read_text("utf-8")
    options = set(re.findall(r'"(--[a-z-]+)"', source))
    readme = (ROOT / "README.md").read_text("utf-8")
    assert options <= set(re.findall(r"--[a-z-]+", readme))


def test_keys_of_the_guide_are_on_the_sheet() -> None:
    sheet = (ROOT / "web/src/app/HelpSheet.tsx").read_text("utf-8")
    keys = set(re.findall(r'^\s+\["([^"]+)",', sheet, re.MULTILINE))
    on_sheet = {key.strip() for text in keys for key in re.split(r",|\band\b|\bto\b", text)}
    guide = (ROOT / "docs/guide/looking.md").read_text("utf-8")
    for key in re.findall(r"`([A-Z])`", guide):
        assert key in on_sheet, key
