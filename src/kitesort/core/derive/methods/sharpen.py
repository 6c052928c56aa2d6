"""Coarse bands with the detail of finer ones, every pixel laid where it really is."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from affine import Affine
from pydantic import Field

from kitesort.core.bands import Band, Role
from kitesort.core.derive.methods._components import HIDDEN
from kitesort.core.derive.methods._linear import linear_raster
from kitesort.core.engine import Watch
from kitesort.core.errors import BadSettingsError, NoValidPixelsError
from kitesort.core.grid import Grid, Window
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.neighbourhood import ALL_SIDE, NativeReading
from kitesort.core.raster.protocol import Block, Raster, band_positions, block_of, roles_of
from kitesort.core.raster.sample import spread_windows
from kitesort.core.raster.warp import WarpedRaster
from kitesort.core.settings import Settings

DETAIL = "detail"


class SharpenSettings(Settings):
    """What is asked for; and, once prepared, how much detail each coarse band takes: ``gains``
    beside ``roles``."""

    roles: tuple[str, ...] = Field(
        (),
        title="Bands to sharpen",
        description="All that are coarser than the scene’s pixels where none is chosen.",
        max_length=256,
        json_schema_extra={"widget": "roles"},
    )
    fine: tuple[str, ...] = Field(
        (),
        title="Detail from",
        description="The panchromatic band where none is chosen and the scene has one, else the "
        "mean of all bands recorded at the scene’s pixel size.",
        max_length=256,
        json_schema_extra={"widget": "roles"},
    )
    gains: tuple[float, ...] = Field((), json_schema_extra=HIDDEN)


def _prepare(
    raster: Raster, settings: SharpenSettings, _: Context, _watch: Watch
) -> SharpenSettings:
    """Finds the gains.

    Source: B. Aiazzi, L. Alparone, S. Baronti and A. Garzelli 2002, IEEE Transactions on
    Geoscience and Remote Sensing 40:2300-2312 (from memory; here with one slope for a scene, from
    details alone: tests/reference holds it against plain interpolation on real bands).
    """
    band_positions(raster.bands, (*settings.fine, *settings.roles))
    fine = settings.fine or _usual_fine(raster)
    coarse = tuple(dict.fromkeys(settings.roles)) or tuple(
        band.role for band in raster.bands if _is_coarse(band, raster.grid)
    )
    _require_sizes(raster, fine, coarse)
    detail = _mean_of(raster, fine)
    gains: dict[str, float] = {}
    for native, roles in _by_native(raster, coarse).items():
        gains |= _gains(raster, detail, native, roles)
    in_order = tuple(gains[role] for role in coarse)
    return settings.model_copy(update={"roles": coarse, "fine": fine, "gains": in_order})


def _usual_fine(raster: Raster) -> tuple[str, ...]:
    if Role.PAN in roles_of(raster):
        return (Role.PAN.value,)
    return tuple(band.role for band in raster.bands if band.native is None)


def _is_coarse(band: Band, grid: Grid) -> bool:
    return band.native is not None and band.native.pixel_size[0] > 1.01 * grid.pixel_size[0]


def _require_sizes(raster: Raster, fine: tuple[str, ...], coarse: tuple[str, ...]) -> None:
    """Raises BadSettingsError unless there are fine bands, on the scene's grid, and coarse ones."""
    bands = {band.role: band for band in raster.bands}
    wrong = [role for role in fine if bands[role].native is not None]
    if wrong:
        raise BadSettingsError(
            "Detail comes from bands recorded at the scene’s own pixel size, which "
            f"{', '.join(wrong)} {'was' if len(wrong) == 1 else 'were'} not."
        )
    same = [role for role in coarse if not _is_coarse(bands[role], raster.grid)]
    if same:
        raise BadSettingsError(
            f"{', '.join(same)} {'is' if len(same) == 1 else 'are'} as fine as the scene’s pixels "
            "already. Choose only coarser bands."
        )
    if not fine or not coarse:
        raise BadSettingsError(
            "There is nothing to sharpen: that takes bands as fine as the scene’s pixels and "
            "coarser ones. Bring the scene in on the grid of its finest band; a panchromatic one "
            "is left out unless you take it in."
        )


def _mean_of(raster: Raster, fine: tuple[str, ...]) -> Raster:
    return linear_raster(raster, fine, (DETAIL,), [[1 / len(fine)] * len(fine)])


