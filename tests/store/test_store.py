"""Studies, the class scheme, sites, undo and redo, runs: on a real PostgreSQL."""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor

import pytest

from kitesort.core.errors import (
    BadSettingsError,
    ConflictError,
    DuplicateNameError,
    NotFoundError,
    NothingToUndoError,
)
from kitesort.store import edits, runs, scheme, sites, studies
from kitesort.store.database import migrate
from kitesort.store.edits import edit_state, redo, undo
from support.small_scene import GOOD_SITES, rectangle
from support.study import SmallStudy, map_order


def snapshot(study_id: int) -> object:
    return scheme.list_classes(study_id), sites.list_sites(study_id)


def test_migrations_are_applied_once(store: str) -> None:
    assert store
    assert migrate() == []


def test_study_names_are_unique(store: str) -> None:
    assert store
    studies.create_study("Small study")
    with pytest.raises(DuplicateNameError, match="Small study"):
        studies.create_study("Small study")
    other = studies.create_study("Another")
    with pytest.raises(DuplicateNameError):
        studies.update_study(other.id, name="Small study")
    assert studies.get_study(other.id).name == "Another"


def test_view_is_found_again(small_study: SmallStudy) -> None:
    studies.update_study(small_study.id, view={"panes": [1, {"a": None}]})
    assert studies.get_study(small_study.id).view == {"panes": [1, {"a": None}]}


def test_what_is_not_there_says_so(store: str) -> None:
    assert store
    with pytest.raises(NotFoundError, match="not there any more"):
        studies.get_study(10**6)


@pytest.mark.parametrize("name", ["Water", "water", "  WATER ", "Wa\tter".replace("\t", "")])
def test_two_classes_cannot_share_a_name(small_study: SmallStudy, name: str) -> None:
    with pytest.raises(DuplicateNameError, match="Choose another name"):
        scheme.create_class(small_study.id, name, None, "")
    with pytest.raises(DuplicateNameError):
        scheme.update_class(small_study.class_ids[2], {"name": name})
    assert len(scheme.list_classes(small_study.id)) == 4


def test_a_class_keeps_its_own_name(small_study: SmallStudy) -> None:
    changed = scheme.update_class(small_study.class_ids[1], {"name": "water"})
    assert changed.name == "water"


@pytest.mark.parametrize("colour", ["red", "#12345", "#12345g", "", "#1234567"])
def test_colours_are_hexadecimal(small_study: SmallStudy, colour: str) -> None:
    with pytest.raises(BadSettingsError, match="colour"):
        scheme.update_class(small_study.class_ids[1], {"colour": colour})


def test_a_class_needs_a_name(small_study: SmallStudy) -> None:
    with pytest.raises(BadSettingsError, match="needs a name"):
        scheme.create_class(small_study.id, "   ", None, "")


def test_new_class_takes_lowest_free_code_and_a_free_colour(small_study: SmallStudy) -> None:
    scheme.delete_class(small_study.class_ids[2])
    made = scheme.create_class(small_study.id, "Reed", None, "")
    assert made.code == 2
    assert made.colour not in {c.colour for c in scheme.list_classes(small_study.id) if c != made}


def delete_class(s: SmallStudy) -> None:
    scheme.delete_class(s.class_ids[3])


def rename_class(s: SmallStudy) -> None:
    scheme.update_class(s.class_ids[3], {"name": "Meadow", "colour": "#123456"})


def add_site(s: SmallStudy) -> None:
    sites.create_sites(s.id, [(s.class_ids[1], rectangle(1, 30, 3, 3), "near the edge")])


def reshape_site(s: SmallStudy) -> None:
    sites.update_site(s.site_ids[1], {"geometry": rectangle(2, 30, 5, 5)})


def move_site(s: SmallStudy) -> None:
    sites.update_site(s.site_ids[1], {"class_id": s.class_ids[2]})


def delete_site(s: SmallStudy) -> None:
    sites.delete_site(s.site_ids[4])


EDITS = [delete_class, rename_class, add_site, reshape_site, move_site, delete_site]


@pytest.mark.parametrize("edit", EDITS)
def test_every_edit_can_be_undone_and_redone(
    small_study: SmallStudy, edit: Callable[[SmallStudy], None]
) -> None:
    before = snapshot(small_study.id)
    edit(small_study)
    after = snapshot(small_study.id)
    assert after != before
    state = undo(small_study.id)
    assert snapshot(small_study.id) == before
    assert state.redo
    redo(small_study.id)
    assert snapshot(small_study.id) == after


def test_a_row_of_edits_goes_back_and_forth_step_by_step(small_study: SmallStudy) -> None:
    states = [snapshot(small_study.id)]
    for edit in (add_site, rename_class, reshape_site, move_site):
        edit(small_study)
        states.append(snapshot(small_study.id))
    for expected in states[-2::-1]:
        undo(small_study.id)
        assert snapshot(small_study.id) == expected
    with pytest.raises(NothingToUndoError):
        undo(small_study.id)
    for expected in states[1:]:
        redo(small_study.id)
        assert snapshot(small_study.id) == expected
    with pytest.raises(NothingToUndoError):
        redo(small_study.id)


