"""What goes over the wire where a store record does not fit as it is."""

import json
from datetime import date, datetime
from typing import Annotated, Any

from annotated_types import Ge, Le
from fastapi import Query
from pydantic import AllowInfNan, BaseModel, Field, field_validator

from kitesort.core.bands import Kind, Quantity
from kitesort.core.legend import MOST_CLASSES, ClassCode
from kitesort.core.names import Name
from kitesort.core.settings import Strict
from kitesort.runs.count_clusters import CountRow
from kitesort.runs.try_methods import LayerRow, MethodRow
from kitesort.store.records import RunState
from kitesort.study.method import MOST_SEED

# As the database numbers rows.
Id = Annotated[int, Ge(1), Le(2**31 - 1)]

UpperQuery = Annotated[
    bool, Query(description="classes in the colours of those that they are reported under")
]

# In an address, where anything can be written.
Finite = Annotated[float, AllowInfNan(False)]


class In(Strict):
    """Base of all bodies."""


class ExtentOut(BaseModel):
    """In the units of the grid's CRS."""

    left: float
    bottom: float
    right: float
    top: float


class GridOut(BaseModel):
    """``units_m``: metres of a unit of the CRS to the right, on the ellipsoid, at the bottom, in
    the middle and at the top."""

    crs: str
    is_geographic: bool
    units_m: list[float]
    rows: int
    columns: int
    unit: str
    pixel_size: float
    extent: ExtentOut
    n_levels: int
    tile_size: int


class BandOut(BaseModel):
    """``kind`` is the number type in the file; ``unit`` is empty where there is none."""

    role: str
    wavelength_um: float | None
    pixel_size: float
    file: str
    kind: str
    quantity: Quantity
    unit: str


class CompositeOut(BaseModel):
    id: str
    title: str
    red: str
    green: str
    blue: str
    key: str


class StudyCreate(In):
    name: Name = Field(min_length=1, max_length=120)


MOST_VIEW_CHARACTERS = 256 * 1024


class StudyPatch(In):
    """``view``: what the browser wants to find again, whatever that is."""

    name: Name | None = Field(None, min_length=1, max_length=120)
    view: dict[str, Any] | None = None

    @field_validator("view")
    @classmethod
    def _require_moderate(cls, view: dict[str, Any] | None) -> dict[str, Any] | None:
        if len(json.dumps(view)) > MOST_VIEW_CHARACTERS:
            raise ValueError("the view is far larger than any that is shown")
        return view


class ClassCreate(In):
    name: Name = Field(min_length=1, max_length=80)
    colour: str | None = None
    description: str = Field("", max_length=400)


class ClassPatch(In):
    name: Name | None = Field(None, min_length=1, max_length=80)
    code: ClassCode | None = None
    colour: str | None = None
    description: str | None = Field(None, max_length=400)
    parent_id: Id | None = Field(None, description="null: it belongs to no other class")

    @property
    def changes(self) -> dict[str, Any]:
        """What is to be changed; only a parent can be taken away by saying that there is none."""
        told = self.model_dump(exclude_unset=True)
        return {key: v for key, v in told.items() if v is not None or key == "parent_id"}


class ClassOrder(In):
    class_ids: list[Id] = Field(max_length=MOST_CLASSES)


class ClassMerge(In):
    into_id: Id


class ClassSplit(In):
    """``scene_id`` and ``roles``: whose pixels tell the two kinds."""

    scene_id: Id
    roles: list[str] = Field(default_factory=list, max_length=64)


class SchemeFrom(In):
    study_id: Id


class SchemeTakenOut(BaseModel):
    """Classes that were new, and those of the same name that were there."""

    added: int
    known: int


class SiteCreate(In):
    """``key``: what the browser calls the outline; sent again under it, it is stored once."""

    key: str = Field(min_length=1, max_length=120)
    class_id: Id
    geometry: dict[str, Any]
    note: str = Field("", max_length=400)


class SitePatch(In):
    """``version``: of the site that was seen when it was changed; without it, the change is made
    whatever came between."""

    version: str | None = Field(None, max_length=40)
    class_id: Id | None = None
    geometry: dict[str, Any] | None = None
    note: str | None = Field(None, max_length=400)
    true_on: date | None = Field(None, description="null: on every date")

    @property
    def changes(self) -> dict[str, Any]:
        """What is to be changed; only a date can be taken away by saying that there is none."""
        told = self.model_dump(exclude_unset=True, exclude={"version"})
        return {key: value for key, value in told.items() if value is not None or key == "true_on"}


class SiteOut(BaseModel):
    """``problem`` says in words why a site takes no part; it is kept all the same. ``outside``:
    share of its area outside the scene. ``true_on``: it is that class on this date only;
    ``elsewhen``: which is not the scene's, so that it takes no part. ``trusted``: the analyst
    vouches for it; ``set_aside``: it never trains. ``version`` is another one after every
    change."""

    id: int
    version: str
    class_id: Id
    geometry: dict[str, Any]
    note: str
    true_on: date | None
    elsewhen: bool
    trusted: bool
    set_aside: bool
    n_pixels: int
    n_covered: int
    outside: float
    problem: str | None


