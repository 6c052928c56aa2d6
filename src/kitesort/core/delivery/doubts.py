"""Whether the numbers of a delivery contradict the roles that its bands were given."""

from collections.abc import Mapping
from dataclasses import replace

import numpy as np
import numpy.typing as npt

from kitesort.core.delivery.scene import DeliveredScene
from kitesort.core.raster.protocol import Block
from kitesort.core.raster.sample import plan_sample

MOST_PIXELS = 256**2
MOST, MANY = 0.8, 0.7  # of the pixels that a rule speaks of
LEAST_PIXELS = 50
LAND_PERCENT, BARE_PERCENT = 50.0, 75.0
Sample = Mapping[str, npt.NDArray[np.float64]]


def doubts_about(scene: DeliveredScene, roles: Mapping[int, str]) -> list[str]:
    """Questions about roles (by the bands' positions) that the ground seldom bears out; sampled
    from native pixels spread over the scene. Common practice: green plants are brighter in the near
    infrared than in red, and bare ground brighter in red than in blue, once the haze's share, the
    darkest pixels, is taken off."""
    wanted = {
        role: scene.bands[i]
        for i, role in roles.items()
        if role in ("blue", "red", "nir") and i < len(scene.bands)
    }
    rasters = [(role, replace(scene.open_band(b), crs="EPSG:3857")) for role, b in wanted.items()]
    grids = {(raster.grid.height, raster.grid.width) for _, raster in rasters}
    if len(rasters) < 2 or len(grids) > 1:
        return []  # bands on other pixels cannot be held against each other one by one
    windows = plan_sample(rasters[0][1].grid, most=MOST_PIXELS).windows
    return doubts_of(
        {
            role: np.concatenate([_values(raster.read(window)) for window in windows])
            for role, raster in rasters
        }
    )


def _values(block: Block) -> npt.NDArray[np.float64]:
    return np.where(block.valid, block.values[0].astype(np.float64), np.nan).ravel()


def doubts_of(sample: Sample) -> list[str]:
    """From values of the same pixels by role; not-a-number where there is none."""
    found = []
    if {"red", "nir"} <= sample.keys():
        red, nir = _apart_from_haze(sample["red"]), _apart_from_haze(sample["nir"])
        share = _share(red > nir, _brightest(red + nir, LAND_PERCENT))
        if share > MOST:
            found.append(
                f"Red is brighter than near infrared in {share:.0%} of the bright pixels, which "
                "land seldom is. Are the two bands in the right order?"
            )
    if {"blue", "red"} <= sample.keys():
        blue, red = _apart_from_haze(sample["blue"]), _apart_from_haze(sample["red"])
        share = _share(blue > 1.2 * red, _brightest(blue + red, BARE_PERCENT))
        if share > MANY:
            found.append(
                f"Blue is much brighter than red in {share:.0%} of the bright pixels, which bare "
                "ground seldom is. Are the two bands in the right order?"
            )
    return found


def _apart_from_haze(values: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
    known = values[np.isfinite(values)]
    return values - np.percentile(known, 1) if known.size else values


def _brightest(values: npt.NDArray[np.float64], percent: float) -> npt.NDArray[np.bool_]:
    """Above a percentile; water falls out of the brighter half, plants of the brightest quarter."""
    known = values[np.isfinite(values)]
    limit = np.percentile(known, percent) if known.size else np.inf
    return np.isfinite(values) & (values > limit)


def _share(so: npt.NDArray[np.bool_], of: npt.NDArray[np.bool_]) -> float:
    return float(so[of].mean()) if of.sum() >= LEAST_PIXELS else 0.0
