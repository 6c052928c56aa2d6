"""The class scheme: codes, names, colours, descriptions."""

import re
from collections.abc import Iterable, Sequence
from itertools import count
from typing import Any

from peewee import fn

from kitesort.core.class_colours import suggest_colour
from kitesort.core.errors import BadSettingsError, ConflictError, DuplicateNameError
from kitesort.core.legend import MOST_CLASSES, is_class_code
from kitesort.core.training.scheme_file import TakenClass
from kitesort.store.database import transaction
from kitesort.store.edits import Change, apply_edit, next_id
from kitesort.store.models import ClassRow, PointRow, SiteRow
from kitesort.store.records import LandClass, Site
from kitesort.store.studies import fetch, get_study


def list_classes(study_id: int) -> list[LandClass]:
    with transaction():
        rows = ClassRow.select().where(ClassRow.study_id == study_id)
        rows = rows.order_by(fn.COALESCE(ClassRow.position, ClassRow.code), ClassRow.code)
        return [LandClass.model_validate(row) for row in rows]


def get_class(class_id: int) -> LandClass:
    """Raises NotFoundError."""
    return fetch(ClassRow, LandClass, class_id, "The class")


def create_class(
    study_id: int, name: str, colour: str | None, description: str, code: int | None = None
) -> LandClass:
    """Add a class; the lowest free code and a colour that suits its name when none are given.

    Raises
    ------
    DuplicateNameError, BadSettingsError
    """
    get_study(study_id)
    with transaction():
        change = new_class(study_id, list_classes(study_id), name, colour, description, code)
        apply_edit(study_id, f"Add the class {name}", [change])
    return fetch(ClassRow, LandClass, change.id, "The class")


def new_class(
    study_id: int,
    classes: Sequence[LandClass],
    name: str,
    colour: str | None = None,
    description: str = "",
    code: int | None = None,
    parent_id: int | None = None,
) -> Change:
    """What adds a class to those that are there, as part of an edit.

    Raises
    ------
    DuplicateNameError, BadSettingsError. ConflictError : there are as many as there can be.
    """
    if len(classes) >= MOST_CLASSES:
        raise ConflictError(f"A class scheme holds at most {MOST_CLASSES} classes.")
    used = {c.code for c in classes}
    free = next(c for c in count(1) if c not in used and is_class_code(c))
    values = _checked(
        {
            "study_id": study_id,
            "code": code or free,
            "name": name,
            "colour": colour or suggest_colour(name, [c.colour for c in classes]),
            "description": description,
            "parent_id": parent_id,
        },
        classes,
    )
    return Change("class", next_id("class"), None, values)


def update_class(class_id: int, changes: dict[str, Any]) -> LandClass:
    """Change name, code, colour, description or parent; reference points of a class keep to it when
    its code changes.

    Raises
    ------
    NotFoundError, DuplicateNameError, BadSettingsError
    """
    old = fetch(ClassRow, LandClass, class_id, "The class")
    with transaction():
        others = [c for c in list_classes(old.study_id) if c.id != class_id]
        values = _checked(changes, others)
        _require_two_levels([*others, old.model_copy(update=values)])
        if "code" in values and old.position is None:
            values["position"] = old.code  # it keeps its place where the order goes by codes
        before = {key: getattr(old, key) for key in values}
        edits = [Change("class", class_id, before, values)]
        if "code" in values:
            edits += _recode_points(old.study_id, old.code, values["code"])
        apply_edit(old.study_id, f"Change the class {old.name}", edits)
    return fetch(ClassRow, LandClass, class_id, "The class")


def delete_class(class_id: int) -> None:
    """Delete a class and its sites, as one edit that can be undone."""
    old = fetch(ClassRow, LandClass, class_id, "The class")
    with transaction():
        rows = SiteRow.select().where(SiteRow.class_id == class_id)
        sites = [Site.model_validate(row) for row in rows]
        changes = [
            Change("site", s.id, s.model_dump(mode="json", exclude={"id"}), None) for s in sites
        ]
        changes += _without_parent(old)
        row = old.model_dump(exclude={"id"})
        apply_edit(
            old.study_id,
            f"Delete the class {old.name} and its {len(sites)} sites",
            [*changes, Change("class", class_id, row, None)],
        )


def order_classes(study_id: int, class_ids: Sequence[int]) -> list[LandClass]:
    """Put the classes into an order, all of them.

    Raises
    ------
    BadSettingsError : some are missing, or strange.
    """
    with transaction():
        classes = {c.id: c for c in list_classes(study_id)}
        if sorted(class_ids) != sorted(classes):
            raise BadSettingsError("The order must name every class once. Reload, then try again.")
        changes = [
            Change("class", i, {"position": classes[i].position}, {"position": place})
            for place, i in enumerate(class_ids)
        ]
        apply_edit(study_id, "Order the classes", changes)
    return list_classes(study_id)


