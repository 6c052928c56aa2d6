"""Minimum noise fraction: components in order of what they hold beside noise."""

import math
from typing import Any

import numpy as np
from pydantic import Field
from scipy.linalg import eigh

from kitesort.core.derive.methods._components import (
    ComponentsSettings,
    component_raster,
    found_components,
)
from kitesort.core.derive.methods._moments import band_moments, noise_moments
from kitesort.core.derive.methods._roles import chosen_roles
from kitesort.core.engine import Watch
from kitesort.core.errors import SingularCovarianceError
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.protocol import Raster

LARGEST_CONDITION = 1e12


class NoiseFractionSettings(ComponentsSettings):
    lag_px: int | None = Field(
        None,
        title="Neighbours apart, pixels",
        description="Noise is taken from differences of neighbours. Found from the coarsest band "
        "when left empty: pixels that were made of one coarse pixel do not differ.",
        ge=1,
        le=64,
    )


def _prepare(
    raster: Raster, settings: NoiseFractionSettings, _: Context, watch: Watch
) -> NoiseFractionSettings:
    """Loadings (components, bands) that make the noise of every component 1; ``eigenvalues`` are
    then variances over that of the noise.

    Source: Green, Berman, Switzer & Craig 1988, IEEE Transactions on Geoscience and Remote
    Sensing 26:65-74; noise by the minimum/maximum autocorrelation shift difference of Switzer &
    Green 1984 (both from memory; the defining property is tested).
    """
    roles = chosen_roles(raster, settings.roles)
    lag = settings.lag_px or _coarsest_lag(raster, roles)
    moments = band_moments(raster, roles, settings.pixels, watch)
    # The difference of two independent noises has twice the variance of one.
    noise = noise_moments(raster, roles, lag, settings.pixels, watch).covariance / 2
    spread = np.sqrt(np.diag(noise))
    condition = np.linalg.cond(noise / np.outer(spread, spread)) if (spread > 0).all() else np.inf
    if condition > LARGEST_CONDITION:
        raise SingularCovarianceError(
            "The noise of the bands cannot be told apart: a band has none, or two bands have the "
            "same. Leave one out, or set the neighbours farther apart."
        )
    values, vectors = eigh(moments.covariance, noise)
    loadings = vectors[:, ::-1].T
    signs = np.sign((loadings * spread).sum(axis=1))
    found = found_components(
        roles, settings.n_components, moments, loadings * signs[:, None], values[::-1]
    )
    return settings.model_copy(update=found | {"lag_px": lag})


def _coarsest_lag(raster: Raster, roles: tuple[str, ...]) -> int:
    own = raster.grid.pixel_size[0]
    sizes = [band.pixel_size or own for band in raster.bands if band.role in roles]
    return max(1, math.ceil(max(sizes) / own - 0.01))


def _derive(raster: Raster, settings: NoiseFractionSettings, _: Context) -> Raster:
    return component_raster(raster, settings, "mnf")


def _say(settings: Any) -> str:
    return (
        f"minimum noise fraction 1 to {settings.n_components} of {len(settings.roles)} bands, "
        f"noise from neighbours {settings.lag_px} pixels apart, from {settings.n_pixels:,} pixels"
    )


SPEC = Operation(
    id="noise-fraction",
    version=1,
    station="derive",
    title="Minimum noise fraction",
    good_for="Noisy bands: the first components are the cleanest, whatever their variance.",
    source="Green, Berman, Switzer & Craig 1988, IEEE TGRS 26:65-74",
    settings=NoiseFractionSettings,
    open=of_one(_derive),
    say=_say,
    name=lambda _: "Minimum noise fraction",
    prepare=of_one(_prepare),
    is_slow=lambda s: s.pixels == "every",
)
