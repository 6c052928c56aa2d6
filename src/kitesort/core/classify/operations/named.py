"""Clusters, or classes of another scheme, under the names of classes; several may get the same."""

from pydantic import Field

from kitesort.core.errors import BadSettingsError
from kitesort.core.legend import (
    MOST_CLASSES,
    UNCLASSIFIED,
    UNCLASSIFIED_CODE,
    ClassCode,
    LegendEntry,
    MapCode,
)
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.class_codes import RecodedRaster
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import Settings


class NamedCode(Settings):
    """A code of the map and the class that it is; what is not listed stays unclassified."""

    code: MapCode
    to: ClassCode


class NamedClass(Settings):
    code: ClassCode
    name: str = Field(max_length=200)
    colour: str = Field(pattern=r"^#[0-9a-fA-F]{6}$")


class NamedSettings(Settings):
    names: tuple[NamedCode, ...] = Field(max_length=MOST_CLASSES + 1, title="Which is which")
    classes: tuple[NamedClass, ...] = Field(max_length=MOST_CLASSES, title="Classes")


def _open(raster: Raster, settings: NamedSettings, _: Context) -> Raster:
    codes = {one.code for one in settings.names}
    known = {one.code for one in settings.classes}
    if len(codes) < len(settings.names) or len(known) < len(settings.classes):
        raise BadSettingsError("A code is named twice.")
    if not {one.to for one in settings.names} <= known:
        raise BadSettingsError("A code is given a class that is not among the classes.")
    legend = tuple(LegendEntry(c.code, c.name, c.colour) for c in settings.classes)
    named = tuple((one.code, one.to) for one in settings.names)
    return RecodedRaster(raster, (*legend, UNCLASSIFIED), named, rest=UNCLASSIFIED_CODE)


def _say(settings: NamedSettings) -> str:
    n, m = len(settings.names), len({one.to for one in settings.names})
    return f"of which {n} are named as {m} class{'' if m == 1 else 'es'}"


SPEC = Operation(
    id="named",
    version=1,
    station="classify",
    title="Name clusters",
    good_for="A map in classes from clusters that were looked at one by one.",
    source="Codes exchanged for codes",
    settings=NamedSettings,
    open=of_one(_open),
    say=_say,
    name=lambda _: "named",
    takes=frozenset({"classes"}),
    silent=frozenset({"classes"}),
)
