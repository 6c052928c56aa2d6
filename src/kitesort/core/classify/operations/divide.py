"""One cluster of a map, or one class, divided further; the others stay as they are."""

from dataclasses import dataclass

import numpy as np
from pydantic import Field

from kitesort.core.bands import Band
from kitesort.core.classify.given import GivenClassifier, legend_of, open_given, require_fitting
from kitesort.core.classify.raster import class_map_raster
from kitesort.core.errors import BadSettingsError
from kitesort.core.grid import Window
from kitesort.core.legend import (
    LAST_CODE,
    MOST_CLASSES,
    UNCLASSIFIED_CODE,
    ClassCode,
    Legend,
    LegendEntry,
    is_class_code,
)
from kitesort.core.operation import ANY_KIND, Context, Inputs, Operation
from kitesort.core.raster.class_file import class_bands
from kitesort.core.raster.lazy import OnSource
from kitesort.core.raster.protocol import Block, Raster, Shape, masked_block, require_same_grid
from kitesort.core.settings import Settings


class DivideSettings(Settings):
    code: ClassCode = Field(title="Cluster")
    name: str = Field(max_length=200, title="What it is called")
    classifier: GivenClassifier = Field(title="Clustering of its pixels")
    first_code: ClassCode = Field(
        title="First new code", description="The parts are counted from it."
    )
    n_parts: int = Field(ge=1, le=MOST_CLASSES, title="Parts")
    excluded: tuple[str, ...] = Field((), title="Left out")


@dataclass(frozen=True)
class _Divided(OnSource):
    """``parts`` (codes 1, 2, …, of the same grid) stand where ``source`` has the code."""

    source: Raster
    parts: Raster
    legend: Legend
    code: int
    first_code: int

    @property
    def bands(self) -> tuple[Band, ...]:
        return class_bands(self.legend)

    def _told(self) -> tuple[str, ...]:
        return (
            self.source.fingerprint, self.parts.fingerprint,
            f"{self.code} divided from {self.first_code}",
        )  # fmt: skip

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        whole = self.source.read(window, roles, shape)
        here = whole.valid & (whole.values[0] == self.code)
        if not here.any():
            return whole
        part = self.parts.read(window, None, shape)
        told = here & part.valid & (part.values[0] != UNCLASSIFIED_CODE)
        values = np.where(told, part.values[0] + (self.first_code - 1), whole.values[0])
        return masked_block(values[None].astype(np.float32), whole.valid)


def _open(inputs: Inputs, settings: DivideSettings, context: Context) -> Raster:
    source, scene = inputs
    require_same_grid(source, scene)
    stored = open_given(settings.classifier, context)
    require_fitting(scene, stored.told)
    legend = source.bands[0].legend
    first = settings.first_code
    parts = [e for e in legend_of(stored.told) if e.code != UNCLASSIFIED_CODE]
    new = {first + part.code - 1 for part in parts}
    if not all(map(is_class_code, new)) or new & {entry.code for entry in legend}:
        raise BadSettingsError(
            f"The parts' codes are taken, or go beyond {LAST_CODE}, or {UNCLASSIFIED_CODE} is one."
        )
    made = class_map_raster(scene, stored.model, legend_of(stored.told))
    kept = [e for e in legend if e.code not in (settings.code, UNCLASSIFIED_CODE)]
    named = [LegendEntry(first + e.code - 1, f"{settings.name}.{e.code}", e.colour) for e in parts]
    rest = [e for e in legend if e.code == UNCLASSIFIED_CODE]
    return _Divided(source, made, (*kept, *named, *rest), settings.code, first)


SPEC = Operation(
    id="divide",
    version=1,
    station="classify",
    title="Divide further",
    good_for="A cluster that is two things at once.",
    source="The method's own",
    settings=DivideSettings,
    open=_open,
    most_inputs=2,
    say=lambda s: f"with {s.name} divided into {s.n_parts}",
    name=lambda _: "divided",
    takes=ANY_KIND,
    leaves_out=lambda s: s.excluded,
    silent=frozenset({"classifier_id", "name"}),
)
