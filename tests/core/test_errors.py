"""Every error a user can meet has a code of its own and a status of its own kind."""

from collections.abc import Iterator

import pytest

from kitesort.api.errors import STATUS, status_of
from kitesort.core import errors


def all_errors(root: type[errors.KiteSortError]) -> Iterator[type[errors.KiteSortError]]:
    yield root
    for child in root.__subclasses__():
        yield from all_errors(child)


@pytest.mark.parametrize("error", list(all_errors(errors.KiteSortError)))
def test_code_is_its_own(error: type[errors.KiteSortError]) -> None:
    assert "code" in vars(error)
    others = [e.code for e in all_errors(errors.KiteSortError) if e is not error]
    assert error.code not in others
    assert error.code == error.code.lower().replace(" ", "-")


@pytest.mark.parametrize("error", list(all_errors(errors.KiteSortError)))
def test_status_is_never_a_500_and_not_the_root_s_by_accident(
    error: type[errors.KiteSortError],
) -> None:
    status = status_of(error)
    assert 400 <= status < 500 or status in (502, 507)
    assert error is errors.KiteSortError or status_of(error) in STATUS.values()
    nearest = next(kind for kind in error.__mro__ if kind in STATUS)
    assert error is errors.KiteSortError or nearest is not errors.KiteSortError


def test_the_tree_at_the_top_of_the_file_names_them_all() -> None:
    assert errors.__doc__ is not None
    for error in all_errors(errors.KiteSortError):
        assert error.__name__ in errors.__doc__


def test_sentence_is_what_was_raised() -> None:
    assert errors.SiteError("Draw it again.").sentence == "Draw it again."
