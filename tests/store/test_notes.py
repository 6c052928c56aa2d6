"""Notes pinned to places, and that every change of them can be taken back."""

import math

import pytest

from kitesort.core.errors import BadSettingsError, NotFoundError
from kitesort.store.edits import edit_state, redo, undo
from kitesort.store.notes import add_note, change_note, list_notes, remove_note
from kitesort.store.studies import create_study
from support.study import SmallStudy


def words(study_id: int) -> list[str]:
    return [note.text for note in list_notes(study_id)]


def test_notes_belong_to_their_study(small_study: SmallStudy) -> None:
    other = create_study("Other")
    add_note(small_study.id, 1, 2, "here")
    add_note(other.id, 3, 4, "there")
    assert words(small_study.id) == ["here"] and words(other.id) == ["there"]


def test_every_change_can_be_undone_and_redone(small_study: SmallStudy) -> None:
    note = add_note(small_study.id, 1, 2, "first")
    change_note(note.id, "second")
    remove_note(note.id)
    assert words(small_study.id) == []
    assert edit_state(small_study.id).undo == "Remove a note"
    seen = []
    for _ in range(3):
        undo(small_study.id)
        seen.append(words(small_study.id))
    assert seen == [["second"], ["first"], []]
    for _ in range(2):
        redo(small_study.id)
    (back,) = list_notes(small_study.id)
    assert (back.id, back.x, back.y, back.text) == (note.id, 1, 2, "second")


@pytest.mark.parametrize(("x", "y"), [(math.nan, 1), (1, math.inf)])
def test_note_without_a_place_is_refused(small_study: SmallStudy, x: float, y: float) -> None:
    with pytest.raises(BadSettingsError, match="no coordinates"):
        add_note(small_study.id, x, y, "somewhere")


def test_note_without_words_is_refused(small_study: SmallStudy) -> None:
    with pytest.raises(BadSettingsError, match="words"):
        add_note(small_study.id, 1, 2, " \n ")
    note = add_note(small_study.id, 1, 2, "words")
    with pytest.raises(BadSettingsError, match="words"):
        change_note(note.id, "")
    assert words(small_study.id) == ["words"]


def test_note_that_is_gone_is_told(store: str) -> None:
    assert store
    for act in (lambda: change_note(1, "a"), lambda: remove_note(1)):
        with pytest.raises(NotFoundError, match="note is not there"):
            act()
    with pytest.raises(NotFoundError, match="study"):
        add_note(10**6, 1, 2, "nowhere")
