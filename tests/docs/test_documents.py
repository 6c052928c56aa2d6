"""The documents say what is there: links lead somewhere, pictures exist, keys are the real ones."""

import json
import re
import tomllib
from pathlib import Path

import pytest

from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.cluster.registry import CLUSTERINGS
from kitesort.core.derive.coefficients import PUBLISHED_SETS
from kitesort.core.derive.formula.parse import (
    MAX_CHARACTERS,
    MAX_DEPTH,
    MAX_EXPONENT,
    MAX_TOKENS,
)
from kitesort.core.derive.formula.tree import FUNCTIONS
from kitesort.core.derive.index_catalogue import all_indices
from kitesort.core.operations import FAMILIES

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


def test_every_folder_of_tests_is_run() -> None:
    told = tomllib.loads((ROOT / "pyproject.toml").read_text("utf-8"))
    named = set(told["tool"]["pytest"]["ini_options"]["testpaths"])
    there = {path.parent for path in (ROOT / "tests").rglob("test_*.py")}
    assert named == {path.relative_to(ROOT).as_posix() for path in there}


def test_keys_of_the_guide_are_on_the_sheet() -> None:
    sheet = (ROOT / "web/src/app/HelpSheet.tsx").read_text("utf-8")
    keys = set(re.findall(r'^\s+\["([^"]+)",', sheet, re.MULTILINE))
    on_sheet = {key.strip() for text in keys for key in re.split(r",|\band\b|\bto\b", text)}
    guide = (ROOT / "docs/guide/looking.md").read_text("utf-8")
    for key in re.findall(r"`([A-Z])`", guide):
        assert key in on_sheet, key


def test_the_index_that_is_added_as_an_example_is_the_one_that_ships() -> None:
    page = (ROOT / "docs/extending.md").read_text("utf-8")
    shown = re.search(r"```json\n(.*?)```", page, re.DOTALL)
    assert shown
    shipped = ROOT / "src/kitesort/core/derive/indices/dry_ground_ratio.json"
    assert json.loads(shown[1]) == json.loads(shipped.read_text("utf-8"))


def test_numbers_of_the_guide_on_formulas_are_the_real_limits() -> None:
    guide = (ROOT / "docs/guide/derive.md").read_text("utf-8")
    assert f"at most {MAX_CHARACTERS:,}".replace(",", " ") in guide
    assert f"{MAX_TOKENS} words and signs and {MAX_DEPTH} brackets".replace("\n", " ") in (
        " ".join(guide.split())
    )
    assert f"from -{MAX_EXPONENT:g} to {MAX_EXPONENT:g}" in guide
    assert f"{len(all_indices())} published indices" in guide
    for function in FUNCTIONS:
        assert f"`{function}" in guide, function


def test_the_list_of_references_is_what_the_program_says() -> None:
    text = (ROOT / "docs/references.md").read_text("utf-8")
    sources = [
        *(
            spec.source
            for registry in (*FAMILIES, CLASSIFIERS, CLUSTERINGS)
            for spec in registry.values()
        ),
        *(table.source for table in PUBLISHED_SETS),
    ]  # fmt: skip
    assert [s for s in sources if f"| {s} |" not in text] == []
    assert len([line for line in text.splitlines() if line.startswith("| ")]) == len(sources) + 1
    assert not any("from memory" in source for source in sources), "that stands in the document"
