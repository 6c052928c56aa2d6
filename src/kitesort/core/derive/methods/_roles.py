"""Which bands take part in a transform."""

from kitesort.core.errors import BadSettingsError
from kitesort.core.raster.protocol import Raster, band_positions, roles_of


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
