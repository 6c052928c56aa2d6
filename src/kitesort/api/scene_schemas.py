"""Scenes, deliveries, corrections and catalogues as they go over the wire."""

from datetime import date, datetime
from typing import Any, Literal

from pydantic import BaseModel, Field

from kitesort.api.schemas import BandOut, CompositeOut, DependantOut, GridOut, Id, In, MapOut
from kitesort.core.bands import Kind, Quantity, SceneQuantity
from kitesort.core.delivery.scene import Resampling
from kitesort.core.names import Name
from kitesort.core.operation import Family

Origin = Literal["delivered", "corrected", "combined", "derived"]


class StepOut(BaseModel):
    """``family``: of a correction, the kind of thing that it does."""

    operation: str
    family: Family | None
    title: str
    words: str
    settings: dict[str, Any]


class SceneOut(BaseModel):
    """``grid`` is the scene's own, ``display`` the one in which the panes show it; ``palette``: the
    usual one for its first band alone. ``without_factors``: bands of the delivery behind it whose
    numbers no metadata turns into anything."""

    id: int
    title: str
    sensor: str
    acquired: date | None
    sun_elevation_deg: float | None
    origin: Origin
    sentence: str
    made_of: list[int]
    steps: list[StepOut]
    series: str | None
    kept: bool
    quantity: SceneQuantity
    resampling: str
    grid: GridOut
    display: GridOut
    bands: list[BandOut]
    composites: list[CompositeOut]
    palette: str
    apart: bool
    default_roles: list[str]
    excluded: list[str]
    flags: list[str]
    usable_share: float
    without_factors: list[str]


class BrokenSceneOut(BaseModel):
    """A scene that cannot be opened any more; ``problem``: why."""

    id: int
    title: str
    problem: str


class BandStatisticsOut(BaseModel):
    role: str
    minimum: float | None
    maximum: float | None
    mean: float | None
    standard_deviation: float | None


class StatisticsOut(BaseModel):
    bands: list[BandStatisticsOut]
    n_valid: int
    n_pixels: int
    exact: bool


class ComparedSceneOut(BaseModel):
    id: int
    title: str
    crs_name: str
    grid: GridOut
    differences: list[str]
    fits_beside: bool


class ComparisonOut(BaseModel):
    """Each scene against the first one; no difference: the same grid."""

    scenes: list[ComparedSceneOut]


class CrsOut(BaseModel):
    code: str
    name: str
    area: str


class DeliveryCreate(In):
    name: str = Field(min_length=1, max_length=200)


class FolderDeliveryCreate(In):
    path: str = Field(min_length=1, max_length=4000)


class DeliveryOut(BaseModel):
    id: int
    name: str
    origin: Literal["upload", "folder", "catalogue"]


class KeptDeliveryOut(DeliveryOut):
    """``is_ours``: its files lie in the data folder and are deleted with it. ``n_unfinished``:
    files that have not arrived whole. ``scenes``: all that are made of it, directly or not."""

    created_at: datetime
    is_ours: bool
    n_files: int
    n_bytes: int
    n_unfinished: int
    scenes: list[DependantOut]


class ReceivedOut(BaseModel):
    """``whole``: nothing is missing. The checksum is told when it is asked for."""

    received: int
    whole: bool
    sha256: str | None


class FolderEntryOut(BaseModel):
    name: str
    path: str
    is_folder: bool
    size: int


class FileOut(BaseModel):
    path: str
    size: int
    sha256: str


class ProposedBandOut(BaseModel):
    """``kind`` is the number type in the file; ``quantity``: what the factors make of the
    numbers."""

    position: int
    file: str
    index: int
    name: str
    role: str
    wavelength_um: float | None
    pixel_size: float
    kind: str
    quantity: Quantity
    gain: float | None
    offset: float
    used: bool
    reason: str


class ProposalOut(BaseModel):
    """A scene that was recognised; ``questions`` must be answered before it can be taken."""

    position: int
    name: str
    sensor: str
    acquired: date | None
    sun_elevation_deg: float | None
    crs: str | None
    crs_name: str | None
    rows: int
    columns: int
    pixel_size: float
    unit: str
    fill_value: float | None
    bands: list[ProposedBandOut]
    quality_file: str | None
    flags: list[str]
    remarks: list[str]
    questions: list[str]
    looks_like_series: bool


class FindingsOut(BaseModel):
    scenes: list[ProposalOut]
    problems: list[str]
    files: list[FileOut]
    n_other_files: int


class BandRangeOut(BaseModel):
    """Lowest and highest number of a band that is not fill, of pixels spread over it; None where
    all of it is fill."""

    position: int
    low: float | None
    high: float | None


