"""Principal components: the directions in which the bands vary most."""

from typing import Literal

import numpy as np
from pydantic import Field

from kitesort.core.derive.methods._components import (
    ComponentsSettings,
    component_raster,
    found_components,
)
from kitesort.core.derive.methods._moments import band_moments
from kitesort.core.derive.methods._roles import chosen_roles
from kitesort.core.engine import Watch
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import titled


class PrincipalComponentsSettings(ComponentsSettings):
    matrix: Literal["covariance", "correlation"] = Field(
        "covariance",
        title="From the matrix of",
        description="All alike is right when bands are in different units.",
        json_schema_extra=titled(
            {
                "covariance": "covariances: contrast weighs more",
                "correlation": "correlations: all bands alike",
            }
        ),
    )


def _prepare(
    raster: Raster, settings: PrincipalComponentsSettings, _: Context, watch: Watch
) -> PrincipalComponentsSettings:
    """Loadings (components, bands) of all components: unit vectors in the bands' own units, in
    standard deviations for the correlation matrix; the largest of each is positive.

    Source: Jolliffe 2002, Principal Component Analysis, ch. 2.1 and 2.3 (from memory; held
    against an independent library in the tests).
    """
    roles = chosen_roles(raster, settings.roles)
    moments = band_moments(raster, roles, settings.pixels, watch)
    deviation = moments.standard_deviation
    scale = deviation if settings.matrix == "correlation" else np.ones(len(roles))
    values, vectors = np.linalg.eigh(moments.covariance / np.outer(scale, scale))
    order = np.argsort(values)[::-1]
    loadings = vectors[:, order].T
    signs = np.sign(loadings[np.arange(len(roles)), np.abs(loadings).argmax(axis=1)])
    found = found_components(
        roles, settings.n_components, moments, loadings * signs[:, None] / scale, values[order]
    )
    return settings.model_copy(update=found)


def _derive(raster: Raster, settings: PrincipalComponentsSettings, _: Context) -> Raster:
    return component_raster(raster, settings, "pc")


def _say(settings: PrincipalComponentsSettings) -> str:
    total = sum(settings.eigenvalues) or 1.0
    share = 100 * sum(settings.eigenvalues[: settings.n_components]) / total
    return (
        f"principal components 1 to {settings.n_components} of {len(settings.roles)} bands by "
        f"their {settings.matrix}, {share:.1f} % of the variance, from "
        f"{settings.n_pixels:,} pixels"
    )


SPEC = Operation(
    id="principal-components",
    version=1,
    station="derive",
    title="Principal components",
    good_for="Many bands that say much the same: the first few components hold nearly all of it.",
    source="Jolliffe 2002, Principal Component Analysis; Richards, Remote Sensing Digital Image "
    "Analysis, ch. 6",
    settings=PrincipalComponentsSettings,
    open=of_one(_derive),
    say=_say,
    name=lambda s: f"Principal components ({s.matrix})",
    prepare=of_one(_prepare),
    is_slow=lambda s: s.pixels == "every",
)
