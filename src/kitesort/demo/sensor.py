"""The made-up eight-band sensor: blur, haze, cloud and shadow, noise, digital numbers."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy import ndimage

from kitesort.demo.ground import FINE_M, SHAPE
from kitesort.demo.noise import Field, power_law_noise, smoothstep
from kitesort.demo.scene import GroundReflectance
from kitesort.demo.spectra import ROLES

SENSOR = "Whimbrel-8"


@dataclass(frozen=True)
class SensorBand:
    """A band as it is built: blur in its own pixels, noise in reflectance, factors to radiance."""

    number: int
    role: str
    wavelength_um: float
    pixel_m: int
    blur_px: float
    noise: float
    haze: float
    gain: float
    offset: float


# fmt: off
BANDS = tuple(
    SensorBand(i + 1, role, *row)
    for i, (role, row) in enumerate(zip(ROLES, [
        (0.443, 60, 0.45, .0010, .060, 2.00e-5, -.050),
        (0.490, 10, 0.55, .0014, .046, 2.00e-5, -.050),
        (0.560, 10, 0.52, .0014, .030, 2.00e-5, -.050),
        (0.665, 10, 0.52, .0016, .019, 2.00e-5, -.050),
        (0.705, 20, 0.48, .0018, .014, 2.00e-5, -.050),
        (0.842, 10, 0.55, .0026, .008, 2.50e-5, -.060),
        (1.610, 20, 0.50, .0020, .002, 2.20e-5, -.040),
        (2.190, 20, 0.50, .0022, .001, 1.80e-5, -.040),
    ], strict=True))
)
# fmt: on
FILL_DN, SATURATED_DN = 0, 65535
BIT_NAMES = ("fill", "cloud", "cloud_shadow", "water", "saturated")
CLOUD_REFLECTANCE = np.array([0.56, 0.57, 0.56, 0.56, 0.56, 0.57, 0.42, 0.33], np.float32)


@dataclass(frozen=True)
class Sky:
    """Haze strength and cloud: 0 to 1 opacity and shadow at 5 m."""

    haze: float
    opacity: Field
    shadow: Field


def make_sky(
    rng: np.random.Generator, haze: float, cloud_share: float, centre: tuple[float, float] | None
) -> Sky:
    """Cumulus over ``cloud_share`` of the scene, gathered round a centre (x, y in 0 to 1)."""
    if cloud_share == 0:
        return Sky(haze, np.zeros(SHAPE, np.float32), np.zeros(SHAPE, np.float32))
    puffs = power_law_noise(SHAPE, 1.55, rng, longest_px=240)
    if centre is not None:
        rows, cols = np.mgrid[0 : SHAPE[0], 0 : SHAPE[1]].astype(np.float32)
        away = np.hypot(cols / SHAPE[1] - centre[0], (rows / SHAPE[0] - centre[1]) * 0.75)
        puffs = puffs - 9 * away
    threshold = float(np.quantile(puffs, 1 - cloud_share))
    opacity = smoothstep(puffs, threshold - 0.12, threshold + 0.45) * np.float32(0.96)
    shadow = ndimage.shift(opacity, (-46, -40), order=1, mode="constant")
    return Sky(haze, opacity, 0.62 * ndimage.gaussian_filter(shadow, 2))


@dataclass(frozen=True)
class SensedBand:
    """Digital numbers uint16 at the band's own resolution."""

    band: SensorBand
    numbers: npt.NDArray[np.uint16]


def sense_band(
    ground: GroundReflectance,
    position: int,
    sky: Sky,
    fill: npt.NDArray[np.bool_],
    shift_px: float,
    seed: int,
) -> SensedBand:
    """See one band: ``fill`` (1440, 1920) marks what was not imaged."""
    band = BANDS[position]
    rng = np.random.default_rng([seed, position])
    field = ground.band(position)
    field = field * (1 - sky.shadow * (1 - 0.25 * band.haze / 0.06))
    field += np.float32(band.haze * sky.haze)
    field += sky.opacity * (CLOUD_REFLECTANCE[position] - field)
    if shift_px:
        field = ndimage.shift(field, (shift_px, -shift_px), order=1, mode="nearest")
    step = round(band.pixel_m / FINE_M)
    field = ndimage.gaussian_filter(field, band.blur_px * step, truncate=2.5)
    field = block_mean(field, step)
    field += rng.normal(0, band.noise, field.shape)
    sine = np.sin(np.deg2rad(ground.moment.sun_elevation_deg))
    numbers = np.rint((field * sine - band.offset) / band.gain)
    numbers = numbers.clip(1, SATURATED_DN)
    numbers[block_mean(fill.astype(np.float32), step) > 0.001] = FILL_DN
    return SensedBand(band, numbers.astype(np.uint16))


def quality_flags(
    sky: Sky, fill: npt.NDArray[np.bool_], water: npt.NDArray[np.bool_]
) -> npt.NDArray[np.uint16]:
    """Quality band at 10 m: bit 0 fill, 1 cloud, 2 cloud shadow, 3 water, 4 saturated."""
    flags = np.zeros((SHAPE[0] // 2, SHAPE[1] // 2), np.uint16)
    for bit, field in enumerate((fill > 0, sky.opacity, sky.shadow, water)):
        share = block_mean(np.asarray(field, np.float32), 2)
        flags |= ((share > (0.001, 0.06, 0.10, 0.5)[bit]).astype(np.uint16)) << np.uint16(bit)
    return flags


def block_mean(field: Field, step: int) -> Field:
    rows, cols = field.shape
    blocks = field.reshape(rows // step, step, cols // step, step)
    return blocks.mean(axis=(1, 3), dtype=np.float32)


def slanted_fill(offset_px: float, slope: float) -> npt.NDArray[np.bool_]:
    """What lies beyond the swath's slanted edge."""
    rows, cols = np.mgrid[0 : SHAPE[0], 0 : SHAPE[1]].astype(np.float32)
    return cols + slope * rows < offset_px
