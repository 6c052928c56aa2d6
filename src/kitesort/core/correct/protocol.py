"""What a correction is: settings, a preparation that finds what is left open, a lazy raster."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

from kitesort.core.delivery.scene import DEFAULT_EXCLUDED, DeliveredScene
from kitesort.core.errors import InputError
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import Settings

SceneOpener = Callable[[int, tuple[str, ...]], Raster]


@dataclass(frozen=True)
class CorrectionContext:
    """What a correction may need beside the raster: the delivery that it stems from (None for a
    scene combined of several, or derived), other scenes by id, and the quality flags left out."""

    delivery: DeliveredScene | None
    open_scene: SceneOpener
    excluded: tuple[str, ...] = DEFAULT_EXCLUDED

    def require_delivery(self, what: str) -> DeliveredScene:
        """Raises InputError for a scene that was combined of several, or derived."""
        if self.delivery is None:
            raise InputError(f"A scene combined of several, or derived, has no {what} of its own.")
        return self.delivery

    def open_reference(self, scene_id: int) -> Raster:
        return self.open_scene(scene_id, DEFAULT_EXCLUDED)


Family = Literal["values", "haze", "mask", "place", "norm", "names"]
Apply = Callable[[Raster, Any, CorrectionContext], Raster]
Prepare = Callable[[Raster, Any, CorrectionContext], Settings]


def nothing_to_find(_raster: Raster, settings: Settings, _context: CorrectionContext) -> Settings:
    """For corrections whose settings are complete as they are."""
    return settings


@dataclass(frozen=True)
class CorrectionSpec:
    """A correction as it appears in the API, the form, the recipe and the guide.

    ``prepare`` turns settings that leave something open (a dark value to be found) into settings
    that do not, so that the recipe holds the numbers that were used. ``say`` words the step,
    ``short`` does in the title of a scene.
    ``leaves_out`` names quality flags whose pixels are left out where the delivery is opened,
    wherever in the chain the step stands: the quality band lies where the delivery does.
    ``family``: steps that do the same kind of thing. ``otherwise``: of a correction that needs the
    factors of the metadata, the one that does without.
    """

    id: str
    version: int
    title: str
    short: str
    family: Family
    good_for: str
    source: str
    settings: type[Settings]
    apply: Apply
    say: Callable[[Any], str]
    prepare: Prepare = nothing_to_find
    leaves_out: Callable[[Any], tuple[str, ...]] = lambda _: ()
    otherwise: str | None = None


@dataclass(frozen=True)
class CombinationSpec:
    """A way of making one scene of several on the same grid (a mosaic: on aligned grids);
    ``short`` words it in the title of a scene."""

    id: str
    version: int
    title: str
    short: str
    good_for: str
    source: str
    settings: type[Settings]
    combine: Callable[[tuple[Raster, ...], Any], Raster]
    say: Callable[[Any], str]
