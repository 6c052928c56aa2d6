"""What is saved in a study for reuse: formulas and tables of coefficients."""

from typing import Any

from kitesort.core.derive.coefficients import CoefficientTable
from kitesort.core.derive.formula.parse import parse_formula
from kitesort.core.errors import BadSettingsError
from kitesort.core.settings import describe_invalid
from kitesort.store.database import transaction
from kitesort.store.edits import Change, apply_edit, next_id
from kitesort.store.models import PresetRow
from kitesort.store.records import Preset, PresetKind
from kitesort.store.studies import fetch, get_study

WHAT = "What was saved"


def list_presets(study_id: int) -> list[Preset]:
    """By name."""
    with transaction():
        rows = PresetRow.select().where(PresetRow.study_id == study_id).order_by(PresetRow.name)
        return [Preset.model_validate(row) for row in rows]


def save_preset(study_id: int, kind: PresetKind, name: str, content: dict[str, Any]) -> Preset:
    """Save under a name; what was saved under it before is replaced. Can be undone.

    Raises
    ------
    NotFoundError, BadSettingsError, FormulaError
    """
    get_study(study_id)
    name = name.strip()
    if not name:
        raise BadSettingsError("Give it a name to save it under.")
    checked = _checked(kind, content)
    old = next((p for p in list_presets(study_id) if p.kind == kind and p.name == name), None)
    with transaction():
        if old:
            change = Change("preset", old.id, {"content": old.content}, {"content": checked})
        else:
            values = {"study_id": study_id, "kind": kind, "name": name, "content": checked}
            change = Change("preset", next_id("preset"), None, values)
        apply_edit(study_id, f"Save {name}", [change])
    return fetch(PresetRow, Preset, change.id, WHAT)


def remove_preset(preset_id: int) -> None:
    old = fetch(PresetRow, Preset, preset_id, WHAT)
    row = old.model_dump(include={"study_id", "kind", "name", "content"})
    apply_edit(old.study_id, f"Remove {old.name}", [Change("preset", preset_id, row, None)])


def _checked(kind: PresetKind, content: dict[str, Any]) -> dict[str, Any]:
    if kind == "formula":
        text = str(content.get("formula", ""))
        parse_formula(text)
        return {"formula": text}
    try:
        return CoefficientTable.model_validate(content).model_dump(mode="json")
    except ValueError as error:
        raise BadSettingsError(f"The table cannot be saved: {describe_invalid(error)}") from error
