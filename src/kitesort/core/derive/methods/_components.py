"""What transforms into components have in common: settings, results, the lazy raster."""

from typing import Any

import numpy as np
import numpy.typing as npt
from pydantic import Field
from pydantic.config import JsonDict

from kitesort.core.derive.methods._linear import linear_raster
from kitesort.core.derive.methods._moments import Pixels
from kitesort.core.derive.methods._roles import RolesSettings
from kitesort.core.group_statistics import ClassStatistics
from kitesort.core.raster.derived import DerivedRaster
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import titled

HIDDEN: JsonDict = {"widget": "hidden"}


class ComponentsSettings(RolesSettings):
    """What is asked for; and what was found, once prepared: ``loadings`` (components, bands) of
    all components, of which the first ``n_components`` are kept."""

    n_components: int = Field(
        3,
        title="Components kept",
        description="The chart shows how much each of them holds.",
        ge=1,
        le=64,
    )
    pixels: Pixels = Field(
        "view",
        title="Statistics from",
        description="All of them, on a large scene, is a run.",
        json_schema_extra=titled(
            {"view": "1024 pixels a side at most, at once", "every": "every pixel"}
        ),
    )
    centre: tuple[float, ...] = Field((), json_schema_extra=HIDDEN)
    loadings: tuple[tuple[float, ...], ...] = Field((), json_schema_extra=HIDDEN)
    eigenvalues: tuple[float, ...] = Field((), json_schema_extra=HIDDEN)
    n_pixels: int = Field(0, json_schema_extra=HIDDEN)


def found_components(
    roles: tuple[str, ...],
    wanted: int,
    moments: ClassStatistics,
    loadings: npt.NDArray[np.float64],
    eigenvalues: npt.NDArray[np.float64],
) -> dict[str, Any]:
    """The settings that were left open. Loadings have twelve digits: more would only hold the
    rounding of the sums' order."""
    return {
        "roles": roles,
        "n_components": min(wanted, len(roles)),
        "centre": tuple(float(v) for v in moments.mean),
        "loadings": tuple(tuple(float(f"{v:.12g}") for v in row) for row in loadings),
        "eigenvalues": tuple(max(0.0, float(v)) for v in eigenvalues),
        "n_pixels": moments.n_pixels,
    }


def component_raster(raster: Raster, settings: ComponentsSettings, prefix: str) -> DerivedRaster:
    """The kept components, called by a prefix and their number."""
    names = tuple(f"{prefix}{i + 1}" for i in range(settings.n_components))
    kept = settings.loadings[: settings.n_components]
    return linear_raster(raster, settings.roles, names, kept, settings.centre)
