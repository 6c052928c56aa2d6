"""What pixels become, by rule or by hand: a class of the map, another one of the study, or none."""

from collections.abc import Iterable

from pydantic import Field

from kitesort.core.errors import BadSettingsError
from kitesort.core.legend import UNCLASSIFIED, UNCLASSIFIED_CODE, Legend, LegendEntry
from kitesort.core.settings import Settings

COLOUR = r"^(#[0-9a-fA-F]{6})?$"


class Becomes(Settings):
    """A class by its code; one that the map has not is named, and brings its colour."""

    code: int = Field(ge=1, le=255)
    name: str = Field("", max_length=80)
    colour: str = Field("", pattern=COLOUR)


def legend_with(legend: Legend, added: Iterable[Becomes]) -> Legend:
    """A map's legend and the classes that come in, by code.

    Raises
    ------
    BadSettingsError : a class that is neither in the map nor named.
    """
    known = {entry.code: entry for entry in legend}
    for one in added:
        if one.code in known:
            continue
        if one.code == UNCLASSIFIED_CODE:
            known[one.code] = UNCLASSIFIED
        elif one.name and one.colour:
            known[one.code] = LegendEntry(one.code, one.name, one.colour)
        else:
            raise BadSettingsError(
                f"The map has no class of the code {one.code} any more. Choose again."
            )
    return tuple(known[code] for code in sorted(known))
