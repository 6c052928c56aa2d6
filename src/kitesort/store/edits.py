"""Every change to classes, sites, notes, layers, scenes, presets: an edit, undone and redone."""

from dataclasses import dataclass
from typing import Any, Literal

from kitesort.core.errors import NothingToUndoError
from kitesort.store.database import db, transaction
from kitesort.store.models import (
    ClassRow,
    EditRow,
    LayerRow,
    NoteRow,
    PresetRow,
    SceneRow,
    SiteRow,
    Table,
)

Entity = Literal["class", "site", "note", "layer", "scene", "preset"]
TABLES: dict[str, type[Table]] = {
    "class": ClassRow,
    "site": SiteRow,
    "note": NoteRow,
    "layer": LayerRow,
    "scene": SceneRow,
    "preset": PresetRow,
}
KEPT_EDITS = 500


@dataclass(frozen=True)
class Change:
    """One row before and after; None for not there. Only columns that differ need be given."""

    entity: Entity
    id: int
    before: dict[str, Any] | None
    after: dict[str, Any] | None


@dataclass(frozen=True)
class EditState:
    """What undo and redo would do next, in words; None when there is nothing."""

    undo: str | None
    redo: str | None


def next_id(entity: Entity) -> int:
    table = TABLES[entity]._meta.table_name
    row = db.execute_sql(f"SELECT nextval(pg_get_serial_sequence('{table}', 'id'))").fetchone()
    return int(row[0])


def apply_edit(study_id: int, title: str, changes: list[Change]) -> None:
    """Make the changes and remember them; what had been undone before is forgotten."""
    with transaction():
        for change in changes:
            _set_row(change.entity, change.id, change.after)
        EditRow.delete().where(EditRow.study_id == study_id, EditRow.undone).execute()
        EditRow.create(
            study_id=study_id, title=title, changes=[change.__dict__ for change in changes]
        )
        oldest = (
            EditRow.select(EditRow.id)
            .where(EditRow.study_id == study_id)
            .order_by(EditRow.id.desc())
            .offset(KEPT_EDITS)
        )
        EditRow.delete().where(EditRow.id.in_(oldest)).execute()


def undo(study_id: int) -> EditState:
    """Take back the newest edit.

    Raises
    ------
    NothingToUndoError
    """
    with transaction():
        edit = _newest(study_id)
        if edit is None:
            raise NothingToUndoError("There is nothing to undo.")
        for change in reversed(edit.changes):
            _set_row(change["entity"], change["id"], change["before"])
        EditRow.update(undone=True).where(EditRow.id == edit.id).execute()
        return edit_state(study_id)


def redo(study_id: int) -> EditState:
    """Make the edit again that was undone last.

    Raises
    ------
    NothingToUndoError
    """
    with transaction():
        edit = _oldest_undone(study_id)
        if edit is None:
            raise NothingToUndoError("There is nothing to redo.")
        for change in edit.changes:
            _set_row(change["entity"], change["id"], change["after"])
        EditRow.update(undone=False).where(EditRow.id == edit.id).execute()
        return edit_state(study_id)


def forget_edits(study_id: int) -> None:
    """Make what there is the beginning, so that undo does not reach behind it."""
    with transaction():
        EditRow.delete().where(EditRow.study_id == study_id).execute()


def edit_state(study_id: int) -> EditState:
    with transaction():
        newest, undone = _newest(study_id), _oldest_undone(study_id)
    return EditState(newest.title if newest else None, undone.title if undone else None)


def _newest(study_id: int) -> Any:
    query = EditRow.select().where(EditRow.study_id == study_id, ~EditRow.undone)
    return query.order_by(EditRow.id.desc()).first()


def _oldest_undone(study_id: int) -> Any:
    query = EditRow.select().where(EditRow.study_id == study_id, EditRow.undone)
    return query.order_by(EditRow.id).first()


def _set_row(entity: str, row_id: int, values: dict[str, Any] | None) -> None:
    table = TABLES[entity]
    if values is None:
        table.delete().where(table.id == row_id).execute()
    elif not table.update(values).where(table.id == row_id).execute():
        table.insert(values | {"id": row_id}).execute()
