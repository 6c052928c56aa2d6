"""What goes over the wire while looking: stretches, palettes, readouts, lines, feature space."""

from datetime import date, datetime
from typing import Annotated, Any

from pydantic import BaseModel, Field

from kitesort.api.schemas import GridOut, Id, In
from kitesort.core.cloud import MAX_TEXT, PATTERN
from kitesort.core.display.stretch import StretchKind
from kitesort.core.palette import LEVELS

Member = Annotated[str, Field(description="a scene's id and a role: 3:nir", max_length=80)]


class RangeOut(BaseModel):
    low: float
    high: float


class StretchQuery(BaseModel):
    """How values become brightness, and from where they are counted.

    ``limits``: low and high of each channel as ``0.1:0.3,0:0.5,…`` for typed ones. ``extent``
    (left,bottom,right,top) or ``site``: where values are counted; the whole scene without.
    ``stretch_of``: another scene whose values set the limits, to show before and after alike.
    """

    roles: str = Field(description="roles with commas between", max_length=200)
    stretch: StretchKind = "percentile"
    low: float = Field(2.0, ge=0, le=100)
    high: float = Field(98.0, ge=0, le=100)
    deviations: float = Field(2.0, gt=0, le=10)
    limits: str | None = Field(None, max_length=300)
    shared: bool = False
    extent: str | None = Field(None, max_length=200)
    site: int | None = None
    stretch_of: int | None = None


class TileQuery(StretchQuery):
    """Three roles are a composite; one needs a palette, reversed or in even steps if wanted."""

    palette: str | None = Field(None, max_length=40)
    reverse: bool = False
    steps: int | None = Field(None, ge=2, le=LEVELS)


class HistogramOut(BaseModel):
    """Counts of equal bins; ``exact``: of every pixel of the region, else of native ones spread
    over it."""

    low: float
    high: float
    counts: list[int]
    n_below: int
    n_above: int
    n_valid: int


class ChannelOut(BaseModel):
    """One channel's values and limits; the cut shares are in percent."""

    role: str
    low: float
    high: float
    cut_low: float
    cut_high: float
    histogram: HistogramOut


class ClassCountsOut(BaseModel):
    code: int
    counts: list[int]
    n_pixels: int


class RegionIn(In):
    """Where pixels are counted: everywhere where nothing is said."""

    extent: str | None = Field(None, max_length=200)
    site_ids: list[int] = Field(default=[], max_length=500)
    outlines: list[dict[str, Any]] = Field(default=[], max_length=50)


class ShareOut(BaseModel):
    code: int
    pixels: int
    percent: float


class SharesOut(BaseModel):
    """Pixels of a region by class; ``exact``: every one of them was looked at."""

    classes: list[ShareOut]
    n_valid: int
    n_covered: int
    exact: bool


class HistogramIn(RegionIn):
    """A band of a scene, where, and how it is counted; the range is the usual one where none is
    given."""

    role: str
    bins: int = Field(128, ge=2, le=1024)
    low: float | None = None
    high: float | None = None
    with_classes: bool = False


class RegionHistogramOut(HistogramOut):
    """With statistics of the same pixels; ``classes`` from the training sites, in the same bins."""

    minimum: float | None
    maximum: float | None
    mean: float | None
    median: float | None
    standard_deviation: float | None
    n_covered: int
    exact: bool
    classes: list[ClassCountsOut]


class PaletteOut(BaseModel):
    id: str
    title: str
    note: str
    diverging: bool
    source: str
    colours: list[str]


class ReferenceSpectrumOut(BaseModel):
    id: str
    title: str
    colour: str
    source: str
    wavelengths_um: list[float]
    reflectance: list[float]


class ReferenceSpectraOut(BaseModel):
    """``intervals``: wavelengths in µm that bands of a role see."""

    spectra: list[ReferenceSpectrumOut]
    intervals: dict[str, RangeOut]


class SceneReadoutOut(BaseModel):
    """One pixel: ``values`` by role, None where not valid."""

    scene_id: int
    row: int
    column: int
    values: dict[str, float | None]
    usable: bool


class LiveScoreOut(BaseModel):
    code: int
    share: float


class ReadoutOut(BaseModel):
    """What lies under a place; scenes that do not reach it are left out. ``live_scores``: the three
    classes that the pixel is nearest to, as shares of all."""

    longitude: float | None
    latitude: float | None
    scenes: list[SceneReadoutOut]
    live_code: int | None
    live_scores: list[LiveScoreOut]
    layer_codes: dict[int, int]


class PlaceOut(BaseModel):
    x: float
    y: float
    inside: bool


class LineIn(In):
    """Corners in the study's CRS."""

    vertices: list[tuple[float, float]] = Field(min_length=2, max_length=200)
    members: list[Member] = Field(min_length=1, max_length=8)


class LineOut(BaseModel):
    """``values`` by member; None where there is no valid pixel."""

    distance_m: list[float]
    x: list[float]
    y: list[float]
    pixel_m: float
    values: list[list[float | None]]


class PlaneIn(In):
    """Two layers and where their pixels are looked at; ranges are the usual ones if not given."""

    x: Member
    y: Member
    x_range: tuple[float, float] | None = None
    y_range: tuple[float, float] | None = None
    extent: str | None = Field(None, max_length=200)
    site_ids: list[int] = Field(default=[], max_length=500)
    outlines: list[dict[str, Any]] = Field(default=[], max_length=50)


class CloudIn(PlaneIn):
    """A cloud of them, its corners ``x y, x y, …``; ``live``: the version of the live map."""

    cloud: str = Field(max_length=MAX_TEXT, pattern=PATTERN)
    live: str | None = Field(None, max_length=200)


class CloudSitesIn(CloudIn):
    class_id: Id


class CloudClassOut(BaseModel):
    """Shares, 0 to 1: of the cloud's pixels on the live map, of the class's training pixels."""

    code: int
    of_cloud: float | None
    of_training: float | None


class CloudOut(BaseModel):
    """Not ``exact``: pixels spread over the region, the area in proportion."""

    n_inside: int
    n_valid: int
    exact: bool
    area_ha: float
    classes: list[CloudClassOut]


class EllipseOut(BaseModel):
    """At two standard deviations; the angle is that of the longer axis, anticlockwise."""

    code: int
    x: float
    y: float
    long: float
    short: float
    angle_deg: float


class PlaneOut(BaseModel):
    """``counts``: rows from low to high y, columns from low to high x."""

    x: RangeOut
    y: RangeOut
    counts: list[list[int]]
    n_valid: int
    n_outside: int
    n_covered: int
    exact: bool
    aligned: bool
    ellipses: list[EllipseOut]


class SoilLineOut(BaseModel):
    """``nir = slope × red + intercept`` from ``low`` to ``high`` in red; fitted to the foot of the
    cloud in ``n_steps`` steps of red, of ``n_pixels`` land pixels."""

    slope: float
    intercept: float
    low: float
    high: float
    n_steps: int
    n_pixels: int
    r_squared: float


class PictureOut(BaseModel):
    """A reference picture; ``problem`` says why it is not seen just now."""

    id: str
    title: str
    source: str
    taken: date | None
    grid: GridOut
    problem: str | None


class NoteOut(BaseModel):
    id: int
    x: float
    y: float
    text: str
    created_at: datetime


class NoteCreate(In):
    x: float
    y: float
    text: str = Field(max_length=2000)


class NotePatch(In):
    text: str = Field(max_length=2000)
