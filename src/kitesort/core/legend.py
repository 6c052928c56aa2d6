"""The classes that codes stand for: they travel with the band that holds the codes."""

from collections.abc import Iterable
from dataclasses import dataclass

from kitesort.core.errors import InputError

NODATA_CODE = 0
UNCLASSIFIED_CODE = 255


@dataclass(frozen=True)
class LegendEntry:
    """A class: code 1 to 255, name, colour as #rrggbb."""

    code: int
    name: str
    colour: str

    @property
    def rgb(self) -> tuple[int, int, int]:
        text = self.colour.lstrip("#")
        return int(text[0:2], 16), int(text[2:4], 16), int(text[4:6], 16)


UNCLASSIFIED = LegendEntry(UNCLASSIFIED_CODE, "Unclassified", "#8d8d8d")
Legend = tuple[LegendEntry, ...]


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
