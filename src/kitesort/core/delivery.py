"""A scene as a provider delivers it: one file per band, a metadata text, a quality band.

The metadata text has one ``KEY = VALUE`` per line; ``#`` starts a remark.
"""

import re
from datetime import date
from pathlib import Path

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from kitesort.core.bands import Band, Role
from kitesort.core.correct.calibration import BandFactors, calibrate
from kitesort.core.errors import MissingRoleError, UnreadableFileError
from kitesort.core.raster.derived import DerivedRaster
from kitesort.core.raster.file import FileRaster
from kitesort.core.raster.stack import StackRaster

METADATA_SUFFIX = "_metadata.txt"
MAX_METADATA_BYTES = 1_000_000
DEFAULT_EXCLUDED = ("fill", "cloud", "cloud_shadow", "saturated")


class _Model(BaseModel):
    model_config = ConfigDict(frozen=True)


class DeliveredBand(_Model):
    """One band file; wavelength in micrometres, resolution in metres."""

    file: str
    role: Role
    wavelength_um: float = Field(gt=0, lt=20)
    resolution_m: float = Field(gt=0)
    gain: float
    offset: float


class DeliveredScene(_Model):
    """What the metadata says; paths are resolved against ``folder``."""

    folder: str
    name: str
    sensor: str
    acquired: date
    sun_elevation_deg: float = Field(gt=0, le=90)
    fill_value: float
    saturated_value: float | None
    bands: tuple[DeliveredBand, ...] = Field(min_length=1)
    quality_file: str | None
    quality_bits: dict[str, int]

    @property
    def roles(self) -> tuple[str, ...]:
        return tuple(str(band.role) for band in self.bands)

    def file_of(self, role: str) -> FileRaster:
        """Digital numbers of one band."""
        for band in self.bands:
            if band.role == role:
                info = Band(str(band.role), band.wavelength_um, band.resolution_m, band.file)
                path = str(Path(self.folder) / band.file)
                return FileRaster(path, (info,), self.fill_value, self.saturated_value)
        raise MissingRoleError(f"{self.name} has no band with the role {role}.")

    def excluded_bits(self, names: tuple[str, ...]) -> int:
        return sum(1 << self.quality_bits[name] for name in names if name in self.quality_bits)


def read_delivery(metadata_path: Path) -> DeliveredScene:
    """Parse a delivered scene's metadata text and check that its files are there.

    Raises
    ------
    UnreadableFileError : the text or a file it names is missing, cut short or nonsense.
    """
    values = _parse_text(metadata_path)
    folder = metadata_path.parent
    try:
        numbers = sorted({int(m[1]) for key in values if (m := re.match(r"BAND_(\d+)_FILE$", key))})
        scene = DeliveredScene(
            folder=str(folder),
            name=values["SCENE"],
            sensor=values["SENSOR"],
            acquired=date.fromisoformat(values["ACQUIRED"][:10]),
            sun_elevation_deg=float(values["SUN_ELEVATION"]),
            fill_value=float(values["FILL_VALUE"]),
            saturated_value=float(v) if (v := values.get("SATURATED_VALUE")) else None,
            bands=tuple(_parse_band(values, n) for n in numbers),
            quality_file=values.get("QUALITY_FILE"),
            quality_bits={
                name: int(m[1])
                for key, name in values.items()
                if (m := re.match(r"QUALITY_BIT_(\d+)$", key))
            },
        )
    except KeyError as error:
        raise UnreadableFileError(
            f"{metadata_path.name} does not give {error.args[0]}. Deliver the metadata again."
        ) from error
    except (ValueError, ValidationError) as error:
        raise UnreadableFileError(
            f"{metadata_path.name} holds a value that cannot be understood. Deliver it again."
        ) from error
    _require_files(scene)
    return scene


def _parse_text(path: Path) -> dict[str, str]:
    try:
        if path.stat().st_size > MAX_METADATA_BYTES:
            raise UnreadableFileError(f"{path.name} is too large to be a scene's metadata.")
        text = path.read_text("utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise UnreadableFileError(f"{path.name} cannot be read as text.") from error
    values = {}
    for line in text.splitlines():
        key, equals, value = line.partition("=")
        if equals and not key.lstrip().startswith("#"):
            values[key.strip()] = value.strip().strip('"')
    return values


def _parse_band(values: dict[str, str], number: int) -> DeliveredBand:
    def of(key: str) -> str:
        return values[f"BAND_{number}_{key}"]

    return DeliveredBand(
        file=of("FILE"),
        role=Role(of("COMMON_NAME")),
        wavelength_um=float(of("WAVELENGTH_UM")),
        resolution_m=float(of("RESOLUTION_M")),
        gain=float(of("REFLECTANCE_GAIN")),
        offset=float(of("REFLECTANCE_OFFSET")),
    )


def _require_files(scene: DeliveredScene) -> None:
    """Only plain names inside the folder; a path that leads elsewhere is refused."""
    names = [band.file for band in scene.bands] + (
        [scene.quality_file] if scene.quality_file else []
    )
    for name in names:
        if Path(name).name != name or not (Path(scene.folder) / name).is_file():
            raise UnreadableFileError(
                f"The metadata of {scene.name} names the file {name}, which is not beside it."
            )


def open_delivery(
    scene: DeliveredScene, excluded: tuple[str, ...] = DEFAULT_EXCLUDED
) -> DerivedRaster:
    """The scene as reflectance: all bands on the finest band's grid, unusable pixels not valid."""
    members = tuple(scene.file_of(role) for role in scene.roles)
    finest = min(members, key=lambda m: m.grid.pixel_size[0])
    flags = None
    if scene.quality_file:
        flags = FileRaster(str(Path(scene.folder) / scene.quality_file), (Band("quality"),))
    stack = StackRaster(finest.grid, members, flags, scene.excluded_bits(excluded))
    factors = {str(b.role): BandFactors(b.gain, b.offset) for b in scene.bands}
    return calibrate(stack, factors, scene.sun_elevation_deg)
