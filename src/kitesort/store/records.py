"""Frozen records that the store hands out; the only shapes that leave it."""

import hashlib
import json
from datetime import date, datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from kitesort.core.classify.stored import ToldClassifier
from kitesort.core.derive.breaks_recipe import BreaksRecipe
from kitesort.core.grid_data import GridData
from kitesort.core.raster.cog import LegendEntry
from kitesort.core.recipe import ClassMapRecipe
from kitesort.core.scene_recipe import SceneRecipe

RunState = Literal["waiting", "running", "done", "failed", "cancelled"]


AnyMapRecipe = Annotated[ClassMapRecipe | BreaksRecipe, Field(discriminator="kind")]


class Record(BaseModel):
    model_config = ConfigDict(frozen=True, from_attributes=True)


class Study(Record):
    """``view`` is what the browser wants to find again: panes, centre, readout."""

    id: int
    name: str
    view: dict[str, Any]


class Scene(Record):
    """A scene and how it came to be; ``kept_path`` names its file when it was kept, ``series``
    the series of dates it belongs to."""

    id: int
    study_id: int
    title: str
    recipe: SceneRecipe
    acquired: date | None
    sensor: str
    series: str | None
    kept_path: str | None
    removed: bool


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
    id: int
    study_id: int
    code: int
    name: str
    colour: str
    description: str


class Site(Record):
    """Outline as GeoJSON geometry in the CRS of the study's scenes; ``client_key``: what the
    browser called it before it was stored."""

    id: int
    study_id: int
    class_id: int
    geometry: dict[str, Any]
    note: str
    client_key: str | None = None

    @property
    def version(self) -> str:
        """Another one after every change."""
        said = json.dumps([self.class_id, self.geometry, self.note], sort_keys=True)
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


PresetKind = Literal["formula", "coefficients"]


class Preset(Record):
    """Something saved for reuse in a study: a formula, a table of coefficients."""

    id: int
    study_id: int
    kind: PresetKind
    name: str
    content: dict[str, Any]


class ToldMap(Record):
    """What a kept map tells of itself: ``method_version`` and ``trained_on`` (a fingerprint of the
    sites) of one that was trained, its grid unless the file was gone when it was looked at."""

    sentence: str
    method: str
    method_version: int | None
    roles: tuple[str, ...]
    n_sites: int
    trained_on: str | None
    legend: tuple[LegendEntry, ...]
    grid: GridData | None


class Layer(Record):
    """A kept class map; ``pixels`` and ``hectares`` by class code, 0 is no data."""

    id: int
    study_id: int
    scene_id: int
    name: str
    told: ToldMap
    path: str
    pixels: dict[int, int]
    hectares: dict[int, float]
    seconds: float
    removed: bool
    created_at: datetime


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
    """``kind`` says what is done, ``task`` with what."""

    id: int
    study_id: int
    title: str
    kind: str
    task: dict[str, Any]
    state: RunState
    percent: float
    seconds_left: float | None
    log: list[str]
    problem: str | None
    layer_id: int | None
    scene_id: int | None
    cancel_requested: bool
    attempts: int
    created_at: datetime
    finished_at: datetime | None
