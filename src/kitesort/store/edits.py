"""Every change to classes, sites, notes, layers, presets: an edit, undone and redone."""

import json
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from itertools import groupby
from typing import Any, Literal

from peewee import chunked
from pydantic_core import to_jsonable_python

from kitesort.core.errors import EditedElsewhereError, NotFoundError, NothingToUndoError
from kitesort.store.asker import asking_window
from kitesort.store.database import db, transaction
from kitesort.store.models import (
    ClassifierRow,
    ClassRow,
    ClusterNameRow,
    EditRow,
    LayerRow,
    NoteRow,
    PointRow,
    PresetRow,
    SiteRow,
    Table,
)
from kitesort.store.news import announce

Entity = Literal["class", "site", "point", "note", "layer", "preset", "classifier", "cluster name"]
TABLES: dict[str, type[Table]] = {
    "class": ClassRow,
    "site": SiteRow,
    "point": PointRow,
    "note": NoteRow,
    "layer": LayerRow,
    "preset": PresetRow,
    "classifier": ClassifierRow,
    "cluster name": ClusterNameRow,
}
KEPT_EDITS = 500
EDIT_LOCK = 7463
AT_ONCE = 5000  # rows in one statement


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
    return next_ids(entity, 1)[0]


def next_ids(entity: Entity, n: int) -> list[int]:
    """So many ids that nobody else gets."""
    table = TABLES[entity]._meta.table_name
    asked = f"SELECT nextval(pg_get_serial_sequence('{table}', 'id')) FROM generate_series(1, %s)"
    return [int(row[0]) for row in db.execute_sql(asked, (n,)).fetchall()]


def texts_in_edits(entity: Entity, column: str) -> set[str]:
    """What a column holds before or after any edit that is remembered."""
    found = db.execute_sql(
        "SELECT DISTINCT one -> side ->> %s FROM edit,"
        " jsonb_path_query(changes, '$[*] ? (@.entity == $entity)', %s::jsonb) AS one,"
        " (VALUES ('before'), ('after')) AS sides (side)",
        (column, json.dumps({"entity": entity})),
    )
    return {text for (text,) in found.fetchall() if text is not None}


def apply_edit(study_id: int, title: str, changes: list[Change]) -> None:
    """Make the changes and remember them; what had been undone before is forgotten. Where nothing
    is to be changed, nothing is remembered."""
    changes = [change for change in changes if change.after != {}]
    if not changes:
        return
    with _one_at_a_time(study_id):
        changes = _from_what_is_there(changes)
        _set_rows([_Step(c.entity, c.id, c.before, c.after) for c in changes])
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
        _set_rows(
            [_Step(c["entity"], c["id"], c["after"], c["before"]) for c in reversed(edit.changes)]
        )
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
        _set_rows([_Step(c["entity"], c["id"], c["before"], c["after"]) for c in edit.changes])
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
    """Asked for after every edit: not with the rows that edits have changed."""
    brief = (EditRow.id, EditRow.title)
    with transaction():
        newest, undone = _newest(study_id, *brief), _oldest_undone(study_id, *brief)
    return EditState(
        newest.title if newest else None,
        undone.title if undone else None,
        newest.id if newest else None,
        undone.id if undone else None,
    )


def _newest(study_id: int, *columns: Any) -> Any:
    query = EditRow.select(*columns).where(EditRow.study_id == study_id, ~EditRow.undone)
    return query.order_by(EditRow.id.desc()).first()


def _oldest_undone(study_id: int, *columns: Any) -> Any:
    query = EditRow.select(*columns).where(EditRow.study_id == study_id, EditRow.undone)
    return query.order_by(EditRow.id).first()


@contextmanager
def _one_at_a_time(study_id: int) -> Iterator[None]:
    """A transaction in which nobody else edits the study: what is there before is what is told."""
    with transaction():
        db.execute_sql("SELECT pg_advisory_xact_lock(%s, %s::int)", (EDIT_LOCK, study_id))
        yield


def _from_what_is_there(changes: list[Change]) -> list[Change]:
    """The changes, starting from what the rows hold now: they may have been changed elsewhere since
    they were read.

    Raises
    ------
    NotFoundError : one has gone meanwhile.
    """
    wanted: dict[str, list[int]] = {}
    for change in changes:
        if change.before is not None:
            wanted.setdefault(change.entity, []).append(change.id)
    rows = {entity: _rows_of(TABLES[entity], ids) for entity, ids in wanted.items()}
    return [
        change if change.before is None else replace(change, before=_before(change, rows))
        for change in changes
    ]


def _rows_of(table: type[Table], ids: list[int]) -> dict[int, dict[str, Any]]:
    found: dict[int, dict[str, Any]] = {}
    for some in chunked(ids, AT_ONCE):
        rows: Any = table.select().where(table.id.in_(some)).dicts()
        found |= {row["id"]: row for row in rows}
    return found


def _before(change: Change, rows: dict[str, dict[int, dict[str, Any]]]) -> dict[str, Any]:
    row = rows[change.entity].get(change.id)
    if row is None:
        raise NotFoundError("It was removed meanwhile. Reload to see what there is.")
    told: dict[str, Any] = to_jsonable_python({name: row[name] for name in change.before or {}})
    return told


@dataclass(frozen=True)
class _Step:
    """A row and its columns, from what they are to what they shall be; None for not there."""

    entity: str
    id: int
    now: dict[str, Any] | None
    wanted: dict[str, Any] | None

    @property
    def kind(self) -> tuple[str, str, tuple[str, ...]]:
        """Rows of one kind go into one statement: they name the same columns."""
        act = "take out" if self.wanted is None else "put in" if self.now is None else "change"
        return self.entity, act, tuple(sorted(self.wanted or ()))


def _set_rows(steps: list[_Step]) -> None:
    """In their order; many of a kind one after the other are written at once, each row once."""
    for (entity, act, _), group in groupby(steps, key=lambda step: step.kind):
        table = TABLES[entity]
        for some in _each_once(group):
            if act == "take out":
                table.delete().where(table.id.in_([step.id for step in some])).execute()
            else:
                _write_rows(table, act, [{**(s.wanted or {}), "id": s.id} for s in some])


def _each_once(steps: Iterable[_Step]) -> Iterator[list[_Step]]:
    """Pieces of at most so many, in none of which a row comes twice."""
    piece: dict[int, _Step] = {}
    for step in steps:
        if step.id in piece or len(piece) == AT_ONCE:
            yield list(piece.values())
            piece = {}
        piece[step.id] = step
    if piece:
        yield list(piece.values())


def _write_rows(table: type[Table], act: str, rows: list[dict[str, Any]]) -> None:
    """Put rows in, or change them, in one statement with one parameter: the rows as JSON."""
    name = table._meta.table_name
    quoted = [f'"{table._meta.fields[field].column_name}"' for field in rows[0]]
    given = f"jsonb_populate_recordset(NULL::{name}, %s::jsonb) AS given"
    if act == "put in":
        listed = ", ".join(quoted)
        statement = f"INSERT INTO {name} ({listed}) SELECT {listed} FROM {given}"
    else:
        changes = ", ".join(f"{one} = given.{one}" for one in quoted if one != '"id"')
        statement = f"UPDATE {name} SET {changes} FROM {given} WHERE {name}.id = given.id"
    db.execute_sql(statement, (json.dumps(to_jsonable_python(rows)),))


def _announce(edit: Any, act: str) -> None:
    announce(
        "edit", study_id=edit.study_id, edit_id=edit.id, title=edit.title, act=act,
        window=asking_window.get(),
    )  # fmt: skip