def _gains(raster: Raster, detail: Raster, native: Grid, roles: list[str]) -> dict[str, float]:
    """How much of the fine band's detail each band takes: the slope between what both, seen at the
    band's own pixel size, have beyond a surface of twice that size."""
    averages = WarpedRaster(detail, native, "average")
    own = WarpedRaster(raster, native, "nearest")
    sums = np.zeros((len(roles), 3))
    for window in spread_windows(native, 3):
        fine = _beyond_smooth(averages, DETAIL, window)
        for i, role in enumerate(roles):
            band = _beyond_smooth(own, role, window)
            valid = band.valid & fine.valid
            x, y = (block.values[0][valid].astype(np.float64) for block in (fine, band))
            sums[i] += float(x @ y), float(x @ x), x.size
    together, spread, n_pixels = sums.T
    if (n_pixels < 3).any():
        raise NoValidPixelsError("Fewer than three pixels are valid in both coarse and fine bands.")
    if (spread <= 1e-14 * n_pixels).any():
        raise BadSettingsError("The fine band is the same everywhere: it has no detail to give.")
    slopes = together / spread
    return {role: float(f"{slope:.12g}") for role, slope in zip(roles, slopes, strict=True)}


def _beyond_smooth(raster: Raster, role: str, window: Window) -> Block:
    smooth = WarpedRaster(
        WarpedRaster(raster, _twice(raster.grid), "average"), raster.grid, "bilinear"
    )
    seen, low = raster.read(window, (role,)), smooth.read(window, (role,))
    return block_of(seen.values - low.values)


def _twice(grid: Grid) -> Grid:
    transform = grid.transform @ Affine.scale(2)
    return Grid(grid.crs, transform, -(-grid.height // 2), -(-grid.width // 2))


def _by_native(raster: Raster, roles: tuple[str, ...]) -> dict[Grid, list[str]]:
    """Bands by the grid that they were recorded on."""
    found: dict[Grid, list[str]] = {}
    for band in raster.bands:
        if band.role in roles:
            found.setdefault(band.native or raster.grid, []).append(band.role)
    return found


@dataclass(frozen=True)
class SharpenedRaster(NativeReading):
    """``source`` with its ``coarse`` bands interpolated (bilinear) from their own pixels, plus
    gain times what the fine band has there beyond its own averages over those pixels, interpolated
    in the same way. All other bands are passed on."""

    source: Raster
    fine: tuple[str, ...]
    gains: tuple[tuple[str, float], ...]

    @cached_property
    def bands(self) -> tuple[Band, ...]:
        size = self.grid.pixel_size[0]
        names = dict(self.gains)
        return tuple(
            replace(band, native=None, pixel_size=size) if band.role in names else band
            for band in self.source.bands
        )

    def _told(self) -> tuple[str, ...]:
        return self.source.fingerprint, "sharpen", str(self.fine), str(self.gains)

    def read_native(self, window: Window, roles: tuple[str, ...]) -> Block:
        block = self.source.read(window, roles)
        bands = dict(zip(roles, block.values, strict=True))
        gains = dict(self.gains)
        wanted = tuple(role for role in roles if role in gains)
        for native, mine in _by_native(self.source, wanted).items():
            detail = self._detail_beyond(native, window)
            for role in mine:  # one at a time: what is missing in one must not change another
                own = WarpedRaster(self.source, native, "nearest")
                found = WarpedRaster(own, self.grid, "bilinear").read(window, (role,))
                sharp = found.values[0] + np.float32(gains[role]) * detail.values[0]
                bands[role] = np.where(np.isnan(bands[role]), np.float32(np.nan), sharp)
        return block_of(np.stack([bands[role] for role in roles]))

    def _detail_beyond(self, native: Grid, window: Window) -> Block:
        """What the fine bands have beyond their averages over the pixels of a coarse grid."""
        mean = _mean_of(self.source, self.fine)
        averages = WarpedRaster(WarpedRaster(mean, native, "average"), self.grid, "bilinear")
        fine, smooth = mean.read(window), averages.read(window)
        return block_of(fine.values - smooth.values)


def _derive(raster: Raster, settings: SharpenSettings, _: Context) -> Raster:
    gains = tuple(zip(settings.roles, settings.gains, strict=True))
    return SharpenedRaster(raster, settings.fine, gains)


def _say(s: SharpenSettings) -> str:
    gains = ", ".join(f"{role} × {gain:.3g}" for role, gain in zip(s.roles, s.gains, strict=False))
    return f"coarse bands sharpened with the detail of {', '.join(s.fine)} ({gains})"


SPEC = Operation(
    id="sharpen",
    version=1,
    station="derive",
    title="Sharpen",
    good_for="Coarse bands at the pixel size of the panchromatic or the finest bands; how much of "
    "their detail a band takes follows from how alike the two are.",
    source="Aiazzi, Alparone, Baronti & Garzelli 2002, IEEE TGRS 40:2300-2312",
    settings=SharpenSettings,
    open=of_one(_derive),
    say=_say,
    name=lambda _: "Sharpened",
    prepare=of_one(_prepare),
    native_side=ALL_SIDE,
    keeps_units=True,
)
