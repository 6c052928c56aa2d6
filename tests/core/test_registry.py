import sys
from dataclasses import dataclass
from pathlib import Path
from types import ModuleType

import pytest

from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.correct.registry import COMBINATIONS, CORRECTIONS
from kitesort.core.derive.registry import DERIVATIONS
from kitesort.core.errors import NotFoundError
from kitesort.core.registry import Registry


@dataclass(frozen=True)
class ToySpec:
    id: str
    title: str


def make_family(folder: Path, files: dict[str, str]) -> ModuleType:
    package = folder / f"family_{folder.name}"
    package.mkdir()
    (package / "__init__.py").write_text("")
    for name, text in files.items():
        (package / name).write_text(text)
    sys.path.insert(0, str(folder))
    try:
        return __import__(package.name)
    finally:
        sys.path.remove(str(folder))


def spec(spec_id: str) -> str:
    return f"from {__name__} import ToySpec\nSPEC = ToySpec({spec_id!r}, 'A toy')\n"


@pytest.fixture(autouse=True)
def importable(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    monkeypatch.syspath_prepend(str(tmp_path))


def test_every_file_is_found_and_helpers_are_passed_over(tmp_path: Path) -> None:
    family = make_family(tmp_path, {"one.py": spec("one"), "two.py": spec("two"), "_help.py": ""})
    registry = Registry(family, ToySpec)
    assert list(registry) == ["one", "two"]
    assert registry["two"].title == "A toy"
    assert len(registry) == 2


def test_file_without_entry_stops_the_program(tmp_path: Path) -> None:
    with pytest.raises(TypeError, match="has no SPEC"):
        Registry(make_family(tmp_path, {"bare.py": ""}), ToySpec)


def test_doubled_id_stops_the_program(tmp_path: Path) -> None:
    family = make_family(tmp_path, {"one.py": spec("same"), "two.py": spec("same")})
    with pytest.raises(TypeError, match="'same' is taken"):
        Registry(family, ToySpec)


def test_unknown_id_names_the_known(tmp_path: Path) -> None:
    registry = Registry(make_family(tmp_path, {"one.py": spec("one")}), ToySpec)
    with pytest.raises(NotFoundError, match=r"“none”\. Known: one"):
        registry["none"]


def test_every_classifier_explains_its_settings() -> None:
    for entry in CLASSIFIERS.values():
        assert entry.good_for.endswith(".")
        assert entry.source
        for name, field in entry.settings.model_json_schema()["properties"].items():
            assert field.get("title"), (entry.id, name)
            assert len(field.get("description", "")) > 20, (entry.id, name)
            assert "default" in field, (entry.id, name)


def test_choices_are_called_by_titles_and_not_by_ids() -> None:
    """Of every operation: a form shows words, as many as there are values."""
    checked = 0
    for registry in (CORRECTIONS, COMBINATIONS, DERIVATIONS, CLASSIFIERS):
        for spec in registry.values():
            for name, field in spec.settings.model_json_schema()["properties"].items():
                if "enum" in field:
                    assert set(field.get("choices", ())) == {*field["enum"]}, f"{spec.id}: {name}"
                    checked += 1
    assert checked >= 8
