"""Pixels without a class get the nearest one."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from pydantic import Field
from scipy import ndimage

from kitesort.core.bands import Band
from kitesort.core.errors import BadSettingsError
from kitesort.core.grid import Window
from kitesort.core.legend import NODATA_CODE, UNCLASSIFIED_CODE, CodeArray, code_array
from kitesort.core.newest import remembered
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.class_codes import codes_in
from kitesort.core.raster.neighbourhood import NativeReading
from kitesort.core.raster.patches import label_patches
from kitesort.core.raster.protocol import Block, Raster, masked_block
from kitesort.core.settings import Settings
from kitesort.core.tidy.methods._fill_kernel import fill_nearest
from kitesort.core.tidy.methods._shares import Shares, open_chosen, shares_chosen

FURTHEST = 50
LARGEST_HOLE = 400
NATIVE_SIDE = 1024


class FillSettings(Settings):
    furthest_px: int = Field(
        5,
        ge=1,
        le=FURTHEST,
        title="At most so far",
        description="In pixels; what has no class within that stays without one.",
    )
    shares_id: int | None = Field(
        None,
        title="By shares",
        description="An unclassified pixel gets the class with the largest share there, if a layer "
        "with shares is chosen; the nearest one where it has none.",
        json_schema_extra={"widget": "shares", "none": "not: the nearest class"},
    )
    unclassified: bool = Field(
        True, title="Fill unclassified", description="Pixels that no class was near enough to."
    )
    holes_px: int = Field(
        0,
        ge=0,
        le=LARGEST_HOLE,
        title="Fill holes below",
        description="In pixels: no data that lies inside, in patches of fewer. What reaches the "
        "edge of the map is never filled, 0 fills none.",
    )


Numbers = npt.NDArray[np.int64]


@remembered(16)
def steps_by_distance(furthest: int) -> tuple[Numbers, Numbers]:
    """Steps (n, 2) down and right within a circle by squared distance, and from where on those of
    each squared distance lie, (furthest² + 2,)."""
    side = np.arange(-furthest, furthest + 1)
    down, right = (part.reshape(-1) for part in np.meshgrid(side, side, indexing="ij"))
    away = down**2 + right**2
    order = np.argsort(away, kind="stable")
    order = order[away[order] <= furthest**2]
    starts = np.searchsorted(away[order], np.arange(furthest**2 + 2))
    return np.ascontiguousarray(np.stack([down, right], axis=1)[order]), starts.astype(np.int64)


def fill(codes: CodeArray, wanted: npt.NDArray[np.bool_], furthest: int) -> CodeArray:
    """Codes (rows, cols) in which wanted pixels have the nearest class within ``furthest`` pixels,
    the lowest code of equally near ones; distances by SciPy's exact Euclidean transform."""
    without = (codes == NODATA_CODE) | (codes == UNCLASSIFIED_CODE)
    if without.all() or not wanted.any():
        return codes
    squares = np.rint(ndimage.distance_transform_edt(without) ** 2).astype(np.int64)
    away = np.where(wanted & (squares <= furthest**2), squares, -1)
    steps, starts = steps_by_distance(furthest)
    out = np.empty_like(codes)
    fill_nearest(codes, away, steps, starts, out)
    return out


@dataclass(frozen=True)
class _Filled(NativeReading):
    source: Raster
    settings: FillSettings
    shares: Shares | None

    @property
    def bands(self) -> tuple[Band, ...]:
        return self.source.bands

    def _told(self) -> tuple[str, ...]:
        shares = self.shares.signature if self.shares else ""
        return self.source.fingerprint, f"filled {self.settings} {shares}"

    def read_native(self, window: Window, roles: tuple[str, ...]) -> Block:
        s, grid = self.settings, self.source.grid
        halo = s.furthest_px + s.holes_px
        wide = grid.with_halo(window, halo)
        top, left = window.row - wide.row, window.col - wide.col
        codes = codes_in(self.source.read(wide, roles))
        wanted = np.zeros(codes.shape, np.bool_)
        if s.unclassified:
            wanted |= codes == UNCLASSIFIED_CODE
        if s.holes_px:
            wanted |= self._holes(codes, wide)
        out = fill(codes, wanted, s.furthest_px)
        here = out[top : top + window.height, left : left + window.width]
        if s.unclassified and self.shares is not None:
            before = codes[top : top + window.height, left : left + window.width]
            here = _by_shares(here, before == UNCLASSIFIED_CODE, self.shares, window)
        return masked_block(here[None].astype(np.float32), here != NODATA_CODE)

    def _holes(self, codes: CodeArray, wide: Window) -> npt.NDArray[np.bool_]:
        """Patches of no data that are small, and do not reach the edge of the whole map."""
        empty = codes == NODATA_CODE
        labels = np.empty(codes.shape, np.int32)
        n = label_patches(empty.astype(np.uint16), True, labels)
        small = np.bincount(labels.reshape(-1), minlength=n) < self.settings.holes_px
        grid = self.source.grid
        edges = (
            (wide.row == 0, labels[0]), (wide.col == 0, labels[:, 0]),
            (wide.row + wide.height == grid.height, labels[-1]),
            (wide.col + wide.width == grid.width, labels[:, -1]),
        )  # fmt: skip
        for is_edge, touched in edges:
            if is_edge:
                small[touched] = False
        return np.asarray(empty & small[labels])


def _by_shares(
    codes: CodeArray, wanted: npt.NDArray[np.bool_], shares: Shares, window: Window
) -> CodeArray:
    """Wanted pixels with the class of the largest share there, the first of equals."""
    values = shares.read(window)
    known = wanted & ~np.isnan(values).any(axis=0)
    best = code_array(shares.codes)[np.nan_to_num(values).argmax(axis=0)]
    return np.where(known, best, codes)


def _open(raster: Raster, settings: FillSettings, context: Context) -> Raster:
    if not settings.unclassified and settings.holes_px == 0:
        raise BadSettingsError("Say what is to be filled: unclassified pixels, holes, or both.")
    return _Filled(raster, settings, open_chosen(raster, settings, context))


def _say(s: FillSettings) -> str:
    what = ["unclassified pixels"] * s.unclassified
    what += [f"holes below {s.holes_px} pixels"] * bool(s.holes_px)
    likely = "the class with the largest share, else " if s.shares_id is not None else ""
    return f"{' and '.join(what)} given {likely}the nearest class within {s.furthest_px} pixels"


SPEC = Operation(
    id="fill",
    version=1,
    station="tidy",
    title="Fill",
    short="filled",
    good_for="Gaps that a class should close: unclassified pixels, small holes.",
    source="The nearest pixel with a class, the lower code of equally near ones",
    settings=FillSettings,
    open=of_one(_open),
    say=_say,
    others=shares_chosen,
    takes=frozenset({"classes"}),
    native_side=NATIVE_SIDE,
)
