"""What is known about a delivered scene; the only shape that the rest of the program sees."""

import re
from datetime import date
from pathlib import Path
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from kitesort.core.bands import Band, Quantity
from kitesort.core.errors import BadSettingsError, InputError, MissingRoleError
from kitesort.core.raster.file import FileRaster
from kitesort.core.raster.quality import QualityFlag

DEFAULT_EXCLUDED = ("fill", "cloud", "cloud_shadow", "saturated")
MAX_BANDS = 256
ROLE_PATTERN = re.compile(r"[a-z][a-z0-9_]{0,31}")

Resampling = Literal["nearest", "bilinear", "cubic", "average"]


class _Model(BaseModel):
    model_config = ConfigDict(frozen=True, allow_inf_nan=False)


class DeliveredBand(_Model):
    """One band: where it lies, what it sees, its factors; wavelength µm, resolution in CRS units.

    ``number × gain + offset`` is of the ``quantity``; a thermal band's ``k1`` (as radiance) and
    ``k2`` (kelvin) turn radiance into brightness temperature. ``fill_value`` marks no data in this
    band where bands differ; the scene's counts otherwise, and the file's own. ``role`` is empty
    while nobody has said what the band sees. ``used`` False: left out of the stack, for the
    ``reason``.
    """

    file: str
    role: str
    wavelength_um: float | None = Field(None, gt=0, lt=20)
    pixel_size: float = Field(gt=0)
    gain: float | None = None
    offset: float = 0.0
    radiance_gain: float | None = None
    radiance_offset: float = 0.0
    quantity: Quantity = "reflectance"
    k1: float | None = Field(None, gt=0)
    k2: float | None = Field(None, gt=0)
    fill_value: float | None = None
    index: int = Field(1, ge=1)
    name: str = ""
    used: bool = True
    reason: str = ""

    @property
    def best_quantity(self) -> Quantity:
        """What its factors make of its numbers."""
        if self.gain is not None:
            return self.quantity
        return "temperature" if self.thermal else "numbers"

    @property
    def thermal(self) -> tuple[float, float] | None:
        """``k1`` and ``k2``, where there is a radiance to turn into temperature."""
        if self.radiance_gain is None or self.k1 is None or self.k2 is None:
            return None
        return self.k1, self.k2


class QualityBand(_Model):
    """The file that says what each pixel is worth, and how it says so."""

    file: str
    index: int = 1
    flags: tuple[QualityFlag, ...] = ()


class StackOptions(_Model):
    """The grid of the stack: ``finest``, ``coarsest`` or a role; how other bands get onto it."""

    grid: str = "finest"
    resampling: Resampling = "nearest"


class DeliveredScene(_Model):
    """What the metadata and the analyst say; paths are relative to ``folder``."""

    folder: str
    name: str
    sensor: str
    acquired: date | None
    sun_elevation_deg: float | None = Field(None, gt=0, le=90)
    divide_by_sine: bool = True
    fill_value: float | None = None
    saturated_value: float | None = None
    bands: tuple[DeliveredBand, ...] = Field(min_length=1)
    quality: QualityBand | None = None
    stack: StackOptions = StackOptions()
    crs: str | None = None
    remarks: tuple[str, ...] = ()

    @property
    def used_bands(self) -> tuple[DeliveredBand, ...]:
        return tuple(band for band in self.bands if band.used)

    @property
    def roles(self) -> tuple[str, ...]:
        return tuple(band.role for band in self.used_bands)

    @property
    def flag_names(self) -> tuple[str, ...]:
        return tuple(f.name for f in self.quality.flags) if self.quality else ()

    @property
    def quantity_words(self) -> str:
        """What the values mean when nothing else is asked for: bands that differ are named."""
        kinds: dict[str, list[str]] = {}
        for band in self.used_bands:
            kinds.setdefault(band.best_quantity, []).append(band.role)
        most = max(kinds, key=lambda kind: len(kinds[kind]))
        others = [f", {' and '.join(kinds[kind])} as {kind}" for kind in kinds if kind != most]
        return most + "".join(others)

    def file_of(self, role: str) -> FileRaster:
        """Numbers of one band as they were delivered."""
        for band in self.bands:
            if band.role == role:
                return self.open_band(band)
        raise MissingRoleError(f"{self.name} has no band with the role {role}.")

    def open_band(self, band: DeliveredBand) -> FileRaster:
        """Numbers of a band, whether it is used or not."""
        info = Band(band.role, band.wavelength_um, band.pixel_size, band.file, quantity="numbers")
        path = str(Path(self.folder) / band.file)
        fill = self.fill_value if band.fill_value is None else band.fill_value
        return FileRaster(path, (info,), fill, self.saturated_value, (band.index,), self.crs)

    def quality_raster(self) -> FileRaster | None:
        if self.quality is None:
            return None
        path = str(Path(self.folder) / self.quality.file)
        info = (Band("quality"),)
        return FileRaster(path, info, None, None, (self.quality.index,), self.crs)

    def flags_named(self, names: tuple[str, ...]) -> tuple[QualityFlag, ...]:
        return tuple(f for f in self.quality.flags if f.name in names) if self.quality else ()


def require_complete(scene: DeliveredScene) -> None:
    """Refuse a scene of which something still has to be said before it can be stacked.

    Raises
    ------
    InputError, MissingRoleError, BadSettingsError
    """
    if not scene.used_bands:
        raise InputError("Choose at least one band for the stack.")
    if len(scene.used_bands) > MAX_BANDS:
        raise InputError(
            f"{len(scene.used_bands)} bands are more than the {MAX_BANDS} that one stack can hold. "
            "Choose the ones you need."
        )
    without = [b.name or b.file for b in scene.used_bands if not b.role]
    if without:
        raise MissingRoleError(
            f"Say what these bands see, or leave them out: {', '.join(without[:8])}."
        )
    odd = [role for role in scene.roles if not ROLE_PATTERN.fullmatch(role)]
    if odd:
        raise BadSettingsError(
            f"“{odd[0]}” cannot be a role: small letters, digits and underscores, a letter first."
        )
    if scene.stack.grid not in ("finest", "coarsest", *scene.roles):
        raise MissingRoleError(f"The grid's band {scene.stack.grid} is not in the stack.")
