"""A class scheme as a file: JSON in the words of the STAC classification extension, or a table."""

import csv
import io
import json
import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from kitesort.core.errors import BadSettingsError, InputError, UnreadableFileError
from kitesort.core.legend import (
    LAST_CODE,
    MOST_CLASSES,
    NODATA_CODE,
    UNCLASSIFIED_CODE,
    is_class_code,
)
from kitesort.core.names import require_seen
from kitesort.core.outside_json import read_json
from kitesort.core.table import Cell, to_csv, without_apostrophe

LONGEST_NAME = 80
LONGEST_DESCRIPTION = 400
MAX_BYTES = 2**20
HEAD = ("code", "name", "colour", "description", "parent")


@dataclass(frozen=True)
class TakenClass:
    """A class of a file: code and colour (#rrggbb) where it tells them, the name of its parent
    where it has one."""

    name: str
    code: int | None = None
    colour: str | None = None
    description: str = ""
    parent: str | None = None


def scheme_to_json(classes: Sequence[TakenClass]) -> bytes:
    """With a member ``parent`` of our own; fill as the extension wants it."""
    told: list[dict[str, Any]] = [{"value": NODATA_CODE, "name": "No data", "nodata": True}]
    for one in classes:
        entry: dict[str, Any] = {"value": one.code, "name": one.name}
        if one.colour:
            entry["color_hint"] = one.colour.lstrip("#").upper()
        if one.description:
            entry["description"] = one.description
        if one.parent:
            entry["parent"] = one.parent
        told.append(entry)
    return json.dumps({"classification:classes": told}, indent=1, ensure_ascii=False).encode()


def scheme_to_csv(classes: Sequence[TakenClass]) -> bytes:
    rows: list[list[Cell]] = [list(HEAD)]
    rows += [[c.code, c.name, c.colour, c.description, c.parent or ""] for c in classes]
    return to_csv(rows).encode()


def read_scheme(content: bytes, file_name: str) -> list[TakenClass]:
    """The classes of a file, JSON or a table, in their order.

    Raises
    ------
    UnreadableFileError : neither. InputError, BadSettingsError : classes that cannot be.
    """
    if len(content) > MAX_BYTES:
        raise UnreadableFileError(f"{file_name} is too large for a class scheme.")
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise UnreadableFileError(f"{file_name} is not text in UTF-8.") from error
    is_json = text.lstrip()[:1] in ("{", "[")
    found = _from_json(text, file_name) if is_json else _from_table(text, file_name)
    require_possible(found)
    return found


def require_possible(classes: Sequence[TakenClass]) -> None:
    """Names and codes once each, at most 254 of them, parents that are there and have none.

    Raises
    ------
    InputError, BadSettingsError
    """
    if not classes:
        raise InputError("There is no class in it.")
    if len(classes) > MOST_CLASSES:
        raise InputError(f"It has {len(classes)} classes; a scheme holds at most {MOST_CLASSES}.")
    by_name = {one.name.casefold(): one for one in classes}
    codes = [one.code for one in classes if one.code is not None]
    if len(by_name) < len(classes) or len(set(codes)) < len(codes):
        raise InputError("Two of its classes have the same name or code.")
    for one in classes:
        parent = None if one.parent is None else by_name.get(one.parent.casefold())
        if one.parent is not None and parent is None:
            raise BadSettingsError(f"{one.name} belongs to {one.parent}, which is not there.")
        if parent is not None and (parent.parent is not None or parent is one):
            raise BadSettingsError(
                f"{one.name} belongs to {parent.name}, which itself belongs to "
                f"{parent.parent or one.name}. There are two levels, and no loops."
            )


def _from_json(text: str, file_name: str) -> list[TakenClass]:
    try:
        document = read_json(text)
    except ValueError as error:
        raise UnreadableFileError(f"{file_name} is no JSON that can be read.") from error
    entries = document.get("classification:classes") if isinstance(document, dict) else document
    if not isinstance(entries, list) or not all(isinstance(one, dict) for one in entries):
        raise UnreadableFileError(f"{file_name} has no list “classification:classes”.")
    return [_of_entry(one) for one in entries if not one.get("nodata")]


def _of_entry(entry: dict[str, Any]) -> TakenClass:
    value = entry.get("value")
    name = entry.get("title") or entry.get("name") or value
    return _taken(
        name, _code_in("" if value is None else str(value)), entry.get("color_hint"),
        entry.get("description"), entry.get("parent"),
    )  # fmt: skip


def _code_in(text: str) -> int | None:
    """None where there is none; a spreadsheet's ``7.0`` is 7.

    Raises
    ------
    BadSettingsError : anything else.
    """
    if not text:
        return None
    found = re.fullmatch(r"(\d{1,9})(?:\.0+)?", text, re.ASCII)
    if found is None:
        raise BadSettingsError(f"“{text[:40]}” is no code: a whole number from 1 on.")
    return int(found[1])


def _from_table(text: str, file_name: str) -> list[TakenClass]:
    first = text.split("\n", 1)[0]
    separator = max((",", ";", "\t"), key=first.count)
    try:
        rows = list(csv.reader(io.StringIO(text, newline=""), delimiter=separator, strict=True))
    except csv.Error as error:
        raise UnreadableFileError(f"{file_name} cannot be read as a table.") from error
    head = [cell.strip().casefold() for cell in rows[0]] if rows else []
    if "name" not in head:
        raise UnreadableFileError(f"{file_name} has no column “name”.")
    found = []
    for row in rows[1:]:
        cells = {key: cell.strip() for key, cell in zip(head, row, strict=False)}
        if cells.get("name"):
            code = _code_in(cells.get("code", ""))
            colour = cells.get("colour") or cells.get("color")
            words = cells["name"], cells.get("description"), cells.get("parent")
            name, description, parent = (without_apostrophe(text or "") for text in words)
            found.append(_taken(name, code, colour, description, parent))
    return found


def _taken(name: Any, code: int | None, colour: Any, description: Any, parent: Any) -> TakenClass:
    plain = _plain(name)
    try:
        require_seen(plain)
    except ValueError as error:
        raise BadSettingsError(f"Class {plain[:40]!a}: {error}.") from error
    if not plain or len(plain) > LONGEST_NAME:
        raise BadSettingsError(f"A class needs a name of at most {LONGEST_NAME} letters.")
    if code is not None and not is_class_code(code):
        raise BadSettingsError(
            f"{plain} has the code {code}; codes go from 1 to {LAST_CODE} without "
            f"{UNCLASSIFIED_CODE}, which means unclassified."
        )
    hexadecimal = str(colour or "").lstrip("#")
    return TakenClass(
        plain,
        code,
        f"#{hexadecimal.lower()}" if re.fullmatch(r"[0-9a-fA-F]{6}", hexadecimal) else None,
        _plain(description or "")[:LONGEST_DESCRIPTION],
        _plain(parent) if parent else None,
    )


def _plain(text: Any) -> str:
    return " ".join(str(text).replace("\0", "").split())
