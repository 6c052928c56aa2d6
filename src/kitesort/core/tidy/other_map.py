"""Settings that were made for one map, for another: each class by its name."""

from collections.abc import Callable, Mapping
from typing import Annotated, Any, TypeVar

from pydantic import Field

from kitesort.core.errors import BadSettingsError
from kitesort.core.legend import MOST_CLASSES, OF_THE_MAP, UNCLASSIFIED_CODE, Legend, MapCode
from kitesort.core.settings import Settings
from kitesort.core.tidy.methods._becomes import brought_in

S = TypeVar("S", bound=Settings)


class ClassName(Settings):
    """What a code stands for in the map that settings were made for."""

    code: MapCode
    name: str = Field(max_length=200)


ClassNames = Annotated[tuple[ClassName, ...], Field(max_length=MOST_CLASSES + 1)]


def for_other_map(settings: S, classes: Mapping[int, str], legend: Legend) -> S:
    """The same settings for a map with another ``legend``.

    ``classes``: names, by code, of those of the map that they were made for. A class that a setting
    brings in and names itself keeps its code where the other map has no class of that name.

    Raises
    ------
    BadSettingsError : the other map has no class of a name.
    """
    codes = {entry.name.casefold(): entry.code for entry in legend}
    missing: list[str] = []

    def become(code: int) -> int:
        name = classes.get(code)
        if name is None or code == UNCLASSIFIED_CODE:
            return code
        if name.casefold() not in codes:
            missing.append(name)
        return codes.get(name.casefold(), code)

    named = classes_named(settings).items()
    known = {code: name for code, name in named if name.casefold() in codes}
    classes = {**known, **classes}
    found = _with_codes(settings, become)
    if missing:
        names = ", ".join(f"“{name}”" for name in dict.fromkeys(missing))
        raise BadSettingsError(
            f"The map has no class {names}. Leave the step out, or name the map's classes alike."
        )
    return found


def _with_codes(settings: S, become: Callable[[int], int]) -> S:
    """The settings with other codes of the map, at any depth."""
    update: dict[str, Any] = {}
    for name, field in type(settings).model_fields.items():
        value = getattr(settings, name)
        if OF_THE_MAP in field.metadata:
            update[name] = tuple(map(become, value)) if isinstance(value, tuple) else become(value)
        elif isinstance(value, Settings):
            update[name] = _with_codes(value, become)
        elif isinstance(value, tuple):
            update[name] = tuple(
                _with_codes(one, become) if isinstance(one, Settings) else one for one in value
            )
    return settings.model_copy(update=update)


def classes_named(settings: Settings) -> dict[int, str]:
    """Names, by code, of the classes that settings name themselves."""
    return {one.code: one.name for one in brought_in(settings)}
