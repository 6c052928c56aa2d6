"""Which bands take part in a transform."""

from pydantic import Field

from kitesort.core.errors import BadSettingsError
from kitesort.core.raster.protocol import Raster, band_positions, roles_of
from kitesort.core.settings import Settings


class RolesSettings(Settings):
    """Of an operation on some or all bands of a scene."""

    roles: tuple[str, ...] = Field(
        (),
        title="Bands",
        description="All bands of the scene where none is chosen.",
        max_length=256,
        json_schema_extra={"widget": "roles"},
    )


def chosen_roles(raster: Raster, roles: tuple[str, ...]) -> tuple[str, ...]:
    """The roles, all of the raster's when none is named.

    Raises
    ------
    MissingRoleError, BadSettingsError : fewer than two.
    """
    band_positions(raster.bands, roles)
    found = tuple(dict.fromkeys(roles)) or roles_of(raster)
    if len(found) < 2:
        raise BadSettingsError("At least two bands are needed.")
    return found