def merge_classes(class_id: int, into_id: int) -> LandClass:
    """Give all sites and reference points of a class to another one, and delete it; as one edit.

    Raises
    ------
    NotFoundError, BadSettingsError
    """
    with transaction():
        old = fetch(ClassRow, LandClass, class_id, "The class")
        kept = fetch(ClassRow, LandClass, into_id, "The class")
        if old.id == kept.id or old.study_id != kept.study_id:
            raise BadSettingsError("Choose another class of the study to merge it into.")
        rows = SiteRow.select().where(SiteRow.class_id == class_id)
        changes = [
            Change("site", row.id, {"class_id": class_id}, {"class_id": into_id}) for row in rows
        ]
        changes += [*_recode_points(old.study_id, old.code, kept.code), *_without_parent(old)]
        row = old.model_dump(exclude={"id"})
        apply_edit(
            old.study_id,
            f"Merge {old.name} into {kept.name}",
            [*changes, Change("class", class_id, row, None)],
        )
    return fetch(ClassRow, LandClass, into_id, "The class")


def take_scheme(study_id: int, taken: Sequence[TakenClass]) -> tuple[int, int]:
    """Add classes, or give those of the same name the colour, description and parent that are told;
    as one edit. How many were added, and how many were there.

    Codes and colours that are taken give way to free ones.

    Raises
    ------
    NotFoundError, ConflictError, BadSettingsError
    """
    get_study(study_id)
    with transaction():
        there = {c.name.casefold(): c for c in list_classes(study_id)}
        n_before = len(there)
        changes = []
        for one in sorted(taken, key=lambda one: one.parent is not None):  # parents first
            parent = None if one.parent is None else there[one.parent.casefold()].id
            known = there.get(one.name.casefold())
            change = (
                _take_new(study_id, list(there.values()), one, parent)
                if known is None
                else _take_known(known, one, parent)
            )
            changes.append(change)
            there[one.name.casefold()] = changed_class(known, change)
        _require_two_levels(there.values())
        apply_edit(study_id, "Take over a class scheme", changes)
    n_added = len(there) - n_before
    return n_added, len(taken) - n_added


def _take_new(
    study_id: int, there: Sequence[LandClass], one: TakenClass, parent: int | None
) -> Change:
    code = one.code if is_free_code(one.code, there) else None
    return new_class(study_id, there, one.name, one.colour, one.description, code, parent)


def _take_known(known: LandClass, one: TakenClass, parent: int | None) -> Change:
    told = {"colour": one.colour, "description": one.description or None, "parent_id": parent}
    values = {key: value for key, value in told.items() if value is not None}
    return Change("class", known.id, {key: getattr(known, key) for key in values}, values)


def is_free_code(code: int | None, classes: Iterable[LandClass]) -> bool:
    return all(c.code != code for c in classes)


def changed_class(before: LandClass | None, change: Change) -> LandClass:
    """What a change makes of a class, or the class that it adds."""
    told = before.model_dump() if before else {"id": change.id}
    return LandClass.model_validate({**told, **(change.after or {})})


def _require_two_levels(classes: Iterable[LandClass]) -> None:
    """Raises BadSettingsError where a class belongs to a strange one, or to one that belongs to
    another."""
    by_id = {c.id: c for c in classes}
    for c in by_id.values():
        if c.parent_id is None:
            continue
        parent = by_id.get(c.parent_id)
        if parent is None:
            raise BadSettingsError("A class belongs to another class of its study.")
        if parent.parent_id is not None:
            raise BadSettingsError(
                f"{c.name} cannot belong to {parent.name}: there are two levels, and no loops."
            )


def _without_parent(old: LandClass) -> list[Change]:
    """Classes that belong to one that goes stand by themselves."""
    return [
        Change("class", c.id, {"parent_id": old.id}, {"parent_id": None})
        for c in list_classes(old.study_id)
        if c.parent_id == old.id
    ]


def _recode_points(study_id: int, code: int, new_code: int) -> list[Change]:
    rows = PointRow.select().where(PointRow.study_id == study_id, PointRow.class_code == code)
    return [Change("point", row.id, {"class_code": code}, {"class_code": new_code}) for row in rows]


def _checked(values: dict[str, Any], others: Sequence[LandClass]) -> dict[str, Any]:
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
