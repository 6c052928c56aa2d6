"""JSON that comes in, in a request, an address or a file: bounded before anything looks at it."""

import json
import math
import re
from typing import Any, Final

import numpy as np

MOST_DEPTH: Final = 64  # lists and objects inside of one another; what is meant here has a dozen
MOST_DIGITS: Final = 300  # of one number
# Up to the end where the last quote is missing.
_TEXTS = re.compile(rb'"[^"\\]*(?:\\.[^"\\]*)*"?', re.DOTALL)
_NO_NUMBERS = re.compile(rb"NaN|Infinity")
_DIGITS = re.compile(rb"[0-9]{%d}" % (MOST_DIGITS + 1))
_LARGE = re.compile(rb"[0-9]+(?:\.[0-9]*)?[eE]\+?[0-9]{3,}")
# Zero, and half of a character that takes two: neither can be stored or sent on.
_ESCAPES = re.compile(
    rb"\\(?:u[dD][89abAB][0-9a-fA-F]{2}\\u[dD][c-fC-F][0-9a-fA-F]{2}"
    rb"|(u0000|u[dD][89a-fA-F][0-9a-fA-F]{2})|.)",
    re.DOTALL,
)
_BRACKETS = b"[]{}"
_ALL_ELSE = bytes(set(range(256)) - set(_BRACKETS))


class OutsideJsonError(ValueError):
    """What is wrong, in a sentence."""


def read_json(content: str | bytes) -> Any:
    """The value of a JSON text.

    Raises
    ------
    OutsideJsonError : deeper or longer than anything that is meant here, or a number that is not
    finite. ValueError : no JSON.
    """
    require_bounded(content)
    return json.loads(content)


def require_bounded(content: str | bytes) -> None:
    """Whether it is JSON at all is not asked.

    Raises
    ------
    OutsideJsonError
    """
    whole = content.encode("utf-8", "surrogatepass") if isinstance(content, str) else content
    if b"\0" in whole:
        raise OutsideJsonError("The text is not in UTF-8.")
    if b"\\u" in whole and any(one[1] for one in _ESCAPES.finditer(whole)):
        raise OutsideJsonError("A text holds a character that cannot be stored.")
    bare = _TEXTS.sub(b'""', whole)
    if _depth(bare) > MOST_DEPTH:
        raise OutsideJsonError(f"More than {MOST_DEPTH} lists lie inside of one another.")
    if _NO_NUMBERS.search(bare) or any(math.isinf(float(one)) for one in _LARGE.findall(bare)):
        raise OutsideJsonError("A number is not finite.")
    if _DIGITS.search(bare):
        raise OutsideJsonError(f"A number has more than {MOST_DIGITS} digits.")


def _depth(bare: bytes) -> int:
    """How deep lists and objects lie inside of one another; ``bare`` of texts."""
    if bare.count(b"[") + bare.count(b"{") <= MOST_DEPTH:
        return 0
    brackets = np.frombuffer(bare.translate(None, _ALL_ELSE), np.uint8)
    steps = np.where((brackets == ord("[")) | (brackets == ord("{")), 1, -1)
    return int(np.cumsum(steps).max())
