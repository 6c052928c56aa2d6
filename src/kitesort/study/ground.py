"""Training sites of others: looked at before they are taken, then taken as one edit."""

import unicodedata
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import PurePath

from kitesort.core.engine import UNWATCHED, Watch
from kitesort.core.errors import InputError
from kitesort.core.geojson import geometries_of
from kitesort.core.legend import is_class_code
from kitesort.core.newest import Newest
from kitesort.core.training.ground_file import FoundGround, GroundOptions, read_ground
from kitesort.store.ground import GivenSite, WantedClass, add_ground
from kitesort.store.ground_files import ground_file
from kitesort.store.records import LandClass
from kitesort.store.scheme import list_classes
from kitesort.study.rasters import open_layer, require_own, study_crs

KEPT_READINGS = 4
COLOUR_DIGITS = "0123456789abcdefABCDEF"


@dataclass(frozen=True)
class GroundSource:
    """A file that is kept under ``token``, what it is called, and what was said of it; points are
    pixels of a scene."""

    token: str
    name: str
    scene_id: int
    options: GroundOptions


@dataclass(frozen=True)
class ProposedClass:
    """What a value most likely stands for: a class that is there, else a new one."""

    value: str
    n_sites: int
    wanted: WantedClass


def look_at_ground(study_id: int, source: GroundSource) -> tuple[FoundGround, list[ProposedClass]]:
    """What a file holds, and which classes its values most likely stand for.

    Raises
    ------
    NotFoundError, UnreadableFileError, InputError
    """
    found = _read(study_id, source)
    classes = list_classes(study_id)
    return found, [
        ProposedClass(value, n, propose_class(value, classes, found))
        for value, n in found.counts.items()
    ]


def propose_class(value: str, classes: list[LandClass], found: FoundGround) -> WantedClass:
    """A class of the same name, in any case and coding of its letters; else of the same code where
    the value is a number; else a new one."""
    for c in classes:
        if _same(c.name) == _same(value):
            return WantedClass(c.id)
    number = int(value) if value.isdecimal() and len(value) < 6 else 0
    for c in classes:
        if c.code == number:
            return WantedClass(c.id)
    code = found.codes.get(value) or (number if is_class_code(number) else None)
    name = f"Class {value}" if value.isdecimal() else value
    colour = found.colours.get(value)
    return WantedClass(None, name, code, colour if _is_colour(colour) else None)


@dataclass(frozen=True)
class Taking:
    """All that is to be put into a study, as one edit."""

    title: str
    wanted: dict[str, WantedClass]
    sites: list[GivenSite]
    found: FoundGround

    def put_in(self, study_id: int) -> None:
        """Raises NotFoundError, ConflictError, BadSettingsError : nothing was taken."""
        add_ground(study_id, self.title, self.wanted, self.sites)


def prepare_ground(
    study_id: int,
    source: GroundSource,
    wanted: Mapping[str, WantedClass],
    watch: Watch = UNWATCHED,
) -> Taking:
    """The sites of a file whose values stand for a class.

    Raises
    ------
    InputError, NotFoundError, CancelledError
    """
    found = _read(study_id, source)
    chosen = [site for site in found.sites if site.value in wanted]
    watch.require_wanted()
    given = [
        GivenSite(site.value, geometry, site.note, site.true_on)
        for site, geometry in zip(chosen, geometries_of([s.outline for s in chosen]), strict=True)
    ]
    if not found.sites:
        why = "; ".join(f"{n:,} {reason}" for reason, n in found.left_out.items())
        raise InputError(f"No site of the file can be taken: {why or 'it holds none'}.")
    if not given:
        raise InputError("No site of the file belongs to a class. Choose a class for its values.")
    used = {value: wanted[value] for value in dict.fromkeys(site.value for site in given)}
    watch.require_wanted()
    stem = PurePath(source.name).name[:80]
    return Taking(f"Bring in {len(given)} sites of {stem}", used, given, found)


def _read(study_id: int, source: GroundSource) -> FoundGround:
    require_own(study_id, [source.scene_id])
    grid, crs = open_layer(source.scene_id).grid, study_crs(study_id)
    key = f"{source} {crs}"
    return _readings.get(
        key, lambda: read_ground(ground_file(source.token), source.name, grid, crs, source.options)
    )


def _same(name: str) -> str:
    return " ".join(unicodedata.normalize("NFKC", name).casefold().split())


def _is_colour(text: str | None) -> bool:
    return (
        text is not None
        and len(text) == 7
        and text[0] == "#"
        and set(text[1:]) <= set(COLOUR_DIGITS)
    )


_readings: Newest[str, FoundGround] = Newest(KEPT_READINGS)
