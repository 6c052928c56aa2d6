"""The class scheme: codes, names, colours, descriptions."""

import re
from typing import Any

from kitesort.core.class_colours import suggest_colour
from kitesort.core.errors import BadSettingsError, ConflictError, DuplicateNameError
from kitesort.store.database import transaction
from kitesort.store.edits import Change, apply_edit, next_id
from kitesort.store.models import ClassRow, SiteRow
from kitesort.store.records import LandClass, Site
from kitesort.store.studies import fetch, get_study

LAST_CODE = 254


def list_classes(study_id: int) -> list[LandClass]:
    with transaction():
        rows = ClassRow.select().where(ClassRow.study_id == study_id).order_by(ClassRow.code)
        return [LandClass.model_validate(row) for row in rows]


def create_class(
    study_id: int, name: str, colour: str | None, description: str, code: int | None = None
) -> LandClass:
    """Add a class; the lowest free code and a colour that suits its name when none are given.

    Raises
    ------
    DuplicateNameError, BadSettingsError
    """
    get_study(study_id)
    classes = list_classes(study_id)
    used = {c.code for c in classes}
    free = next((c for c in range(1, LAST_CODE + 1) if c not in used), None)
    if free is None:
        raise ConflictError(f"A class scheme holds at most {LAST_CODE} classes.")
    values = _checked(
        {
            "study_id": study_id,
            "code": code or free,
            "name": name,
            "colour": colour or suggest_colour(name, [c.colour for c in classes]),
            "description": description,
        },
        classes,
    )
    with transaction():
        row_id = next_id("class")
        apply_edit(study_id, f"Add the class {name}", [Change("class", row_id, None, values)])
    return fetch(ClassRow, LandClass, row_id, "The class")


def update_class(class_id: int, changes: dict[str, Any]) -> LandClass:
    """Change name, colour or description.

    Raises
    ------
    NotFoundError, DuplicateNameError, BadSettingsError
    """
    old = fetch(ClassRow, LandClass, class_id, "The class")
    others = [c for c in list_classes(old.study_id) if c.id != class_id]
    values = _checked(changes, others)
    before = {key: getattr(old, key) for key in values}
    apply_edit(
        old.study_id, f"Change the class {old.name}", [Change("class", class_id, before, values)]
    )
    return fetch(ClassRow, LandClass, class_id, "The class")


def delete_class(class_id: int) -> None:
    """Delete a class and its sites, as one edit that can be undone."""
    old = fetch(ClassRow, LandClass, class_id, "The class")
    with transaction():
        rows = SiteRow.select().where(SiteRow.class_id == class_id)
        sites = [Site.model_validate(row) for row in rows]
        changes = [Change("site", s.id, s.model_dump(exclude={"id"}), None) for s in sites]
        row = old.model_dump(exclude={"id"})
        apply_edit(
            old.study_id,
            f"Delete the class {old.name} and its {len(sites)} sites",
            [*changes, Change("class", class_id, row, None)],
        )


def _checked(values: dict[str, Any], others: list[LandClass]) -> dict[str, Any]:
    name, colour = values.get("name"), values.get("colour")
    if name is not None:
        values["name"] = name = " ".join(str(name).split())
        if not name:
            raise BadSettingsError("A class needs a name.")
        if any(c.name.casefold() == name.casefold() for c in others):
            raise DuplicateNameError(
                f"There is a class called “{name}” already. Choose another name."
            )
    if colour is not None and not re.fullmatch(r"#[0-9a-fA-F]{6}", colour):
        raise BadSettingsError("A colour is written as # and six hexadecimal digits.")
    if "code" in values and any(c.code == values["code"] for c in others):
        raise DuplicateNameError(f"The code {values['code']} is taken by another class.")
    return values
