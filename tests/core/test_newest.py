"""What is remembered: the newest, up to a bound, asked for by many."""

import threading
import time

import pytest

from kitesort.core.newest import Newest


def test_those_used_last_are_kept_and_not_made_again() -> None:
    made: list[str] = []
    newest: Newest[str, bytes] = Newest(2)

    def ask(key: str) -> bytes:
        return newest.get(key, lambda: (made.append(key), key.encode())[1])

    assert [ask(key) for key in "abaca"] == [b"a", b"b", b"a", b"c", b"a"]
    assert made == ["a", "b", "c"], "a was asked for in between, so that b had to go"
    assert newest.find("b") is None


def test_the_bound_is_of_what_they_cost() -> None:
    newest: Newest[int, bytes] = Newest(10, len)
    for key, size in enumerate((4, 4, 6)):
        newest.put(key, bytes(size))
    assert [newest.find(key) is not None for key in range(3)] == [False, True, True]
    newest.put(2, bytes(2))  # in place of the one of six
    newest.put(3, bytes(4))
    assert [newest.find(key) is not None for key in range(1, 4)] == [True, True, True]
    newest.put(4, bytes(11))
    assert newest.find(4) is None, "what is larger than all is not kept"


def test_many_threads_get_what_they_ask_for() -> None:
    newest: Newest[int, int] = Newest(8)
    wrong: list[int] = []

    def work() -> None:
        asked = [i % 16 for i in range(2_000)]
        wrong.extend(i for i in asked if newest.get(i, lambda i=i: i**2) != i**2)

    threads = [threading.Thread(target=work) for _ in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert not wrong


def test_one_that_cannot_be_made_is_not_kept() -> None:
    newest: Newest[str, bytes] = Newest(2)
    with pytest.raises(ZeroDivisionError):
        newest.get("a", lambda: bytes(1 // 0))
    assert newest.get("a", lambda: b"now") == b"now"


def test_what_many_ask_for_at_once_is_made_once() -> None:
    newest: Newest[str, bytes] = Newest(2)
    made: list[str] = []
    all_ask = threading.Barrier(6)

    def make() -> bytes:
        made.append("a")
        time.sleep(0.05)
        return b"a"

    def ask() -> None:
        all_ask.wait()
        assert newest.get("a", make) == b"a"

    threads = [threading.Thread(target=ask) for _ in range(6)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert made == ["a"]
