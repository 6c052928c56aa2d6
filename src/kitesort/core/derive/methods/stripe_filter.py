"""Stripes of a scanner taken out by their place in the frequency domain."""

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt
from pydantic import Field
from scipy import fft

from kitesort.core.derive.methods._roles import RolesSettings
from kitesort.core.engine import Watch
from kitesort.core.newest import remembered
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.neighbourhood import ALL_SIDE, Around, NativeRaster
from kitesort.core.raster.protocol import Float32Array, Raster, Shape, band_positions, roles_of

# Tiles lie at the same places whatever is asked for, so that no block's shape changes a pixel.
TILE = 256
REACH = 4.0  # standard deviations after which a Gaussian is nothing in float32
LEAST_WEIGHT = 1e-3  # of valid pixels under a Gaussian, below which it says nothing


class StripeFilterSettings(RolesSettings):
    direction_deg: float = Field(
        0.0,
        title="Direction of the stripes, degrees",
        description="0 runs along the rows, 90 down the columns, 45 from lower left to upper "
        "right. Of a scene that was turned to north, measure it on the map.",
        ge=0,
        lt=180,
        allow_inf_nan=False,
    )
    length_px: int = Field(
        400,
        title="Length at least, pixels",
        description="What is shorter stays: field borders, roads. The longer, the gentler; as long "
        "as the stripes are.",
        ge=16,
        le=600,
    )
    period_px: int = Field(
        12,
        title="Repeating within, pixels",
        description="The number of the scanner’s detectors, or a little more. What changes more "
        "slowly across the stripes stays: fields, slopes, shores.",
        ge=2,
        le=100,
    )


def _prepare(
    raster: Raster, settings: StripeFilterSettings, _: Context, _watch: Watch
) -> StripeFilterSettings:
    band_positions(raster.bands, settings.roles)
    roles = tuple(dict.fromkeys(settings.roles)) or roles_of(raster)
    return settings.model_copy(update={"roles": roles})


@dataclass(frozen=True)
class _Filter:
    """Picklable: values less their stripes.

    Of a spectrum F the share A (1 - B) is taken away: A, a Gaussian around the line of frequencies
    that do not change along the stripes; B, one around those that hardly change across them. Where
    pixels are missing, both are weighted by the valid ones (normalised convolution, H. Knutsson
    and C.-F. Westin 1993, from memory), so that edges of data are no stripes.
    """

    direction_deg: float
    along_px: float
    across_px: float

    @property
    def halo(self) -> tuple[int, int]:
        """Rows and columns that the Gaussians reach over, in steps that make a tile easy to
        transform."""
        angle = math.radians(self.direction_deg)
        reach = (
            math.hypot(self.along_px * math.sin(angle), self.across_px * math.cos(angle)),
            math.hypot(self.along_px * math.cos(angle), self.across_px * math.sin(angle)),
        )
        rows, cols = (32 * math.ceil(REACH * sigma / 32) for sigma in reach)
        return rows, cols

    def __call__(self, around: Around) -> Float32Array:
        band, usable = around.block.values[0], around.block.valid
        valid = self._on_tiles(around, usable)
        values = self._on_tiles(around, np.where(usable, band, 0))
        stripes = np.zeros_like(values)
        halo = self.halo
        inner = tuple(slice(reach, reach + TILE) for reach in halo)
        for row in range(0, valid.shape[0] - 2 * halo[0], TILE):
            for col in range(0, valid.shape[1] - 2 * halo[1], TILE):
                rows = slice(row, row + TILE + 2 * halo[0])
                cols = slice(col, col + TILE + 2 * halo[1])
                if valid[rows, cols].any():
                    found = self._stripes_of(values[rows, cols], valid[rows, cols])
                    stripes[rows, cols][inner] = found[inner]
        return around.pick((band - stripes[self._place(around)])[None])

    def _on_tiles(self, around: Around, values: npt.NDArray[Any]) -> Float32Array:
        """Values (rows, cols) of what was read on whole tiles and a halo around, zero elsewhere."""
        asked = around.asked
        sides = (_whole_tiles(asked.row, asked.height), _whole_tiles(asked.col, asked.width))
        shape = [
            stop - start + 2 * reach for (start, stop), reach in zip(sides, self.halo, strict=True)
        ]
        padded = np.zeros(shape, np.float32)
        padded[self._place(around)] = values
        return padded

    def _place(self, around: Around) -> tuple[slice, slice]:
        """Where what was read lies on whole tiles and a halo around."""
        window, asked, halo = around.window, around.asked, self.halo
        top = window.row - _whole_tiles(asked.row, asked.height)[0] + halo[0]
        left = window.col - _whole_tiles(asked.col, asked.width)[0] + halo[1]
        return slice(top, top + window.height), slice(left, left + window.width)

    def _stripes_of(self, values: Float32Array, valid: Float32Array) -> Float32Array:
        """Stripes of a tile's values, which are zero where not valid."""
        shape, n_valid = (valid.shape[0], valid.shape[1]), valid.sum(dtype=np.float64)
        along, across = _responses(shape, self)
        spectrum = fft.rfft2((values - np.float32(values.sum(dtype=np.float64) / n_valid)) * valid)
        if n_valid == valid.size:
            return np.asarray(fft.irfft2(spectrum * (along * (1 - across)), shape))
        weights = fft.rfft2(valid)
        line = _weighted_mean(spectrum * along, weights * along, shape)
        return line - _weighted_mean(spectrum * (along * across), weights * (along * across), shape)


