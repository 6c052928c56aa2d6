"""Cover by cause: what grows or lies where, for each date."""

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
from scipy import ndimage

from kitesort.demo.fields import Parcels
from kitesort.demo.ground import SHAPE, Ground
from kitesort.demo.noise import Field, power_law_noise
from kitesort.demo.people import Works

WATER, MUD, MARSH, REED, PASTURE, BARLEY, CONIFER, SHINGLE, BUILT = range(1, 10)
Codes = npt.NDArray[np.uint8]


@dataclass(frozen=True)
class CoverNoise:
    """Ragged edges, the same at every date."""

    marsh: Field
    reed: Field
    bar: Field
    fine: Field


def make_cover_noise(rng: np.random.Generator) -> CoverNoise:
    return CoverNoise(
        power_law_noise(SHAPE, 1.45, rng, longest_px=420),
        power_law_noise(SHAPE, 1.5, rng, longest_px=160),
        power_law_noise(SHAPE, 1.7, rng, longest_px=300),
        power_law_noise(SHAPE, 0.9, rng, longest_px=40),
    )


def make_cover(
    ground: Ground,
    parcels: Parcels,
    works: Works,
    noise: CoverNoise,
    tide_m: float,
    breached: bool,
) -> Codes:
    """Codes 1 to 9 (1440, 1920) at one date."""
    cover = _farmland(ground, parcels)
    tidal = ground.tidal_after if breached else ground.tidal_before
    shore = _tidal_covers(ground, noise, tide_m)
    newly = ground.tidal_after & ~ground.tidal_before & breached
    shore = np.where(newly, _young_flat(ground, parcels, noise, shore), shore)
    cover = np.where(tidal, shore, cover)
    cover = np.where(_shingle_bar(ground, noise, tide_m), SHINGLE, cover)
    cover = np.where(works.gardens & (cover >= PASTURE) & (cover != BUILT), PASTURE, cover)
    cover = np.where((works.buildings | works.roads) & ~tidal, BUILT, cover)
    wall = works.wall_after if breached else works.wall_before
    return np.where(wall, PASTURE, cover).astype(np.uint8)


def _farmland(ground: Ground, parcels: Parcels) -> Codes:
    """One cover per parcel: conifers by majority on high ground, else barley or pasture."""
    present = np.unique(parcels.number)
    index = np.arange(len(parcels.draw))
    height, inland = np.zeros((2, len(index)))
    height[present] = ndimage.mean(ground.height_m, parcels.number, present)
    inland[present] = ndimage.mean(ground.inland_km, parcels.number, present)
    barley = parcels.draw < np.where(inland < 3.3, 0.45, 0.5)
    per_parcel = np.where(barley, BARLEY, PASTURE)
    high = height > np.percentile(height[inland > 3.3], 82)
    per_parcel = np.where(high & (parcels.draw > 0.22), CONIFER, per_parcel)
    return per_parcel.astype(np.uint8)[parcels.number]


def _tidal_covers(ground: Ground, noise: CoverNoise, tide_m: float) -> Codes:
    level = ground.height_m + 0.05 * noise.fine
    marsh_edge = 1.62 + 0.42 * noise.marsh - 0.25 * np.exp(-np.maximum(ground.creek_px, 0) / 14)
    cover = np.where(level > marsh_edge, MARSH, MUD)
    near_upper = ground.upper_creek < 16 + 12 * noise.reed
    reedy = near_upper & (level > 2.3 + 0.15 * noise.marsh) & (noise.reed > -0.5)
    cover = np.where(reedy, REED, cover)
    bank = (ground.creek_px < 3.0 + 1.2 * noise.fine) & (cover >= MARSH)
    cover = np.where(bank, MUD, cover)
    wet = (level < tide_m) | (ground.creek_px + 0.35 * noise.fine < 0.6 * tide_m - 0.2)
    return np.where(wet, WATER, cover).astype(np.uint8)


def _young_flat(ground: Ground, parcels: Parcels, noise: CoverNoise, shore: Codes) -> Codes:
    """Two years after the breach: mud with patches of marsh, old field edges still to be seen."""
    marshy = noise.marsh + 0.5 * parcels.brightness[parcels.number] + (ground.height_m - 2.6) > 0.45
    ditch = (parcels.edge_m < 5) & (parcels.draw[parcels.number] > 0.35)
    young = np.where(marshy, MARSH, MUD)
    young = np.where((shore == REED) & marshy, REED, young)
    young = np.where(ditch & ~marshy, WATER, young)
    return np.where(shore == WATER, WATER, young).astype(np.uint8)


def _shingle_bar(ground: Ground, noise: CoverNoise, tide_m: float) -> npt.NDArray[np.bool_]:
    """A bar off the coast with gaps, narrower when the tide is high."""
    across = ground.inland_km + 0.42 + 0.05 * noise.bar
    half_width = 0.062 - 0.02 * tide_m + 0.03 * noise.bar
    gaps = np.sin(np.linspace(0, 1, SHAPE[0]) * 19 + 1.0)[:, None] + 0.5 * noise.bar < -0.55
    beach = (np.abs(ground.inland_km - 0.20 - 0.06 * noise.bar) < 0.02) & (noise.reed > 0.7)
    return ((np.abs(across) < half_width) & ~gaps) | beach
