"""What is remembered, up to a bound; what many ask for at once is done once."""

from concurrent.futures import ThreadPoolExecutor
from threading import Barrier, Event, Lock

import pytest

from kitesort.core.newest import always, remembered


def test_equal_calls_that_overlap_compute_once() -> None:
    calls: list[int] = []
    barrier = Barrier(8)
    release = Event()

    @remembered(8, once=always)
    def slow(n: int, extra: str = "") -> str:
        calls.append(n)
        release.wait(5)
        return f"{n}{extra}"

    def ask(_: int) -> str:
        barrier.wait(5)
        return slow(3)

    with ThreadPoolExecutor(8) as pool:
        answers = pool.map(ask, range(8))
        release.set()
        assert list(answers) == ["3"] * 8
    assert calls == [3]
    assert slow(3, extra="!") == "3!" and slow(4) == "4"
    assert calls == [3, 3, 4]


def test_errors_are_not_remembered() -> None:
    tries = 0
    lock = Lock()

    @remembered(8, once=always)
    def fails_first(n: int) -> int:
        nonlocal tries
        with lock:
            tries += 1
        if tries == 1:
            raise ValueError(n)
        return n

    with pytest.raises(ValueError, match="7"):
        fails_first(7)
    assert fails_first(7) == 7 and fails_first(7) == 7
    assert tries == 2


def test_another_version_is_computed_anew() -> None:
    versions = {1: "a"}
    calls: list[int] = []

    @remembered(8, version=versions.get, once=always)
    def note(n: int) -> int:
        calls.append(n)
        return len(calls)

    assert (note(1), note(1)) == (1, 1)
    versions[1] = "b"
    assert (note(1), note(1)) == (2, 2)


def test_the_oldest_are_forgotten() -> None:
    calls: list[int] = []

    @remembered(2)
    def note(n: int) -> int:
        calls.append(n)
        return n

    for n in (1, 2, 3, 1):
        note(n)
    assert calls == [1, 2, 3, 1]
    note.forget()
    note(1)
    assert calls[-1] == 1 and len(calls) == 5


def test_nothing_is_a_result_like_any_other() -> None:
    calls: list[int] = []

    @remembered(2)
    def find(n: int, more: int = 0) -> None:
        """Finds nothing."""
        calls.append(n + more)

    assert find(1) is None and find(1) is None and find(1, more=4) is None
    assert calls == [1, 5]
    assert find.__doc__ == "Finds nothing." and find.__name__ == "find"


def test_what_need_not_be_done_once_waits_for_nobody() -> None:
    """Two who ask for the same, the first of whom waits for the second."""
    both = Barrier(2)

    @remembered(2)
    def meet(n: int) -> int:
        both.wait(5)
        return n

    with ThreadPoolExecutor(2) as pool:
        assert list(pool.map(meet, (1, 1))) == [1, 1]
