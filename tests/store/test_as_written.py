"""What is read may be remembered until something is written, here or elsewhere."""

from typing import Any

import pytest

from kitesort.store import database
from kitesort.store.database import as_written, db, note_writing, transaction
from kitesort.store.layers import list_layers, rename_layer
from kitesort.store.studies import get_study
from kitesort.study.rasters import opened
from support.study import SmallStudy


def test_reading_changes_nothing_and_writing_does(small_study: SmallStudy) -> None:
    s = small_study
    before = as_written()
    get_study(s.id)
    assert as_written() == before
    rename_layer(s.scene_id, "Another name")
    assert as_written() != before
    before = as_written()
    note_writing()
    assert as_written() != before, "another process announced it"


def test_within_a_transaction_that_has_written_nothing_is_remembered(
    small_study: SmallStudy,
) -> None:
    s, before = small_study, as_written()
    with transaction():
        get_study(s.id)
        assert as_written() == before
        rename_layer(s.scene_id, "Another name")
        assert as_written() != as_written()
    after = as_written()
    assert after == as_written() and after != before


def test_what_is_rolled_back_counts_as_written(small_study: SmallStudy) -> None:
    """Once too often does no harm."""
    before = as_written()
    with pytest.raises(ZeroDivisionError), transaction():
        rename_layer(small_study.scene_id, "Another name")
        raise ZeroDivisionError
    assert as_written() != before and as_written() == as_written()


def test_a_layer_is_asked_for_once_until_something_is_written(
    small_study: SmallStudy, monkeypatch: pytest.MonkeyPatch
) -> None:
    asked: list[str] = []
    plain = type(db).execute_sql

    def count(self: Any, sql: str, *args: Any, **options: Any) -> Any:
        asked.append(sql)
        return plain(self, sql, *args, **options)

    monkeypatch.setattr(database._Database, "execute_sql", count)
    first = opened(small_study.scene_id)
    asked.clear()
    assert opened(small_study.scene_id) is first and asked == []
    (layer,) = list_layers(small_study.id)
    rename_layer(layer.id, "Another name")
    asked.clear()
    assert opened(small_study.scene_id) == first and len(asked) > 0
