"""Bands are given other roles and wavelengths, where the delivery had them wrong or not at all."""

from dataclasses import replace

from pydantic import Field

from kitesort.core.bands import Band
from kitesort.core.delivery.scene import ROLE_PATTERN
from kitesort.core.errors import BadSettingsError
from kitesort.core.operation import Context, Operation, of_one
from kitesort.core.raster.derived import DerivedRaster
from kitesort.core.raster.protocol import Block, Raster, roles_of
from kitesort.core.roles import usual_wavelength
from kitesort.core.settings import Settings


class NameBandsSettings(Settings):
    roles: str = Field(
        title="What the bands see, in order",
        description="A role for each band, with spaces between: blue green red nir swir16 swir22.",
        max_length=2_000,
    )
    wavelengths: str = Field(
        "",
        title="Wavelengths in micrometres, in order",
        description="A number for each band. Left empty, bands keep theirs where the role stays, "
        "and get what is usual for the role where it changes.",
        max_length=2_000,
    )


def _apply(raster: Raster, settings: NameBandsSettings, _: Context) -> Raster:
    roles = settings.roles.replace(",", " ").split()
    _require_as_many(len(roles), len(raster.bands), "roles")
    for role in roles:
        if not ROLE_PATTERN.fullmatch(role):
            raise BadSettingsError(
                f"“{role}” is no role: use small letters, digits and underscores, a letter first."
            )
    if len(set(roles)) < len(roles):
        twice = next(role for role in roles if roles.count(role) > 1)
        raise BadSettingsError(f"The role {twice} is given twice.")
    wavelengths = _wavelengths(settings.wavelengths, len(roles))
    bands = tuple(_named(*one) for one in zip(raster.bands, roles, wavelengths, strict=True))
    signature = f"named {bands!r}"
    return DerivedRaster(raster, roles_of(raster), bands, _as_it_is, signature, per_band=True)


def _as_it_is(block: Block, _: tuple[str, ...]) -> Block:
    return block


def _named(band: Band, role: str, wavelength: float | None) -> Band:
    if wavelength is None:
        wavelength = band.wavelength_um if role == band.role else usual_wavelength(role)
    return replace(band, role=role, wavelength_um=wavelength)


def _wavelengths(text: str, n_bands: int) -> list[float | None]:
    words = text.replace(",", " ").split()
    if not words:
        return [None] * n_bands
    _require_as_many(len(words), n_bands, "wavelengths")
    try:
        found = [float(word) for word in words]
    except ValueError as error:
        raise BadSettingsError("Wavelengths are numbers with spaces between.") from error
    if not all(0 < value < 20 for value in found):
        raise BadSettingsError("Wavelengths are in micrometres, above 0 and below 20.")
    return list(found)


def _require_as_many(n: int, n_bands: int, what: str) -> None:
    if n != n_bands:
        raise BadSettingsError(f"The scene has {n_bands} bands, and {n} {what} are given.")


SPEC = Operation(
    id="name-bands",
    version=1,
    station="correct",
    title="Name the bands",
    short="bands named",
    family="names",
    good_for="Bands that were given wrong roles, or roles that no index knows. Values stay.",
    source="roles of the open STAC vocabulary, and their usual wavelengths",
    settings=NameBandsSettings,
    open=of_one(_apply),
    say=lambda s: f"bands named {' '.join(s.roles.replace(',', ' ').split())}",
)
