"""Maps at the upper level of the class scheme: every class in the colour of the one above it."""

from collections.abc import Iterable, Mapping

from kitesort.core.display.tile import Rgba, colours_of
from kitesort.core.legend import Legend
from kitesort.store.records import LandClass
from kitesort.store.scheme import list_classes


def colours_at(study_id: int, legend: Legend, upper: bool) -> dict[int, Rgba]:
    """Colours by code; at the upper level those of the classes that they are reported under."""
    colours = colours_of(legend)
    return {**colours, **_colours_above(study_id, colours)} if upper else colours


def codes_above(classes: Iterable[LandClass]) -> dict[int, int]:
    """Of each class that belongs to another one, by code: that one's code."""
    known = {one.id: one for one in classes}
    return {one.code: known[one.parent_id].code for one in known.values() if one.parent_id in known}


def _colours_above(study_id: int, known: Mapping[int, Rgba]) -> dict[int, Rgba]:
    classes = list_classes(study_id)
    colours = {one.code: one.colour for one in classes}
    above = codes_above(classes)
    return {code: _rgba(colours[upper]) for code, upper in above.items() if code in known}


def _rgba(colour: str) -> Rgba:
    red, green, blue = bytes.fromhex(colour.lstrip("#"))
    return red, green, blue, 255
