"""A map smoothed by the shares of its classes: what was nearly the neighbours' class joins them."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt
from pydantic import Field, field_validator
from scipy import ndimage

from kitesort.core.engine import Watch
from kitesort.core.errors import BadSettingsError
from kitesort.core.grid import Window
from kitesort.core.legend import N_CODES, NODATA_CODE, CodeArray, code_array
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.class_codes import Places, codes_in
from kitesort.core.raster.neighbourhood import Around, NativeRaster
from kitesort.core.raster.protocol import Float32Array, Raster, require_same_grid, roles_of
from kitesort.core.raster.sample import sample_pixels
from kitesort.core.settings import Settings, require_odd, titled
from kitesort.core.tidy.methods._scores_kernel import average_alike, set_likeness, settle
from kitesort.core.tidy.methods._shares import Shares, open_shares

NATIVE_SIDE = 1024
LARGEST, MOST_ROUNDS = 31, 10
LEAST_SHARE = 1e-6  # of which the logarithm is taken
STEPS_PER_ROUND = 4  # by which a round carries news: one per lot


class ScoresSettings(Settings):
    shares_id: int | None = Field(
        None,
        title="Shares of the classes",
        description="The layer with the share of each class, by the classifier that made the map.",
        json_schema_extra={"widget": "shares"},
    )
    rule: Literal["average", "field"] = Field(
        "average",
        title="Rule",
        description="Shares averaged over a window, the best one wins; or neighbours that agree "
        "weigh against the pixel's own shares, again and again (Markov random field).",
        json_schema_extra=titled({"average": "averaged", "field": "random field"}),
    )
    window_px: int = Field(
        5, ge=3, le=LARGEST, title="Window",
        description="Side in pixels, odd; for averaging.", json_schema_extra={"step": 2},
    )  # fmt: skip
    weight: float = Field(
        1.0, ge=0, le=10, title="Weight of neighbours",
        description="For the random field: of each of the eight that agrees. 0 changes nothing, "
        "above 2 little is left of what is small.",
        json_schema_extra={"step": 0.1},
    )  # fmt: skip
    rounds: int = Field(5, ge=1, le=MOST_ROUNDS, title="Rounds", description="Of the random field.")
    guide_id: int | None = Field(
        None,
        title="Edges kept of",
        description="A scene: neighbours that look different there count less.",
        json_schema_extra={"widget": "scene"},
    )
    edge: float = Field(
        1.0, ge=0.05, le=20, title="Difference that is an edge",
        description="In standard deviations of the scene's bands.", json_schema_extra={"step": 0.1},
    )  # fmt: skip
    spreads: tuple[float, ...] = Field(
        (),
        max_length=265,
        title="Standard deviations",
        description="Of the scene's bands, found from its pixels.",
        json_schema_extra={"widget": "hidden"},
    )

    @field_validator("window_px")
    @classmethod
    def _odd(cls, side: int) -> int:
        return require_odd(side)


@dataclass(frozen=True)
class _Smoothing:
    """Block function. ``guide``: whose edges are kept."""

    shares: Shares
    guide: Raster | None
    settings: ScoresSettings

    @property
    def halo(self) -> int:
        s = self.settings
        return s.window_px // 2 if s.rule == "average" else STEPS_PER_ROUND * s.rounds

    @property
    def signature(self) -> str:
        guide = self.guide.fingerprint if self.guide else ""
        return f"{self.shares.signature} {guide} {self.settings}"

    def __call__(self, around: Around) -> Float32Array:
        shares = self.shares.read(around.window)
        found = self._smoothed(around.window, codes_in(around.block), shares)
        return around.pick(found[None].astype(np.float32))

    def _smoothed(self, wide: Window, codes: CodeArray, shares: Float32Array) -> CodeArray:
        """A pixel without a class, or without shares, stays as it is."""
        s, known = self.settings, code_array(self.shares.codes)
        none = len(known)
        table = np.full(N_CODES, none, np.uint8)
        table[known] = np.arange(none)
        places = np.where(np.isnan(shares).any(axis=0), none, table[codes]).astype(np.uint8)
        guide = self._guide(wide)
        if s.rule == "field":
            out = places.copy()
            costs = -np.log(np.maximum(np.nan_to_num(shares), LEAST_SHARE, dtype=np.float64))
            settle(costs, _pairs(guide), s.weight, s.rounds, wide.row, wide.col, out)
        else:
            sums = _sums(shares, guide, s.window_px)
            out = np.where(places == none, none, _first_best(sums, places))
        return np.where(out == none, codes, np.append(known, NODATA_CODE)[out])

    def _guide(self, wide: Window) -> Float32Array:
        if self.guide is None:
            return np.empty((0, wide.height, wide.width), np.float32)
        units = np.array(self.settings.spreads, np.float64) * self.settings.edge
        values = self.guide.read(wide).values / units[:, None, None]
        return np.ascontiguousarray(values, np.float32)


def _sums(shares: Float32Array, guide: Float32Array, side: int) -> npt.NDArray[np.float64]:
    """Of shares (classes, rows, cols) over square windows, each pixel's in one order."""
    if len(guide):
        sums = np.empty(shares.shape, np.float64)
        average_alike(shares, guide, side // 2, sums)
        return sums
    known, ones = np.nan_to_num(shares).astype(np.float64), np.ones(side)
    across = ndimage.correlate1d(known, ones, axis=2, mode="constant")
    return np.asarray(ndimage.correlate1d(across, ones, axis=1, mode="constant"))


def _pairs(guide: Float32Array) -> npt.NDArray[np.float64]:
    """How alike each pixel and four of its neighbours are; of none without a guide."""
    if not len(guide):
        return np.empty((0, *guide.shape[1:]))
    like = np.zeros((4, *guide.shape[1:]))
    set_likeness(guide, like)
    return like


def _first_best(sums: npt.NDArray[np.float64], places: Places) -> Places:
    """By pixel the place of the largest sum: its own of equals, else the first."""
    best = sums.argmax(axis=0)
    own = np.minimum(places, len(sums) - 1)[None].astype(np.int64)
    as_good = np.take_along_axis(sums, own, axis=0)[0] >= sums.max(axis=0)
    return np.where(as_good, own[0], best).astype(np.uint8)


def _prepare(
    _raster: Raster, settings: ScoresSettings, context: Context, _watch: Watch
) -> ScoresSettings:
    """The guide's standard deviations, from its native pixels."""
    if settings.shares_id is None:
        raise BadSettingsError("Choose the layer with the shares of this map's classes.")
    if settings.guide_id is None:
        return settings.model_copy(update={"spreads": ()})
    guide = context.open_reference(settings.guide_id)
    values = sample_pixels(guide).values.astype(np.float64)
    spreads = values.std(axis=1) if values.size else np.zeros(len(guide.bands))
    if not (spreads > 0).all():
        raise BadSettingsError("The scene whose edges are kept is the same everywhere in a band.")
    return settings.model_copy(update={"spreads": tuple(spreads.tolist())})


def _open(raster: Raster, settings: ScoresSettings, context: Context) -> Raster:
    if settings.shares_id is None:
        raise BadSettingsError("Choose the layer with the shares of this map's classes.")
    shares = open_shares(raster, settings.shares_id, context)
    guide = None if settings.guide_id is None else context.open_reference(settings.guide_id)
    if guide is not None:
        require_same_grid(raster, guide)
        if len(settings.spreads) != len(guide.bands):
            raise BadSettingsError("The scene whose edges are kept has other bands now.")
    act = _Smoothing(shares, guide, settings)
    return NativeRaster(
        raster, roles_of(raster), raster.bands, (act.halo, act.halo), act, act.signature,
        largest=NATIVE_SIDE,
    )  # fmt: skip


def _say(s: ScoresSettings) -> str:
    how = (
        f"shares averaged over {s.window_px} × {s.window_px} pixels"
        if s.rule == "average"
        else f"a random field of weight {s.weight:g}, {s.rounds} rounds"
    )
    return f"smoothed by scores ({how}{', edges kept' if s.guide_id is not None else ''})"


SPEC = Operation(
    id="scores",
    version=1,
    station="tidy",
    title="Smooth by scores",
    short="smoothed",
    good_for="Speckle where two classes were nearly as likely; what is sure stays, however small.",
    source="Potts model, iterated conditional modes: Besag 1986; a tie keeps the pixel's class",
    settings=ScoresSettings,
    open=of_one(_open),
    prepare=of_one(_prepare),
    say=_say,
    others=lambda s: tuple(i for i in (s.shares_id, s.guide_id) if i is not None),
    takes=frozenset({"classes"}),
    native_side=NATIVE_SIDE,
)