class RangesOut(BaseModel):
    """``looks_like`` says in words what the numbers seem to be."""

    bands: list[BandRangeOut]
    looks_like: str


class BandTake(In):
    """What the analyst says of a band; the order of the bands is the order of the stack."""

    position: int = Field(ge=0)
    role: str = Field(max_length=32)
    wavelength_um: float | None = Field(None, gt=0, lt=20)
    gain: float | None = None
    offset: float = 0.0
    used: bool = True


class SceneTake(In):
    position: int = Field(ge=0)
    title: Name = Field(min_length=1, max_length=120)
    sensor: str = Field(min_length=1, max_length=120)
    acquired: date | None = None
    crs: str | None = Field(None, max_length=4000)
    fill_value: float | None = None
    grid: str = "finest"
    resampling: Resampling = "nearest"
    series: str | None = Field(None, min_length=1, max_length=120)
    bands: list[BandTake] = Field(min_length=1, max_length=2000)


class TakeScenes(In):
    scenes: list[SceneTake] = Field(min_length=1, max_length=400)


class OperationOut(BaseModel):
    """``otherwise``: the correction for scenes whose metadata lacks the factors of this one."""

    id: str
    title: str
    otherwise: str | None = None
    good_for: str
    source: str
    takes: list[Kind]
    settings_schema: dict[str, Any]


class StepIn(In):
    operation: str
    settings: dict[str, Any] = Field(default_factory=dict)


class CorrectionCreate(In):
    """The same chain of steps for one layer or for many."""

    layer_ids: list[int] = Field(min_length=1, max_length=200)
    steps: list[StepIn] = Field(min_length=1, max_length=20)
    title: Name | None = Field(None, min_length=1, max_length=120)


class ProblemWith(BaseModel):
    layer_id: Id
    title: str
    sentence: str


class MadeOut(BaseModel):
    """What was made: scenes of scenes, class maps of class maps."""

    made: list[SceneOut]
    maps: list[MapOut]
    problems: list[ProblemWith]


class CombinationCreate(In):
    layer_ids: list[int] = Field(min_length=2, max_length=200)
    method: str
    settings: dict[str, Any] = Field(default_factory=dict)
    title: Name | None = Field(None, min_length=1, max_length=120)


class DarkValuesIn(In):
    foot_percent: float = Field(0.1, ge=0, le=10)
    area: dict[str, Any] | None = None


class ShiftOut(BaseModel):
    right_px: float
    down_px: float
    n_agreeing: int
    n_pieces: int


class BoundaryFeatureOut(BaseModel):
    name: str
    geometry: dict[str, Any]
    hectares: float


class BoundaryOut(BaseModel):
    """Outlines in the study's CRS; ``crs`` is the one the file was in."""

    crs: str
    crs_name: str
    reprojected: bool
    features: list[BoundaryFeatureOut]


class CatalogueOut(BaseModel):
    address: str
    is_stand_in: bool


class CatalogueQuery(In):
    """``area`` is an outline in the study's CRS, the sides are in degrees; give one of the two or
    none. Both dates are included."""

    address: str
    area: dict[str, Any] | None = None
    west: float | None = Field(None, ge=-180, le=180)
    south: float | None = Field(None, ge=-90, le=90)
    east: float | None = Field(None, ge=-180, le=180)
    north: float | None = Field(None, ge=-90, le=90)
    first: date | None = None
    last: date | None = None
    max_cloud_percent: float | None = Field(None, ge=0, le=100)


class FoundSceneOut(BaseModel):
    """``footprint`` is in the study's CRS; ``covers`` says how much of the area it covers."""

    id: str
    collection: str
    title: str
    acquired: date | None
    cloud_percent: float | None
    platform: str
    bands: list[str]
    footprint: dict[str, Any] | None
    picture: str | None
    taken: bool


class CatalogueTake(In):
    address: str
    scenes: list["TakenScene"] = Field(min_length=1, max_length=50)


class TakenScene(In):
    collection: str = Field(max_length=200)
    id: str = Field(max_length=200)
    title: Name = Field(min_length=1, max_length=120)


class SeriesOut(BaseModel):
    name: str
    first: date
    last: date
    n_dates: int
    roles: list[str]


class SeriesValueOut(BaseModel):
    scene_id: Id
    acquired: date
    value: float | None
    standard_deviation: float | None
    n_valid: int


class SeriesPlace(In):
    """A point, or an outline, in the study's CRS."""

    name: str
    role: str | None = None
    x: float | None = None
    y: float | None = None
    geometry: dict[str, Any] | None = None
    first: date | None = None
    last: date | None = None
