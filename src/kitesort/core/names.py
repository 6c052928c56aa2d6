"""Names that people give: what is read is what is stored."""

import unicodedata
from typing import Annotated

from pydantic import AfterValidator

# They shape letters in some scripts; others of their kind take no room, or turn letters round.
_JOINERS = "\u200c\u200d"
UNSEEN = "a name holds characters that cannot be seen"


def require_seen(text: str) -> str:
    """A name without blanks around it; empty where none is given.

    Raises
    ------
    ValueError : nothing but blanks and joiners, or a character that cannot be seen (general
        categories Cc and Cf of the Unicode Standard, line and paragraph separators).
    """
    name = text.strip()
    if text and not name.strip(_JOINERS):
        raise ValueError("a name needs letters")
    if any(unicodedata.category(c) in ("Cc", "Cf", "Zl", "Zp") for c in name if c not in _JOINERS):
        raise ValueError(UNSEEN)
    return name


Name = Annotated[str, AfterValidator(require_seen)]
"""Of what comes from outside: a class, a study, a layer, what is saved."""
