"""A map of clusters: pixels that grouped themselves."""

from dataclasses import dataclass

from pydantic import Field

from kitesort.core.bands import Band
from kitesort.core.classify.given import GivenClassifier, legend_of, open_given, require_fitting
from kitesort.core.classify.raster import class_map_raster
from kitesort.core.grid import Window
from kitesort.core.legend import MOST_CLASSES
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.lazy import OnSource
from kitesort.core.raster.protocol import Block, Raster, Shape, masked_block
from kitesort.core.settings import Settings


class ClustersSettings(Settings):
    classifier: GivenClassifier = Field(title="Clustering")
    found_by: str = Field("clustering", max_length=80, title="Method")
    n_clusters: int = Field(ge=1, le=MOST_CLASSES, title="Clusters")
    zero_is_fill: bool = Field(
        True, title="Zero is fill", description="Pixels of zeros alone have no data."
    )
    excluded: tuple[str, ...] = Field((), title="Left out")


@dataclass(frozen=True)
class _WithoutFill(OnSource):
    """``source``, codes made of ``scene``, without pixels that are zero in all of some bands."""

    source: Raster
    scene: Raster
    roles: tuple[str, ...]

    @property
    def bands(self) -> tuple[Band, ...]:
        return self.source.bands

    def _told(self) -> tuple[str, ...]:
        return self.source.fingerprint, "without zero fill"

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        values = self.source.read(window, roles, shape).values
        filled = (self.scene.read(window, self.roles, shape).values != 0).any(axis=0)
        return masked_block(values, filled)


def small(title: str) -> str:
    """A method's title within a sentence; an abbreviation stays as it is."""
    return title if title.isupper() else title[0].lower() + title[1:]


def _open(raster: Raster, settings: ClustersSettings, context: Context) -> Raster:
    stored = open_given(settings.classifier, context)
    require_fitting(raster, stored.told)
    made = class_map_raster(raster, stored.model, legend_of(stored.told))
    return _WithoutFill(made, raster, stored.told.roles) if settings.zero_is_fill else made


SPEC = Operation(
    id="clusters",
    version=1,
    station="classify",
    title="Clusters",
    good_for="Ground that nobody knows yet: pixels that are alike, to be named.",
    source="The method's own",
    settings=ClustersSettings,
    open=of_one(_open),
    say=lambda s: f"grouped by {small(s.found_by)} into {s.n_clusters} clusters",
    name=lambda _: "clusters",
    leaves_out=lambda s: s.excluded,
    silent=frozenset({"classifier_id", "name", "found_by"}),
)
