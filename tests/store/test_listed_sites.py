"""Listing sites after an edit reads what has changed, and is always what stands in the database."""

from typing import Any

import pytest

from kitesort.core.newest import Newest
from kitesort.store import sites as store_sites
from kitesort.store.database import transaction
from kitesort.store.edits import redo, undo
from kitesort.store.models import SiteRow
from kitesort.store.records import Site
from kitesort.store.sites import create_sites, delete_site, get_site, list_sites, update_site
from support.study import SmallStudy


def as_they_are(study_id: int) -> tuple[Site, ...]:
    with transaction():
        ids = SiteRow.select(SiteRow.id).where(SiteRow.study_id == study_id).order_by(SiteRow.id)
        return tuple(get_site(row.id) for row in ids)


@pytest.fixture
def n_read(monkeypatch: pytest.MonkeyPatch) -> list[int]:
    """How many rows each reading brought."""
    found: list[int] = []
    plain = store_sites._read_rows

    def count(wanted: Any) -> Any:
        rows = plain(wanted)
        found.append(len(rows))
        return rows

    monkeypatch.setattr(store_sites, "_read_rows", count)
    return found


def test_only_rows_that_changed_are_read(small_study: SmallStudy, n_read: list[int]) -> None:
    s = small_study
    first = list_sites(s.id)
    assert first == as_they_are(s.id)
    n_read.clear()
    again = list_sites(s.id)
    assert [a is b for a, b in zip(first, again, strict=True)] == [True] * len(first)
    assert n_read == []
    changed = update_site(first[1].id, {"note": "wet"})
    assert list_sites(s.id) == as_they_are(s.id)
    assert list_sites(s.id)[1] == changed and n_read == [1]
    (drawn,) = create_sites(s.id, [(first[0].class_id, first[0].geometry, "")])
    assert list_sites(s.id)[-1] == drawn and n_read == [1, 1]


def test_every_edit_and_its_undoing_is_seen(small_study: SmallStudy) -> None:
    s = small_study
    ids = [site.id for site in list_sites(s.id)]
    acts = [
        lambda: update_site(ids[0], {"note": "wet"}),
        lambda: update_site(ids[0], {"note": "wetter"}),
        lambda: delete_site(ids[2]),
        lambda: undo(s.id),
        lambda: undo(s.id),
        lambda: redo(s.id),
        lambda: undo(s.id),
        lambda: undo(s.id),
    ]
    for act in acts:
        act()
        assert list_sites(s.id) == as_they_are(s.id)
    assert [site.note for site in list_sites(s.id)] == [""] * len(ids)


def test_changes_within_one_transaction_and_those_taken_back_are_seen(
    small_study: SmallStudy,
) -> None:
    s = small_study
    site = list_sites(s.id)[0]
    with pytest.raises(ZeroDivisionError), transaction():
        for note in ("one", "two"):
            update_site(site.id, {"note": note})
            assert list_sites(s.id)[0].note == note
        raise ZeroDivisionError
    assert list_sites(s.id)[0] == site
    update_site(site.id, {"note": "three"})
    assert list_sites(s.id) == as_they_are(s.id)


def test_a_list_says_by_its_version_when_it_is_another_one(small_study: SmallStudy) -> None:
    s = small_study
    first = list_sites(s.id)
    assert list_sites(s.id) is first
    versions = {first.version}
    update_site(first[0].id, {"note": "wet"})
    versions.add(list_sites(s.id).version)
    undo(s.id)
    versions.add(list_sites(s.id).version)
    with transaction():
        delete_site(first[1].id)
        versions.add(list_sites(s.id).version)
    assert len(versions) == 4


def test_many_rows_are_read_at_once(
    small_study: SmallStudy, n_read: list[int], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(store_sites, "FEW_ROWS", 1)
    monkeypatch.setattr(store_sites, "_rows", Newest(100))  # as in a server just started
    monkeypatch.setattr(store_sites, "_lists", Newest(100))
    s = small_study
    assert list_sites(s.id) == as_they_are(s.id)
    assert n_read == [len(list_sites(s.id))]
