"""Notes pinned to places."""

from kitesort.api.look_schemas import NoteCreate, NoteOut, NotePatch
from kitesort.api.routes import api_router
from kitesort.api.schemas import Id
from kitesort.store import notes
from kitesort.store.records import Note
from kitesort.store.studies import get_study

router = api_router("notes")


@router.get("/studies/{study_id}/notes")
def get_notes(study_id: Id) -> list[NoteOut]:
    get_study(study_id)
    return [_note_out(note) for note in notes.list_notes(study_id)]


@router.post("/studies/{study_id}/notes", status_code=201)
def add_note(study_id: Id, body: NoteCreate) -> NoteOut:
    return _note_out(notes.add_note(study_id, body.x, body.y, body.text))


@router.patch("/notes/{note_id}")
def change_note(note_id: Id, body: NotePatch) -> NoteOut:
    return _note_out(notes.change_note(note_id, body.text))


@router.delete("/notes/{note_id}", status_code=204)
def remove_note(note_id: Id) -> None:
    notes.remove_note(note_id)


def _note_out(note: Note) -> NoteOut:
    return NoteOut.model_validate(note, from_attributes=True)
