"""One date brought to another's scale by a line through targets that did not change."""

from typing import Any

import numpy as np
import numpy.typing as npt
from pydantic import Field

from kitesort.core.correct.methods._band_table import linear_per_band
from kitesort.core.correct.methods._paired_sample import (
    LEAST_PIXELS,
    LikeSceneSettings,
    common_roles,
    paired_values,
    quantities_of,
)
from kitesort.core.engine import Watch
from kitesort.core.errors import InputError, NoValidPixelsError
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.outline import parse_site
from kitesort.core.raster.joined import JoinedRaster, Member
from kitesort.core.raster.protocol import Raster, roles_of
from kitesort.core.settings import Settings
from kitesort.core.site_pixels import site_pixels

ROUNDS = 12


class BandLine(Settings):
    """there = gain × here + offset, and how well it fits (correlation squared)."""

    gain: float
    offset: float
    r_squared: float
    n_pixels: int


class RegressSettings(LikeSceneSettings):
    scene_id: int = Field(
        title="To the scale of the scene",
        description="Both must lie on the same grid.",
        json_schema_extra={"widget": "scene"},
    )
    areas: tuple[dict[str, Any], ...] = Field(
        (),
        title="Unchanging targets",
        description="Drawn areas that did not change: roofs, quarries, deep water, old woods. "
        "When none is drawn, the pixels nearest to the common line are used.",
        json_schema_extra={"widget": "areas"},
        max_length=100,
    )
    lines: dict[str, BandLine] = Field(
        default_factory=dict, title="Lines", json_schema_extra={"widget": "hidden"}
    )


def fit_line(here: npt.NDArray[Any], there: npt.NDArray[Any], trim: bool) -> BandLine:
    """Reduced major axis; with ``trim``, again and again without what lies off it by more than
    two standard deviations, until nothing more is left out.

    Both dates are measured with noise: least squares would flatten the line by it, this does not
    where the noise is alike.

    Raises
    ------
    InputError : targets all of one value, or of which the dates do not agree which are brighter.
    """
    use = np.ones(here.size, bool)
    gain = offset = 0.0
    for _ in range(ROUNDS):
        gain = _slope(here[use], there[use])
        offset = float(there[use].mean() - gain * here[use].mean())
        off = there - (gain * here + offset)
        near = np.abs(off) <= 2 * off[use].std() + 1e-12
        if not trim or near.sum() < LEAST_PIXELS or np.array_equal(near, use):
            break
        use = near
    r = float(np.corrcoef(here[use], there[use])[0, 1])
    return BandLine(gain=gain, offset=offset, r_squared=r * r, n_pixels=int(use.sum()))


def _slope(here: npt.NDArray[Any], there: npt.NDArray[Any]) -> float:
    spread = float(here.std())
    agreement = float(np.mean((here - here.mean()) * (there - there.mean())))
    if spread == 0 or agreement <= 0:
        raise InputError(
            "The targets do not tell how one date's values go with the other's: bright ground must "
            "be bright on both. Draw targets from dark to bright that did not change."
        )
    return float(there.std()) / spread


def _prepare(
    raster: Raster, settings: RegressSettings, context: Context, _watch: Watch
) -> Settings:
    other = context.open_reference(settings.scene_id)
    roles = common_roles(raster, other)
    if settings.areas:
        raster.grid.require_same_as(other.grid)
        here, there = _values_in_areas(raster, other, settings.areas, roles)
    else:
        here, there = paired_values(raster, other, roles)
    lines = {
        role: fit_line(here[i].astype(np.float64), there[i].astype(np.float64), not settings.areas)
        for i, role in enumerate(roles)
    }
    quantities = quantities_of(other, roles)
    return settings.model_copy(update={"lines": lines, "quantities": quantities})


def _values_in_areas(
    a: Raster, b: Raster, areas: tuple[dict[str, Any], ...], roles: tuple[str, ...]
) -> tuple[npt.NDArray[np.float32], npt.NDArray[np.float32]]:
    """Pixels (bands, pixels) of the areas that are valid in both scenes."""
    here = (Member(role, a, role) for role in roles)
    there = (Member(f"other_{role}", b, role) for role in roles)
    pair = JoinedRaster((*here, *there), a.grid)
    values = np.concatenate(
        [site_pixels(pair, parse_site(area), roles_of(pair)).values for area in areas]
    ).T
    if values.shape[1] < 3:
        raise NoValidPixelsError("The targets hold fewer than three pixels valid in both scenes.")
    return values[: len(roles)], values[len(roles) :]


def _apply(raster: Raster, settings: RegressSettings, _: Context) -> Raster:
    lines = {role: (line.gain, line.offset) for role, line in settings.lines.items()}
    return linear_per_band(raster, lines, quantities=settings.quantities)


def _say(settings: RegressSettings) -> str:
    lines = ", ".join(f"{r} × {b.gain:.3f} {b.offset:+.3f}" for r, b in settings.lines.items())
    how = "drawn targets" if settings.areas else "the pixels nearest to the common line"
    return f"brought to the scale of scene {settings.scene_id} by {how} ({lines or 'to be found'})"


SPEC = Operation(
    id="regress",
    version=1,
    station="correct",
    title="Normalise: unchanging targets",
    short="normalised",
    family="norm",
    good_for="Bringing dates to one scale without taking real change away.",
    source="J. R. Schott, C. Salvaggio and W. J. Volchok 1988, Remote Sensing of Environment "
    "26:1-16; the line is the reduced major axis (textbook)",
    settings=RegressSettings,
    open=of_one(_apply),
    say=_say,
    prepare=of_one(_prepare),
    others=lambda s: (s.scene_id,),
)
