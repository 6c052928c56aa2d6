"""Settings of derivations that may name layers of other scenes."""

from typing import Any

from pydantic import Field

from kitesort.core.operation import LayerRef
from kitesort.core.settings import Settings


class NamedLayersSettings(Settings):
    """``layers``: where the names lie that are no roles of the scene; found when prepared, so that
    a recipe does not depend on what scenes are called."""

    align: bool = Field(
        False,
        title="Allow other grids",
        description="Layers on another grid are brought onto this scene's, nearest pixel.",
        json_schema_extra={"widget": "align"},
    )
    layers: dict[str, LayerRef] = Field(
        default_factory=dict, json_schema_extra={"widget": "hidden"}
    )


def named_scenes(settings: Any) -> tuple[int, ...]:
    """Ids of the scenes that the layers lie in, each once."""
    return tuple(dict.fromkeys(ref.scene_id for ref in settings.layers.values()))
