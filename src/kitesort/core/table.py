"""Tables as text that a spreadsheet opens."""

import csv
import io
from collections.abc import Iterable, Sequence

Cell = str | int | float | None
COMMANDS = ("=", "+", "-", "@", "\t", "\r")


def to_csv(rows: Iterable[Sequence[Cell]]) -> str:
    """Comma-separated values (RFC 4180). Numbers keep all their digits; a text that a spreadsheet
    would take for a formula gets an apostrophe in front (common practice)."""
    out = io.StringIO()
    csv.writer(out).writerows([_plain(cell) for cell in row] for row in rows)
    return out.getvalue()


def _plain(cell: Cell) -> Cell:
    return f"'{cell}" if isinstance(cell, str) and cell.startswith(COMMANDS) else cell


def without_apostrophe(text: str) -> str:
    """A text of a table as it was before ``to_csv`` wrote it."""
    return text[1:] if text.startswith("'") and text[1:].startswith(COMMANDS) else text
