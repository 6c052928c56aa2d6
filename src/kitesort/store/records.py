"""Frozen records that the store hands out; the only shapes that leave it."""

import hashlib
import json
from collections.abc import Callable
from datetime import date, datetime
from functools import cached_property
from typing import Annotated, Any, Literal

from pydantic import (
    BaseModel,
    ConfigDict,
    ValidationError,
    ValidatorFunctionWrapHandler,
    WrapValidator,
)

from kitesort.core.bands import Kind
from kitesort.core.classify.stored import ToldClassifier
from kitesort.core.errors import InputError
from kitesort.core.grid_data import GridData
from kitesort.core.legend import LegendEntry
from kitesort.core.outline import outline_text

RunState = Literal["waiting", "running", "done", "failed", "cancelled"]


MOST_DEPTH = 200  # of stored values inside of one another; an answer could hold 255


def _or_else(make: Callable[[], Any]) -> WrapValidator:
    """The stored value where it can be validated and serialised, else what ``make`` gives: one
    damaged row does not make the whole list unreadable."""

    def read(stored: Any, check: ValidatorFunctionWrapHandler) -> Any:
        try:
            return check(stored) if _depth_is_moderate(stored) else make()
        except ValidationError:
            return make()

    return WrapValidator(read)


def _depth_is_moderate(stored: Any) -> bool:
    level = [stored]
    for _ in range(MOST_DEPTH):
        level = [
            inner
            for one in level
            if isinstance(one, dict | list)
            for inner in (one.values() if isinstance(one, dict) else one)
        ]
        if not level:
            return True
    return False


def _nothing() -> None:
    """For what may be missing."""


StoredObject = Annotated[dict[str, Any], _or_else(dict)]


class Record(BaseModel):
    model_config = ConfigDict(frozen=True, from_attributes=True)


class Study(Record):
    """``view`` is what the browser wants to find again: panes, centre, readout."""

    id: int
    name: str
    view: StoredObject


class ToldMap(Record):
    """What a class map tells of itself, so that maps are listed without their recipes, which hold
    every site, and without their files: how it was made (the classifier's method, else the
    operation), ``method_version`` and ``trained_on`` (the scene, and a fingerprint of the sites) of
    one that was trained, its grid unless it could not be opened when it was told."""

    sentence: str
    method: str
    method_version: int | None
    scene_id: int | None
    roles: tuple[str, ...]
    n_sites: int
    trained_on: str | None
    legend: tuple[LegendEntry, ...]
    grid: GridData | None


class MapAreas(Record):
    """Pixels and hectares of a kept class map by code, 0 is no data; how long it took."""

    pixels: dict[int, int]
    hectares: dict[int, float]
    seconds: float


class Layer(Record):
    """Whatever can be looked at: a scene (measured bands) or a class map. How it came to be is its
    recipe, which is asked for apart; ``kept_path`` names its file when it was kept, ``series`` the
    series of dates it belongs to; ``told`` and ``areas``: of class maps."""

    id: int
    study_id: int
    kind: Kind
    title: str
    acquired: date | None
    sensor: str
    series: str | None
    kept_path: str | None
    removed: bool
    told: Annotated[ToldMap | None, _or_else(_nothing)]
    areas: Annotated[MapAreas | None, _or_else(_nothing)]
    created_at: datetime

    @property
    def map(self) -> ToldMap:
        """Raises InputError for a layer that is no class map."""
        if self.told is None:
            raise InputError(f"“{self.title}” is no class map.")
        return self.told


class Delivery(Record):
    """Files on their way into a study, in ``folder`` (absolute)."""

    id: int
    study_id: int
    name: str
    origin: Literal["upload", "folder", "catalogue"]
    folder: str
    created_at: datetime


class DeliveredFile(Record):
    """A file that has arrived whole; SHA-256 in hexadecimal digits, empty until asked for."""

    path: str
    size: int
    sha256: str


class LandClass(Record):
    """``position``: its place in the order of the scheme, by code where nobody has said;
    ``parent_id``: the class that it is reported under."""

    id: int
    study_id: int
    code: int
    name: str
    colour: str
    description: str
    position: int | None = None
    parent_id: int | None = None


class Site(Record):
    """Outline as GeoJSON geometry in the CRS of the study's scenes; ``true_on``: the only date on
    which the ground is that class; ``trusted``: the analyst vouches for it; ``set_aside``: it never
    trains; ``client_key``: what the browser called it before it was stored."""

    id: int
    study_id: int
    class_id: int
    geometry: dict[str, Any]
    note: str
    true_on: date | None = None
    trusted: bool = False
    set_aside: bool = False
    client_key: str | None = None

    @cached_property
    def outline(self) -> str:
        """The geometry as text, written once."""
        return outline_text(self.geometry)

    @cached_property
    def version(self) -> str:
        """Another one after every change."""
        said = f"{self.class_id} {self.outline} {json.dumps(self.note)} {self.true_on}"
        return hashlib.blake2s(said.encode(), digest_size=8).hexdigest()


class ReferencePoint(Record):
    id: int
    x: float
    y: float
    class_code: int


class Note(Record):
    """Words pinned to a place in the study's CRS."""

    id: int
    study_id: int
    x: float
    y: float
    text: str
    created_at: datetime


PresetKind = Literal["formula", "coefficients", "chain"]


class Preset(Record):
    """Something saved for reuse in a study: a formula, a table of coefficients."""

    id: int
    study_id: int
    kind: PresetKind
    name: str
    content: StoredObject


class KeptClassifier(Record):
    """A trained classifier of a study, and what its file tells of it."""

    id: int
    study_id: int
    name: str
    told: ToldClassifier
    path: str
    removed: bool
    created_at: datetime


class Run(Record):
    """``kind`` says what is done, ``task`` with what: without the training sites, which may be
    thousands, unless the run is read to be done."""

    id: int
    study_id: int
    title: str
    kind: str
    task: StoredObject
    state: RunState
    percent: float
    seconds_left: float | None
    log: Annotated[list[str], _or_else(list)]
    rows: Annotated[list[dict[str, Any]], _or_else(list)]
    problem: str | None
    layer_id: int | None
    cancel_requested: bool
    attempts: int
    created_at: datetime
    finished_at: datetime | None
