"""The classes that codes stand for: they travel with the band that holds the codes."""

import re
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Annotated, Protocol

import numpy as np
import numpy.typing as npt
from pydantic import AfterValidator, Field

from kitesort.core.errors import InputError

NODATA_CODE = 0
UNCLASSIFIED_CODE = 255  # of every class map, however wide its codes are
LAST_CODE = 65_535
N_CODES = LAST_CODE + 1  # of a table that every code has a place in
MOST_CLASSES = 254  # of a map or a scheme, unclassified aside
LONGEST_ROLE = 64
CodeArray = npt.NDArray[np.uint16]


def _no_unclassified(code: int) -> int:
    if code == UNCLASSIFIED_CODE:
        raise ValueError(f"{UNCLASSIFIED_CODE} means unclassified in every map")
    return code


MapCode = Annotated[int, Field(ge=1, le=LAST_CODE)]
ClassCode = Annotated[
    MapCode,
    AfterValidator(_no_unclassified),
    Field(json_schema_extra={"not": {"const": UNCLASSIFIED_CODE}}),
]
"""Of a setting: a code that a map may hold; one that a class may have."""


class OfTheMap:
    """Marks a setting of a step whose codes are those of the map that the step is done to: on
    another map the same classes may have other codes."""


OF_THE_MAP = OfTheMap()
CodesOfTheMap = Annotated[tuple[int, ...], OF_THE_MAP]


def is_class_code(code: int) -> bool:
    return 1 <= code <= LAST_CODE and code != UNCLASSIFIED_CODE


def code_array(codes: Iterable[int]) -> CodeArray:
    return np.fromiter(codes, np.uint16)


@dataclass(frozen=True)
class LegendEntry:
    """A class: code 1 to 65 535, name, colour as #rrggbb."""

    code: int
    name: str
    colour: str

    @property
    def rgb(self) -> tuple[int, int, int]:
        text = self.colour.lstrip("#")
        return int(text[0:2], 16), int(text[2:4], 16), int(text[4:6], 16)


UNCLASSIFIED = LegendEntry(UNCLASSIFIED_CODE, "Unclassified", "#8d8d8d")
Legend = tuple[LegendEntry, ...]


def dtype_of(legend: Legend) -> str:
    """The narrowest whole numbers that hold all codes of a kept class map."""
    return "uint8" if all(entry.code <= UNCLASSIFIED_CODE for entry in legend) else "uint16"


def merge_legends(legends: Iterable[Legend]) -> Legend:
    """One legend of several, by code; of a class that several have, the first one's colour.

    Raises
    ------
    InputError : a code that stands for different classes.
    """
    known: dict[int, LegendEntry] = {}
    for entry in (entry for legend in legends for entry in legend):
        first = known.setdefault(entry.code, entry)
        if first.name.casefold() != entry.name.casefold():
            raise InputError(
                f"The code {entry.code} is {first.name} in one of the class maps and {entry.name} "
                "in another. Make both maps from one class scheme."
            )
    return tuple(known[code] for code in sorted(known))


def same_named(first: Iterable[LegendEntry], second: Iterable[LegendEntry]) -> dict[int, int]:
    """By each code of the first legend, the second's code of the class of the same name."""
    named = {entry.name.casefold(): entry.code for entry in second}
    return {e.code: named[e.name.casefold()] for e in first if e.name.casefold() in named}


class Named(Protocol):
    """A class of a legend, a scheme or a trained classifier."""

    @property
    def code(self) -> int: ...

    @property
    def name(self) -> str: ...


def share_roles(classes: Iterable[Named]) -> dict[int, str]:
    """What the bands of the classes' shares are called, by code: after the class, each once."""
    found: dict[int, str] = {}
    for entry in classes:
        stem = re.sub(r"\W+", "_", entry.name.lower()).strip("_")
        role = f"share_{stem or entry.code}"[:LONGEST_ROLE]
        taken = role in found.values()
        found[entry.code] = f"{role[: LONGEST_ROLE - 4]}_{entry.code}" if taken else role
    return found
