"""Training behind: what it has come to is told while it is at work, and a newer wish ends it."""

from threading import Event

import pytest

from kitesort.core.engine import Watch
from kitesort.study.background import Background


def test_what_it_has_come_to_is_told_on_its_way() -> None:
    behind, told, go_on = Background[str](), Event(), Event()

    def learn(watch: Watch) -> str:
        watch.found((0.9, 0.5))
        watch.found((0.4, 0.8))
        told.set()
        assert go_on.wait(10)
        return "learnt"

    assert behind.found_so_far("line") == []
    assert behind.ask("line", "one", learn, wait=0) is None
    assert told.wait(10)
    assert behind.found_so_far("line") == [(0.9, 0.5), (0.4, 0.8)]
    go_on.set()
    assert behind.ask("line", "one", learn, wait=10) == "learnt"
    assert behind.found_so_far("line") == [], "nothing is at work any more"


def test_a_newer_wish_ends_the_one_before() -> None:
    behind, began, ended = Background[str](), Event(), Event()

    def endless(watch: Watch) -> str:
        began.set()
        while True:
            try:
                watch.require_wanted()
            except Exception:
                ended.set()
                raise

    assert behind.ask("line", "old", endless, wait=0) is None
    assert began.wait(10)
    assert behind.ask("line", "new", lambda _: "new", wait=10) == "new"
    assert ended.is_set()


def test_what_goes_wrong_is_raised_where_it_was_asked_for() -> None:
    def fail(_: Watch) -> str:
        raise ValueError("no")

    with pytest.raises(ValueError, match="no"):
        Background[str]().ask("line", "one", fail, wait=10)
