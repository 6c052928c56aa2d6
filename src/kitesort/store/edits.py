"""Every change to classes, sites, notes, layers, presets: an edit, undone and redone."""

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from typing import Any, Literal

from pydantic_core import to_jsonable_python

from kitesort.core.errors import EditedElsewhereError, NotFoundError, NothingToUndoError
from kitesort.store.asker import asking_window
from kitesort.store.database import db, transaction
from kitesort.store.models import (
    ClassifierRow,
    ClassRow,
    EditRow,
    LayerRow,
    NoteRow,
    PresetRow,
    SiteRow,
    Table,
)
from kitesort.store.news import announce

Entity = Literal["class", "site", "note", "layer", "preset", "classifier"]
TABLES: dict[str, type[Table]] = {
    "class": ClassRow,
    "site": SiteRow,
    "note": NoteRow,
    "layer": LayerRow,
    "preset": PresetRow,
    "classifier": ClassifierRow,
}
KEPT_EDITS = 500
EDIT_LOCK = 7463


@dataclass(frozen=True)
class Change:
    """One row before and after; None for not there. Only columns that differ need be given."""

    entity: Entity
    id: int
    before: dict[str, Any] | None
    after: dict[str, Any] | None


@dataclass(frozen=True)
class EditState:
    """What undo and redo would do next, in words, and the edits that they mean; None when there is
    nothing."""

    undo: str | None
    redo: str | None
    undo_id: int | None
    redo_id: int | None


def next_id(entity: Entity) -> int:
    table = TABLES[entity]._meta.table_name
    row = db.execute_sql(f"SELECT nextval(pg_get_serial_sequence('{table}', 'id'))").fetchone()
    return int(row[0])


def apply_edit(study_id: int, title: str, changes: list[Change]) -> None:
    """Make the changes and remember them; what had been undone before is forgotten. Where nothing
    is to be changed, nothing is remembered."""
    changes = [change for change in changes if change.after != {}]
    if not changes:
        return
    with _one_at_a_time(study_id):
        changes = [_from_what_is_there(change) for change in changes]
        for change in changes:
            _set_row(change.entity, change.id, change.after)
        EditRow.delete().where(EditRow.study_id == study_id, EditRow.undone).execute()
        row = EditRow.create(
            study_id=study_id, title=title, changes=[change.__dict__ for change in changes]
        )
        oldest = (
            EditRow.select(EditRow.id)
            .where(EditRow.study_id == study_id)
            .order_by(EditRow.id.desc())
            .offset(KEPT_EDITS)
        )
        EditRow.delete().where(EditRow.id.in_(oldest)).execute()
        _announce(row, "done")


def undo(study_id: int, expected: int | None = None) -> EditState:
    """Take back the newest edit, if it is the one that is expected.

    Raises
    ------
    NothingToUndoError. EditedElsewhereError : another one came between.
    """
    with _one_at_a_time(study_id):
        edit = _require(_newest(study_id), expected, "undo")
        for change in reversed(edit.changes):
            _set_row(change["entity"], change["id"], change["before"])
        EditRow.update(undone=True).where(EditRow.id == edit.id).execute()
        _announce(edit, "undone")
        return edit_state(study_id)


def redo(study_id: int, expected: int | None = None) -> EditState:
    """Make the edit again that was undone last, if it is the one that is expected.

    Raises
    ------
    NothingToUndoError. EditedElsewhereError : another one came between.
    """
    with _one_at_a_time(study_id):
        edit = _require(_oldest_undone(study_id), expected, "redo")
        for change in edit.changes:
            _set_row(change["entity"], change["id"], change["after"])
        EditRow.update(undone=False).where(EditRow.id == edit.id).execute()
        _announce(edit, "done again")
        return edit_state(study_id)


def _require(edit: Any, expected: int | None, act: str) -> Any:
    if edit is None and expected is None:
        raise NothingToUndoError(f"There is nothing to {act}.")
    if edit is None or expected not in (None, edit.id):
        now = f"; next comes “{edit.title}”" if edit else ""
        raise EditedElsewhereError(
            f"The study was changed in another window meanwhile{now}. Nothing was changed now; "
            f"look at it, then {act} again."
        )
    return edit


def forget_edits(study_id: int) -> None:
    """Make what there is the beginning, so that undo does not reach behind it."""
    with transaction():
        EditRow.delete().where(EditRow.study_id == study_id).execute()


def edit_state(study_id: int) -> EditState:
    with transaction():
        newest, undone = _newest(study_id), _oldest_undone(study_id)
    return EditState(
        newest.title if newest else None,
        undone.title if undone else None,
        newest.id if newest else None,
        undone.id if undone else None,
    )


def _newest(study_id: int) -> Any:
    query = EditRow.select().where(EditRow.study_id == study_id, ~EditRow.undone)
    return query.order_by(EditRow.id.desc()).first()


def _oldest_undone(study_id: int) -> Any:
    query = EditRow.select().where(EditRow.study_id == study_id, EditRow.undone)
    return query.order_by(EditRow.id).first()


@contextmanager
def _one_at_a_time(study_id: int) -> Iterator[None]:
    """A transaction in which nobody else edits the study: what is there before is what is told."""
    with transaction():
        db.execute_sql("SELECT pg_advisory_xact_lock(%s, %s::int)", (EDIT_LOCK, study_id))
        yield


def _from_what_is_there(change: Change) -> Change:
    """The change, starting from what the row holds now: it may have been changed elsewhere since
    it was read.

    Raises
    ------
    NotFoundError : it has gone meanwhile.
    """
    if change.before is None:
        return change
    table = TABLES[change.entity]
    columns = [getattr(table, name) for name in change.before]
    row = table.select(*columns).where(table.id == change.id).dicts().first()
    if row is None:
        raise NotFoundError("It was removed meanwhile. Reload to see what there is.")
    return replace(change, before=to_jsonable_python(row))


def _set_row(entity: str, row_id: int, values: dict[str, Any] | None) -> None:
    table = TABLES[entity]
    if values is None:
        table.delete().where(table.id == row_id).execute()
    elif not table.update(values).where(table.id == row_id).execute():
        table.insert(values | {"id": row_id}).execute()


def _announce(edit: Any, act: str) -> None:
    announce(
        "edit", study_id=edit.study_id, edit_id=edit.id, title=edit.title, act=act,
        window=asking_window.get(),
    )  # fmt: skip
