"""Points from a table of text: one line each, with columns for the place and the class."""

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import islice

import shapely

from kitesort.core.errors import InputError, UnreadableFileError
from kitesort.core.geojson import DEGREES
from kitesort.core.vector_file import MOST_COLUMNS, VectorTable, require_moderate

EAST = ("x", "lon", "long", "longitude", "east", "easting", "x_coord")
NORTH = ("y", "lat", "latitude", "north", "northing", "y_coord")
IN_DEGREES = ("lon", "long", "longitude")
SEPARATORS = (",", ";", "\t")
LONGEST_CELL = 2**20
MOST_CELLS = 20_000_000  # short rows are filled up


@dataclass(frozen=True)
class PointTable:
    """A table as text: names of the columns, and its rows, all as long as the head."""

    head: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    separator: str

    def guess_place(self) -> tuple[str, str] | None:
        """The columns that are called as coordinates usually are."""
        named = {name.strip().casefold(): name for name in self.head}
        east = next((named[n] for n in EAST if n in named), None)
        north = next((named[n] for n in NORTH if n in named), None)
        return (east, north) if east is not None and north is not None else None

    def at(self, x: str, y: str) -> VectorTable:
        """Its rows as points; rows without a number in both columns have none.

        Raises
        ------
        InputError : there is no such column.
        """
        for name in (x, y):
            if name not in self.head:
                raise InputError(f"The table has no column “{name}”.")
        places = self.head.index(x), self.head.index(y)
        numbers = [[_number(row[place], self.separator) for place in places] for row in self.rows]
        is_place = [east is not None and north is not None for east, north in numbers]
        points = iter(shapely.points([place for place, is_one in zip(numbers, is_place, strict=True)
                                      if is_one]) if any(is_place) else ())  # fmt: skip
        shapes = tuple(next(points) if is_one else None for is_one in is_place)
        columns = {
            name: tuple(row[i].strip() or None for row in self.rows)
            for i, name in enumerate(self.head)
        }
        degrees = DEGREES if x.strip().casefold() in IN_DEGREES else None
        return VectorTable(shapes, columns, degrees)


def read_point_table(content: bytes, file_name: str, most: int) -> PointTable:
    """A table with a head, parted by commas, semicolons or tabs, in UTF-8.

    Raises
    ------
    UnreadableFileError : no such table. InputError : too many rows.
    """
    require_moderate(content, file_name)
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise UnreadableFileError(
            f"{file_name} is not text in UTF-8. Save it as CSV in that coding."
        ) from error
    if "\0" in text:
        raise UnreadableFileError(f"{file_name} holds a character that cannot be stored.")
    first = text.split("\n", 1)[0]
    separator = max(SEPARATORS, key=first.count)
    lines = _lines(text, separator, file_name, most + 2)
    if len(lines) < 2 or separator not in first or len(lines[0]) > MOST_COLUMNS:
        raise UnreadableFileError(
            f"{file_name} is no table with a head and columns parted by commas, semicolons or tabs."
        )
    if len(lines) - 1 > most:
        raise InputError(f"{file_name} has more than {most:,} rows; that many are taken at most.")
    head = tuple(name.strip() for name in lines[0])
    if len(set(head)) < len(head) or "" in head:
        raise UnreadableFileError(
            f"Two columns of {file_name} have the same name, or one has none."
        )
    width = len(head)
    if width * len(lines) > MOST_CELLS:
        raise InputError(
            f"{file_name} has {width} columns and {len(lines) - 1:,} rows; that is more than "
            f"{MOST_CELLS:,} cells. Leave out columns that are not needed."
        )
    rows = tuple(tuple([*line, *[""] * (width - len(line))][:width]) for line in lines[1:])
    return PointTable(head, rows, separator)


def _lines(text: str, separator: str, file_name: str, most: int) -> list[Sequence[str]]:
    """The first so many that are not blank."""
    limit = csv.field_size_limit(LONGEST_CELL)
    try:
        reader = csv.reader(io.StringIO(text, newline=""), delimiter=separator)
        told = (line for line in reader if any(cell.strip() for cell in line))
        return list(islice(told, most))
    except csv.Error as error:
        raise UnreadableFileError(f"{file_name} cannot be read as a table.") from error
    finally:
        csv.field_size_limit(limit)


def _number(text: str, separator: str) -> float | None:
    """A coordinate; with a comma for a point where commas do not part columns."""
    plain = text.strip()
    if separator != "," and plain.count(",") == 1 and "." not in plain:
        plain = plain.replace(",", ".")
    try:
        value = float(plain)
    except ValueError:
        return None
    return value if abs(value) < 1e12 else None  # and no infinity, nor not-a-number
