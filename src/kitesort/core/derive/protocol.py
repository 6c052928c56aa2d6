"""What a derivation is: settings, a preparation that finds what is left open, a lazy raster."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from pydantic import Field

from kitesort.core.engine import Watch
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import Settings

LARGEST_AT_ONCE = 2_000_000  # pixels of which every one may be counted while a user waits


class LayerRef(Settings):
    """A band of a scene, by the scene's id."""

    scene_id: int
    role: str = Field(max_length=64)


@dataclass(frozen=True)
class DeriveContext:
    """What a derivation may need beside its scene: other scenes by id, all layers of the study by
    name, and what is known of the scene's sensor."""

    open_scene: Callable[[int], Raster]
    layers: Mapping[str, LayerRef] = field(default_factory=dict)
    sensor: str | None = None


Derive = Callable[[Raster, Any, DeriveContext], Raster]
Prepare = Callable[[Raster, Any, DeriveContext, Watch], Settings]


def nothing_to_find(
    _raster: Raster, settings: Settings, _context: DeriveContext, _watch: Watch
) -> Settings:
    """For derivations whose settings are complete as they are."""
    return settings


@dataclass(frozen=True)
class DerivationSpec:
    """A derivation as it appears in the API, the form, the recipe and the guide.

    ``prepare`` turns settings that leave something open (loadings to be found) into settings that
    do not, so that the recipe holds the numbers that were used. ``say`` words it in a sentence
    after "of the scene …", ``name`` in a few words. ``inputs`` names the other scenes it reads.
    ``first_of`` names the scene whose grid counts where the settings decide that, else None.
    ``is_slow`` says whether preparing takes a run of its own on a large scene. ``native_side``, of
    one that looks at a pixel's neighbours, and so at native resolution: the side of the square of
    as many pixels as it shows at once. ``keeps_units``: its bands are the scene's own, made better.
    """

    id: str
    version: int
    title: str
    good_for: str
    source: str
    settings: type[Settings]
    derive: Derive
    say: Callable[[Any], str]
    name: Callable[[Any], str]
    prepare: Prepare = nothing_to_find
    inputs: Callable[[Any], tuple[int, ...]] = field(default=lambda _: ())
    first_of: Callable[[Any], int | None] = field(default=lambda _: None)
    is_slow: Callable[[Any], bool] = field(default=lambda _: False)
    native_side: int | None = None
    keeps_units: bool = False

    @property
    def is_local(self) -> bool:
        """It looks at a pixel's neighbours, and so at native resolution only."""
        return self.native_side is not None
