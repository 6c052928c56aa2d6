"""JSON from outside is bounded before anything looks at it; what Python's reader takes within the
bounds is taken."""

import json
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kitesort.core.outside_json import MOST_DEPTH, MOST_DIGITS, OutsideJsonError, read_json

TEXTS = st.text(st.characters(codec="utf-8", exclude_characters="\0"))
VALUES = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False, allow_infinity=False)
    | TEXTS,
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(TEXTS, inner, max_size=4),
    max_leaves=20,
)  # fmt: skip


@given(VALUES, st.booleans())
def test_what_is_meant_is_read(value: object, escaped: bool) -> None:
    """Against Python's own reader."""
    text = json.dumps(value, ensure_ascii=escaped)
    if "\0" not in text:
        assert read_json(text) == json.loads(text)


@pytest.mark.parametrize(
    "escape", ["\\u0000", "\\ud800", "\\uDC00x", "\\\\\\u0000", "\\ud83d\\u0041"]
)
@pytest.mark.parametrize("form", ['{"note": "a%sb"}', '{"a%s": 1}', '["%s"]'])
def test_characters_that_cannot_be_stored(escape: str, form: str) -> None:
    with pytest.raises(OutsideJsonError, match="cannot be stored"):
        read_json(form % escape)


@pytest.mark.parametrize("escape", ["\\ud83e\\ude81", "\\\\u0000", "\\u00e9", "\\\\ud800"])
def test_characters_that_only_look_like_these(escape: str) -> None:
    text = f'["{escape}"]'
    assert read_json(text) == json.loads(text)


def nested(depth: int, opening: str, closing: str) -> str:
    return opening * depth + closing * depth


def test_depth_is_bounded_whatever_stands_in_texts() -> None:
    assert read_json(nested(MOST_DEPTH, "[", "]"))
    assert read_json(json.dumps("[" * 500)) == "[" * 500
    assert read_json(json.dumps(['"\\' + "[" * 500] * 3))
    assert len(read_json(json.dumps([[]] * 10_000))) == 10_000
    for text in (
        nested(MOST_DEPTH + 1, "[", "]"),
        '{"a":' * 300 + "1" + "}" * 300,
        "[" * 100_000,
        '["x", ' * 65 + "1" + "]" * 65,
    ):
        with pytest.raises(OutsideJsonError, match="inside of one another"):
            read_json(text)


@pytest.mark.parametrize("number", ["NaN", "-Infinity", "1e999", "-1.5E+400", "[1, 1e309]"])
def test_numbers_are_finite(number: str) -> None:
    with pytest.raises(OutsideJsonError, match="not finite"):
        read_json(number)
    assert read_json(json.dumps({number: number})) == {number: number}, "as a text it is one"


def test_large_and_long_numbers() -> None:
    assert read_json("1e308") == 1e308 and read_json("1e-999") == 0
    assert read_json("9" * MOST_DIGITS) == int("9" * MOST_DIGITS)
    assert math.isfinite(float(read_json("9" * MOST_DIGITS)))
    with pytest.raises(OutsideJsonError, match="digits"):
        read_json("[" + "9" * 5000 + "]")


def test_other_encodings_are_refused() -> None:
    for encoding in ("utf-16", "utf-32"):
        with pytest.raises(OutsideJsonError, match="UTF-8"):
            read_json("[1]".encode(encoding))
