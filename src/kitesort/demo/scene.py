"""What the ground reflects on a date, at 5 m, before the sensor sees it."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy import ndimage

from kitesort.demo.cover import (
    BARLEY,
    MUD,
    PASTURE,
    WATER,
    Codes,
    CoverNoise,
    make_cover,
    make_cover_noise,
)
from kitesort.demo.fields import Parcels, make_parcels
from kitesort.demo.ground import FINE_M, SHAPE, Ground, make_ground
from kitesort.demo.noise import Field, power_law_noise, smoothstep
from kitesort.demo.people import Works, make_works
from kitesort.demo.spectra import HEDGE, TURBID, VIGOUR, Texture, base_table, spread_tables

SUN_AZIMUTH_DEG = 152.0
ROW_SPACING_M = 23.0


@dataclass(frozen=True)
class Landscape:
    """All that stays the same between the dates."""

    ground: Ground
    parcels: Parcels
    works: Works
    cover_noise: CoverNoise
    texture: Texture
    plume: Field


def make_landscape(seed: int) -> Landscape:
    rng = np.random.default_rng(seed)
    ground = make_ground(rng)
    parcels = make_parcels(rng)
    works = make_works(ground, parcels, rng)
    cover_noise = make_cover_noise(rng)
    texture = Texture(
        power_law_noise(SHAPE, 0.35, rng),
        power_law_noise(SHAPE, 1.1, rng, longest_px=120),
        power_law_noise(SHAPE, 1.8, rng, longest_px=600),
        power_law_noise(SHAPE, 1.3, rng, longest_px=200),
    )
    return Landscape(ground, parcels, works, cover_noise, texture, _make_plume(ground, rng))


def _make_plume(ground: Ground, rng: np.random.Generator) -> Field:
    """Turbidity 0 to 1, strongest along the flat, in streaks."""
    streaks = power_law_noise(SHAPE, 1.6, rng, longest_px=500)
    offshore = -ground.inland_km
    return (smoothstep(offshore + 0.25 * streaks, 1.3, -0.35) * (0.75 + 0.18 * streaks)).clip(
        0, 1.2
    )


@dataclass(frozen=True)
class Moment:
    """When a scene is taken."""

    season: str
    tide_m: float
    breached: bool
    sun_elevation_deg: float


def ground_cover(land: Landscape, moment: Moment) -> Codes:
    return make_cover(
        land.ground, land.parcels, land.works, land.cover_noise, moment.tide_m, moment.breached
    )


@dataclass(frozen=True)
class GroundReflectance:
    """Reflectance of one moment, band by band, so that few full-size fields are held at once."""

    land: Landscape
    moment: Moment
    cover: Codes
    brightness: Field
    vigour: Field
    hedge: Field

    def band(self, position: int) -> Field:
        """Reflectance (1440, 1920) of one of the eight bands."""
        table = base_table(self.moment.season)[:, position]
        field = table[self.cover]
        field += self._late_crops(position)
        field *= self.brightness
        field += VIGOUR[position] * self.vigour
        water = self.cover == WATER
        field += np.where(water, TURBID[position] * self.land.plume, 0)
        field += self.hedge * (HEDGE[position] - field)
        return np.maximum(field, 0.001).astype(np.float32)

    def _late_crops(self, position: int) -> npt.NDArray[np.float32]:
        """Fields sown late are still half green in summer."""
        parcels = self.land.parcels
        summer, spring = base_table("summer")[:, position], base_table("spring")[:, position]
        late = np.clip((parcels.phase - 0.35) * 0.9, 0, 0.55)[parcels.number]
        is_crop = (self.cover == BARLEY) & (self.moment.season == "summer")
        return np.where(is_crop, late * (spring[BARLEY] - summer[BARLEY]), 0).astype(np.float32)


def make_reflectance(land: Landscape, moment: Moment) -> GroundReflectance:
    cover = ground_cover(land, moment)
    by_brightness, by_vigour = spread_tables()
    t, parcels = land.texture, land.parcels
    farmed = (cover == PASTURE) | (cover == BARLEY)
    brightness = by_brightness[cover] * (0.62 * t.fine + 0.5 * t.middle + 0.45 * t.broad)
    brightness += np.where(farmed, 0.065 * parcels.brightness[parcels.number], 0)
    rows = np.sin(2 * np.pi * parcels.across_m / ROW_SPACING_M + 3 * parcels.phase[parcels.number])
    brightness += np.where(cover == BARLEY, 0.05 * rows, 0)
    wetness = smoothstep(land.ground.height_m, moment.tide_m + 0.5, moment.tide_m - 0.2)
    brightness -= np.where(cover == MUD, 0.28 * wetness, 0)
    shade = _hillshade(land.ground, moment.sun_elevation_deg)
    shade = np.where((cover == WATER) | (cover == MUD), 1, shade)
    vigour = by_vigour[cover] * 10 * (0.35 * t.fine + 0.7 * t.vigour)
    vigour += np.where(farmed, 0.5 * parcels.phase[parcels.number], 0)
    return GroundReflectance(
        land,
        moment,
        cover,
        ((1 + brightness).clip(0.25, 2.2) * shade).astype(np.float32),
        (0.45 * vigour).astype(np.float32),
        _hedges(land, farmed),
    )


def _hedges(land: Landscape, farmed: npt.NDArray[np.bool_]) -> Field:
    """Share of woody growth along most parcel edges."""
    parcels = land.parcels
    has_hedge = parcels.draw[parcels.number] > 0.25
    width = 5.0 + 1.5 * land.cover_noise.fine
    near = smoothstep(parcels.edge_m, 9.0, 2.0) * (parcels.edge_m < width + 4)
    return np.where(farmed & has_hedge, 0.75 * near, 0).astype(np.float32)


def _hillshade(ground: Ground, sun_elevation_deg: float) -> Field:
    """Relative illumination of the slopes, 1 on the level; relief exaggerated to be seen."""
    surface = ndimage.gaussian_filter(ground.height_m, 3) * 2.5
    down, right = np.gradient(surface, FINE_M)
    zenith, azimuth = np.deg2rad(90 - sun_elevation_deg), np.deg2rad(SUN_AZIMUTH_DEG)
    towards_east, towards_north = np.sin(azimuth), np.cos(azimuth)
    slope_term = -(right * towards_east - down * towards_north)
    norm = np.sqrt(1 + right**2 + down**2)
    shade = (np.cos(zenith) + np.sin(zenith) * slope_term) / norm / np.cos(zenith)
    return shade.clip(0.35, 1.5).astype(np.float32)
