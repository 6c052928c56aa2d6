"""Maps at the upper level of the class scheme: every class in the colour of the one above it."""

from collections.abc import Mapping

from kitesort.core.display.tile import Rgba, colours_of
from kitesort.core.legend import Legend
from kitesort.store.scheme import list_classes


def colours_at(study_id: int, legend: Legend, upper: bool) -> dict[int, Rgba]:
    """Colours by code; at the upper level those of the classes that they are reported under."""
    colours = colours_of(legend)
    return {**colours, **_colours_above(study_id, colours)} if upper else colours


def _colours_above(study_id: int, known: Mapping[int, Rgba]) -> dict[int, Rgba]:
    classes = {one.id: one for one in list_classes(study_id)}
    above = {
        one.code: classes[one.parent_id].colour
        for one in classes.values()
        if one.code in known and one.parent_id in classes
    }
    return {code: _rgba(colour) for code, colour in above.items()}


def _rgba(colour: str) -> Rgba:
    red, green, blue = bytes.fromhex(colour.lstrip("#"))
    return red, green, blue, 255