def test_a_new_edit_forgets_what_was_undone(small_study: SmallStudy) -> None:
    add_site(small_study)
    undo(small_study.id)
    rename_class(small_study)
    assert edit_state(small_study.id).redo is None


def test_edits_of_one_study_leave_the_others_alone(small_study: SmallStudy) -> None:
    other = studies.create_study("Other")
    scheme.create_class(other.id, "Heath", None, "")
    add_site(small_study)
    undo(other.id)
    assert scheme.list_classes(other.id) == []
    assert len(sites.list_sites(small_study.id)) == 5


def test_the_list_of_edits_does_not_grow_without_end(
    small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(edits, "KEPT_EDITS", 3)
    for i in range(5):
        sites.update_site(small_study.site_ids[1], {"note": str(i)})
    for expected in ("3", "2", "1"):
        undo(small_study.id)
        assert sites.get_site(small_study.site_ids[1]).note == expected
    with pytest.raises(NothingToUndoError):
        undo(small_study.id)


def test_deleting_a_class_takes_its_sites_and_undo_brings_them_back(
    small_study: SmallStudy,
) -> None:
    scheme.delete_class(small_study.class_ids[3])
    assert {s.class_id for s in sites.list_sites(small_study.id)} == {
        small_study.class_ids[code] for code in (1, 2, 4)
    }
    undo(small_study.id)
    assert sites.get_site(small_study.site_ids[3]).geometry == GOOD_SITES[3]


def test_site_of_an_unknown_class_is_refused(small_study: SmallStudy) -> None:
    with pytest.raises(NotFoundError, match="The class"):
        sites.create_sites(small_study.id, [(10**6, GOOD_SITES[1], "")])
    with pytest.raises(NotFoundError, match="The class"):
        sites.update_site(small_study.site_ids[1], {"class_id": 10**6})


def test_many_threads_at_once_lose_nothing(small_study: SmallStudy) -> None:
    """Connections belong to store functions, not to threads of the server."""

    def draw(i: int) -> int:
        place = rectangle(1 + i % 40, 20 + i // 40, 3, 3)
        (made,) = sites.create_sites(small_study.id, [(small_study.class_ids[1], place, "")])
        return made.id

    with ThreadPoolExecutor(12) as pool:
        ids = list(pool.map(draw, range(60)))
    assert len(set(ids)) == 60
    assert len(sites.list_sites(small_study.id)) == 64


def a_run(s: SmallStudy) -> int:
    return runs.create_run(
        s.id,
        "Classifying",
        "map",
        map_order(s),
    ).id


def test_run_goes_from_waiting_to_done(small_study: SmallStudy) -> None:
    run_id = a_run(small_study)
    started = runs.start_run(run_id)
    assert started is not None
    assert started.state == "running"
    assert not runs.report_progress(run_id, 40.0, 3.5)
    runs.fail_run(run_id, "The disk is full.")
    run = runs.get_run(run_id)
    assert (run.state, run.problem) == ("failed", "The disk is full.")
    assert run.finished_at is not None
    assert runs.start_run(run_id) is None, "what has ended does not start again"


def test_waiting_run_is_cancelled_at_once(small_study: SmallStudy) -> None:
    run_id = a_run(small_study)
    assert runs.request_cancel(run_id).state == "cancelled"
    assert runs.start_run(run_id) is None
    with pytest.raises(ConflictError, match="ended already"):
        runs.request_cancel(run_id)


def test_running_run_is_told_at_its_next_step(small_study: SmallStudy) -> None:
    run_id = a_run(small_study)
    runs.start_run(run_id)
    assert runs.request_cancel(run_id).state == "running"
    assert runs.report_progress(run_id, 10, None)


def test_interrupted_run_waits_again_and_is_given_up_after_three(small_study: SmallStudy) -> None:
    run_id = a_run(small_study)
    for _ in range(runs.MAX_ATTEMPTS - 1):
        runs.start_run(run_id)
        assert runs.take_interrupted() == [run_id]
        assert runs.get_run(run_id).state == "waiting"
    runs.start_run(run_id)
    assert runs.take_interrupted() == []
    run = runs.get_run(run_id)
    assert run.state == "failed"
    assert "interrupted three times" in (run.problem or "")


def test_interrupted_run_that_was_to_be_cancelled_is(small_study: SmallStudy) -> None:
    run_id = a_run(small_study)
    runs.start_run(run_id)
    runs.request_cancel(run_id)
    assert runs.take_interrupted() == []
    assert runs.get_run(run_id).state == "cancelled"