class EditStateOut(BaseModel):
    """What comes next, in words, and the edits that are meant."""

    undo: str | None
    redo: str | None
    undo_id: Id | None
    redo_id: Id | None


class ClassTrainingOut(BaseModel):
    code: int
    n_sites: int
    n_pixels: int
    mean: list[float]
    standard_deviation: list[float]
    left_out: bool


class PairOut(BaseModel):
    """All three corrected for what two samples of one class show by chance; ``few``: one of the
    classes has fewer than ten pixels per band."""

    code: int
    other_code: int
    jeffries_matusita: float
    transformed_divergence: float
    bhattacharyya: float
    few: bool


class BandSubsetOut(BaseModel):
    """The best bands of their number: least and mean distance over all pairs of classes."""

    roles: list[str]
    worst: float
    mean: float


class BandAdviceOut(BaseModel):
    """``enough``: how many bands the smallest subset has with which every pair reaches the limit;
    ``untold``: codes of classes that have too few pixels."""

    subsets: list[BandSubsetOut]
    enough: int | None
    all_tried: bool
    untold: list[int]


class ContestedOut(BaseModel):
    code: int
    other_code: int
    n_pixels: int


class RoundOut(BaseModel):
    """``right``: share of the pixels held out that were told right, null where none were."""

    number: int
    loss: float
    right: float | None


class LiveOut(BaseModel):
    """Which classifier the live map shows: the ``version`` of the training that taught it, None
    while there is none, since when, and from how many sites; ``pending``: another one is being
    trained; ``rounds``: how it learns, of a method that learns in rounds."""

    version: str | None
    trained_at: datetime | None
    n_sites: int | None
    pending: bool
    rounds: list[RoundOut]


class TrainingOut(BaseModel):
    """``version`` changes with every site or class; ``problem``: why no map can be made yet.
    ``withheld``: codes of classes with too few pixels for a pair's distance to say anything;
    ``contested``: pixels that sites of two classes claim."""

    version: str
    roles: list[str]
    usual_minimum: int
    classes: list[ClassTrainingOut]
    pairs: list[PairOut]
    withheld: list[int]
    contested: list[ContestedOut]
    problem: str | None
    live: LiveOut


class ClassifierOut(BaseModel):
    """``draws``: the seed changes something; ``slow``: training may take seconds."""

    id: str
    title: str
    good_for: str
    source: str
    scores: str
    draws: bool
    slow: bool
    settings_schema: dict[str, Any]


MOST_ROLES = 500  # layers that go into a classifier


class RunCreate(In):
    scene_id: Id
    roles: list[str] = Field(min_length=1, max_length=MOST_ROLES)
    method: str = "maximum-likelihood"
    settings: dict[str, Any] = Field(default_factory=dict)
    seed: int = Field(0, ge=0, le=MOST_SEED)


class PolygonsOut(BaseModel):
    """What became of a map: polygons, their corners, and by how much the area of a class differs
    from that of its pixels at most, as a share."""

    n_polygons: int
    n_corners: int
    largest_change: float


class RunOut(BaseModel):
    """``methods``, ``layers``, ``counts`` of clusters: what a run that tries them has told so far;
    ``suggested`` of the counts, and why. ``polygons_of``: the map of which a run makes polygons;
    ``polygons``: what it has made, whose file can be taken.
    """

    id: int
    title: str
    state: RunState
    percent: float
    seconds_left: float | None
    log: list[str]
    problem: str | None
    layer_id: Id | None
    created_at: datetime
    finished_at: datetime | None
    kind: str
    method: str | None
    settings: dict[str, Any]
    methods: list[MethodRow]
    layers: list[LayerRow]
    counts: list[CountRow]
    polygons_of: Id | None
    polygons: PolygonsOut | None
    suggested: int | None
    reason: str | None


class LegendOut(BaseModel):
    """A class; its area once the map is kept."""

    code: int
    name: str
    colour: str
    pixels: int | None
    hectares: float | None
    percent: float | None = Field(description="of the classified pixels, no data not counted")


class NamePatch(In):
    name: Name = Field(min_length=1, max_length=120)


class LayerPatch(In):
    title: Name = Field(min_length=1, max_length=120)


class NamedLayerOut(BaseModel):
    id: int
    kind: Kind
    title: str


class DependantOut(BaseModel):
    id: int
    title: str


class MapOut(BaseModel):
    """A class map; counts and seconds once it is kept."""

    id: int
    scene_id: Id | None
    title: str
    sentence: str
    method: str
    roles: list[str]
    n_sites: int
    legend: list[LegendOut]
    nodata_pixels: int | None
    seconds: float | None
    created_at: datetime
    up_to_date: bool
    kept: bool
    grid: GridOut | None
