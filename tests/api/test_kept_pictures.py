"""Pictures that many ask for are made once, and never more of them kept than allowed."""

from concurrent.futures import ThreadPoolExecutor

from kitesort.api.pictures import _Newest


def test_picture_is_made_once_for_all_who_ask() -> None:
    newest, made = _Newest(3), []

    def make() -> bytes:
        made.append(1)
        return b"picture"

    assert [newest.get("a", make) for _ in range(5)] == [b"picture"] * 5
    assert len(made) == 1


def test_those_not_asked_for_lately_are_forgotten() -> None:
    newest, made = _Newest(2), []

    def ask(tag: str) -> None:
        newest.get(tag, lambda: made.append(tag) or tag.encode())  # type: ignore[func-returns-value]

    for tag in ("a", "b", "a", "c", "a", "b"):
        ask(tag)
    assert made == ["a", "b", "c", "b"]


def test_one_that_cannot_be_made_is_not_kept() -> None:
    newest = _Newest(2)

    def fail() -> bytes:
        raise ValueError("no")

    for _ in range(2):
        try:
            newest.get("a", fail)
        except ValueError:
            continue
        raise AssertionError("it was kept")
    assert newest.get("a", lambda: b"now") == b"now"


def test_many_threads_get_what_they_asked_for() -> None:
    newest = _Newest(8)
    tags = [str(i % 20) for i in range(2000)]
    with ThreadPoolExecutor(8) as pool:
        got = list(pool.map(lambda tag: newest.get(tag, tag.encode), tags))
    assert got == [tag.encode() for tag in tags]
