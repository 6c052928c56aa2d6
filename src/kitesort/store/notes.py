"""Notes pinned to places; every change of them can be undone."""

import math

from kitesort.core.errors import BadSettingsError
from kitesort.store.database import transaction
from kitesort.store.edits import Change, apply_edit, next_id
from kitesort.store.models import NoteRow
from kitesort.store.records import Note
from kitesort.store.studies import fetch, get_study

WHAT = "The note"


def list_notes(study_id: int) -> list[Note]:
    with transaction():
        rows = NoteRow.select().where(NoteRow.study_id == study_id).order_by(NoteRow.id)
        return [Note.model_validate(row) for row in rows]


def add_note(study_id: int, x: float, y: float, text: str) -> Note:
    """Pin words to a place in the study's CRS.

    Raises
    ------
    NotFoundError, BadSettingsError : no words, or no place.
    """
    get_study(study_id)
    if not (math.isfinite(x) and math.isfinite(y)):
        raise BadSettingsError("The place of the note has no coordinates.")
    values = {"study_id": study_id, "x": x, "y": y, "text": _words(text)}
    with transaction():
        row_id = next_id("note")
        apply_edit(study_id, "Pin a note", [Change("note", row_id, None, values)])
    return fetch(NoteRow, Note, row_id, WHAT)


def change_note(note_id: int, text: str) -> Note:
    old = fetch(NoteRow, Note, note_id, WHAT)
    change = Change("note", note_id, {"text": old.text}, {"text": _words(text)})
    apply_edit(old.study_id, "Change a note", [change])
    return fetch(NoteRow, Note, note_id, WHAT)


def remove_note(note_id: int) -> None:
    old = fetch(NoteRow, Note, note_id, WHAT)
    row = old.model_dump(include={"study_id", "x", "y", "text"})
    apply_edit(old.study_id, "Remove a note", [Change("note", note_id, row, None)])


def _words(text: str) -> str:
    words = text.strip()
    if not words:
        raise BadSettingsError("A note needs some words.")
    return words
