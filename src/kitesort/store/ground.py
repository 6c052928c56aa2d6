"""Sites of others and the classes that they need, put into a study as one edit."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from kitesort.core.errors import NotFoundError
from kitesort.store.database import transaction
from kitesort.store.edits import Change, apply_edit, next_ids
from kitesort.store.records import LandClass
from kitesort.store.scheme import changed_class, is_free_code, list_classes, new_class


@dataclass(frozen=True)
class WantedClass:
    """The class that a value stands for: one that is there (``class_id``), or a new one; a code or
    colour that is taken, or none, gives way to a free one."""

    class_id: int | None
    name: str = ""
    code: int | None = None
    colour: str | None = None


@dataclass(frozen=True)
class GivenSite:
    value: str
    geometry: dict[str, Any]
    note: str
    true_on: date | None


def add_ground(
    study_id: int, title: str, wanted: Mapping[str, WantedClass], sites: Sequence[GivenSite]
) -> list[int]:
    """Add sites, each of the class that its value stands for, and the classes that are new; the
    ids of the sites. All of it, or nothing.

    Raises
    ------
    NotFoundError, DuplicateNameError, ConflictError, BadSettingsError
    """
    with transaction():
        classes, ids = _classes(study_id, wanted)
        changes = [
            Change(
                "site",
                site_id,
                None,
                {
                    "study_id": study_id,
                    "class_id": ids[site.value],
                    "geometry": site.geometry,
                    "note": site.note,
                    "true_on": site.true_on and site.true_on.isoformat(),
                },
            )
            for site_id, site in zip(next_ids("site", len(sites)), sites, strict=True)
        ]
        apply_edit(study_id, title, [*classes, *changes])
    return [change.id for change in changes]


def _classes(
    study_id: int, wanted: Mapping[str, WantedClass]
) -> tuple[list[Change], dict[str, int]]:
    """What adds the new classes, and the class of each value."""
    there = list_classes(study_id)
    known = {c.id for c in there}
    added: list[Change] = []
    ids: dict[str, int] = {}
    for value, one in wanted.items():
        if one.class_id is None:
            change = _new(study_id, there, one)
            added.append(change)
            there = [*there, changed_class(None, change)]
            ids[value] = change.id
        elif one.class_id in known:
            ids[value] = one.class_id
        else:
            raise NotFoundError("A class was removed meanwhile. Choose the classes again.")
    return added, ids


def _new(study_id: int, there: Sequence[LandClass], one: WantedClass) -> Change:
    code = one.code if is_free_code(one.code, there) else None
    colour = one.colour if all(c.colour != one.colour for c in there) else None
    return new_class(study_id, there, one.name, colour, "", code)
