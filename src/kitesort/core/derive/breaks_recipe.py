"""The recipe of a class map made by breaks: a layer, and the table over it."""

from typing import Literal

from pydantic import Field

from kitesort.core.derive.breaks import BreakTable, breaks_raster
from kitesort.core.raster.cog import UNCLASSIFIED, LegendEntry
from kitesort.core.raster.derived import DerivedRaster
from kitesort.core.raster.protocol import Raster
from kitesort.core.settings import Settings

METHOD = "breaks"


class BreaksRecipe(Settings):
    """Input by id and name, quality flags left out, and the table."""

    kind: Literal["breaks"] = "breaks"
    scene_id: int
    scene_name: str
    excluded: tuple[str, ...]
    role: str = Field(max_length=64)
    table: BreakTable

    @property
    def method(self) -> str:
        return METHOD

    @property
    def roles(self) -> tuple[str, ...]:
        return (self.role,)

    @property
    def n_sites(self) -> int:
        """It is not trained."""
        return 0

    @property
    def legend(self) -> tuple[LegendEntry, ...]:
        return (*self.table.legend, UNCLASSIFIED)

    @property
    def sentence(self) -> str:
        """The recipe in words, as it stands above a pane and in the exported file."""
        return f"{self.role} of {self.scene_name} in classes by breaks: {self.table.words}."

    def open(self, scene: Raster) -> DerivedRaster:
        """The map over its scene.

        Raises
        ------
        MissingRoleError
        """
        return breaks_raster(scene, self.role, self.table)
