"""What is saved in a study for reuse: formulas, tables of coefficients, chains of steps."""

from typing import Any

from pydantic import BaseModel, ConfigDict, Field

from kitesort.core.derive.coefficients import CoefficientTable
from kitesort.core.derive.formula.parse import parse_formula
from kitesort.core.errors import BadSettingsError
from kitesort.core.operations import OPERATIONS
from kitesort.core.recipe import MAX_STEPS
from kitesort.core.settings import describe_invalid, validate_settings
from kitesort.core.tidy.other_map import ClassNames
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
    if kind == "chain":
        return _checked_chain(content)
    try:
        return CoefficientTable.model_validate(content).model_dump(mode="json")
    except ValueError as error:
        raise BadSettingsError(f"The table cannot be saved: {describe_invalid(error)}") from error


class _SavedStep(BaseModel):
    model_config = ConfigDict(extra="forbid")
    operation: str
    settings: dict[str, Any] = {}


class _SavedChain(BaseModel):
    model_config = ConfigDict(extra="forbid")
    steps: list[_SavedStep] = Field(min_length=1, max_length=MAX_STEPS)
    classes: ClassNames = ()


def _checked_chain(content: dict[str, Any]) -> dict[str, Any]:
    """Steps as they were ordered: what they leave open is found anew for each map."""
    try:
        chain = _SavedChain.model_validate(content)
    except ValueError as error:
        raise BadSettingsError(f"The chain cannot be saved: {describe_invalid(error)}") from error
    for step in chain.steps:
        spec = OPERATIONS[step.operation]
        if not spec.is_step:
            raise BadSettingsError(f"“{spec.title}” is no step of a chain.")
        validate_settings(spec, step.settings)
    return chain.model_dump(mode="json")
