"""Clusters, or classes of another scheme, under the names of classes; several may get the same."""

from pydantic import Field

from kitesort.core.errors import BadSettingsError
from kitesort.core.legend import UNCLASSIFIED, UNCLASSIFIED_CODE, LegendEntry
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.class_codes import RecodedRaster
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import Settings


class NamedCode(Settings):
    """A code of the map and the class that it is; what is not listed stays unclassified."""

    code: int = Field(ge=1, le=255)
    to: int = Field(ge=1, le=254)


class NamedClass(Settings):
    code: int = Field(ge=1, le=254)
    name: str = Field(max_length=200)
    colour: str = Field(pattern=r"^#[0-9a-fA-F]{6}$")


class NamedSettings(Settings):
    names: tuple[NamedCode, ...] = Field(max_length=255, title="Which is which")
    classes: tuple[NamedClass, ...] = Field(max_length=254, title="Classes")


def _open(raster: Raster, settings: NamedSettings, _: Context) -> Raster:
    table = [UNCLASSIFIED_CODE] * 256
    for one in settings.names:
        table[one.code] = one.to
    codes = {one.code for one in settings.names}
    known = {one.code for one in settings.classes}
    if len(codes) < len(settings.names) or len(known) < len(settings.classes):
        raise BadSettingsError("A code is named twice.")
    if not {one.to for one in settings.names} <= known:
        raise BadSettingsError("A code is given a class that is not among the classes.")
    legend = tuple(LegendEntry(c.code, c.name, c.colour) for c in settings.classes)
    return RecodedRaster(raster, (*legend, UNCLASSIFIED), tuple(table))


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