@remembered(8)
def _responses(shape: Shape, how: _Filter) -> tuple[Float32Array, Float32Array]:
    """Gaussian responses (rows, half the columns) along and across the stripes."""
    angle = math.radians(how.direction_deg)
    down, right = fft.fftfreq(shape[0])[:, None], fft.rfftfreq(shape[1])[None, :]
    along = right * math.cos(angle) - down * math.sin(angle)
    across = right * math.sin(angle) + down * math.cos(angle)
    a, b = (
        np.exp(-2 * (math.pi * sigma * frequency) ** 2).astype(np.float32)
        for sigma, frequency in ((how.along_px, along), (how.across_px, across))
    )
    return a, b


def _weighted_mean(
    sums: npt.NDArray[np.complex64], weights: npt.NDArray[np.complex64], shape: Shape
) -> Float32Array:
    """Sums over weights, back from the frequency domain; zero where nothing valid is near."""
    total, weight = fft.irfft2(sums, shape), fft.irfft2(weights, shape)
    return np.where(weight > LEAST_WEIGHT, total / np.maximum(weight, LEAST_WEIGHT), np.float32(0))


def _whole_tiles(start: int, length: int) -> tuple[int, int]:
    """Where the tiles begin and end that hold a stretch of rows or columns."""
    return start // TILE * TILE, ((start + length - 1) // TILE + 1) * TILE


def _derive(raster: Raster, settings: StripeFilterSettings, _: Context) -> Raster:
    how = _Filter(settings.direction_deg, settings.length_px / 5, settings.period_px / 3)
    bands = tuple(band for band in raster.bands if band.role in settings.roles)
    roles = tuple(band.role for band in bands)
    return NativeRaster(raster, roles, bands, how.halo, how, repr(settings), TILE, True, ALL_SIDE)


def _say(s: StripeFilterSettings) -> str:
    return (
        f"{', '.join(s.roles)} without stripes at {s.direction_deg:g}° that are at least "
        f"{s.length_px} pixels long and repeat within {s.period_px} pixels"
    )


SPEC = Operation(
    id="stripe-filter",
    version=1,
    station="derive",
    title="Stripe filter",
    good_for="Stripes of a scanner, whose lines or columns differ a little in gain.",
    source="Textbook filter in the frequency domain; for scanner stripes J.-J. Pan and C.-I. Chang "
    "1992, Photogrammetric Engineering and Remote Sensing 58:1417-1423",
    settings=StripeFilterSettings,
    open=of_one(_derive),
    say=_say,
    name=lambda _: "Without stripes",
    prepare=of_one(_prepare),
    native_side=ALL_SIDE,
    keeps_units=True,
)
