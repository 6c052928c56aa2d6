"""Band files beside a ``*_metadata.txt`` with one ``KEY = VALUE`` per line; ``#`` starts a remark.

The scene gives ``reflectance = (GAIN x DN + OFFSET) / sin(SUN_ELEVATION)`` per band.
"""

import re
from datetime import date
from pathlib import Path, PurePosixPath

from pydantic import ValidationError

from kitesort.core.bands import Role
from kitesort.core.delivery.format import (
    DeliveryFormat,
    Findings,
    Recognised,
    recognise_each,
)
from kitesort.core.delivery.inventory import FoundFile, Inventory, take_inventory
from kitesort.core.delivery.scene import DeliveredBand, DeliveredScene, QualityBand
from kitesort.core.errors import UnreadableFileError
from kitesort.core.raster.quality import QualityFlag

METADATA_SUFFIX = "_metadata.txt"


def read_delivery(metadata_path: Path) -> DeliveredScene:
    """Parse a delivered scene's metadata text and check that its files are there.

    Raises
    ------
    UnreadableFileError : the text or a file it names is missing, cut short or nonsense.
    """
    inventory = take_inventory(metadata_path.parent)
    return _parse(inventory, inventory.by_path[metadata_path.name])


def _recognise(inventory: Inventory) -> Findings:
    return recognise_each(inventory, lambda file: file.name.endswith(METADATA_SUFFIX), _read_scene)


def _read_scene(inventory: Inventory, file: FoundFile) -> Recognised:
    scene = _parse(inventory, file)
    return Recognised(scene, _files_of(scene) | {file.path})


def _files_of(scene: DeliveredScene) -> frozenset[str]:
    quality = [scene.quality.file] if scene.quality else []
    return frozenset([b.file for b in scene.bands] + quality)


def _parse(inventory: Inventory, file: FoundFile) -> DeliveredScene:
    values = parse_lines(inventory.read_text(file))
    try:
        numbers = sorted({int(m[1]) for key in values if (m := re.match(r"BAND_(\d+)_FILE$", key))})
        scene = DeliveredScene(
            folder=str(inventory.root),
            name=values["SCENE"],
            sensor=values["SENSOR"],
            acquired=date.fromisoformat(values["ACQUIRED"][:10]),
            sun_elevation_deg=float(values["SUN_ELEVATION"]),
            fill_value=float(values["FILL_VALUE"]),
            saturated_value=float(v) if (v := values.get("SATURATED_VALUE")) else None,
            bands=tuple(_parse_band(values, n, file.folder) for n in numbers),
            quality=_parse_quality(values, file.folder),
        )
    except KeyError as error:
        raise UnreadableFileError(
            f"{file.name} does not give {error.args[0]}. Deliver the metadata again."
        ) from error
    except (ValueError, ValidationError) as error:
        raise UnreadableFileError(
            f"{file.name} holds a value that cannot be understood. Deliver it again."
        ) from error
    require_files(inventory, scene)
    return scene


def parse_lines(text: str) -> dict[str, str]:
    """``KEY = VALUE`` lines, quotation marks taken off."""
    values = {}
    for line in text.splitlines():
        key, equals, value = line.partition("=")
        if equals and not key.lstrip().startswith("#"):
            values[key.strip()] = value.strip().strip('"')
    return values


def beside(folder: str, name: str) -> str:
    """Path of a file named in the metadata: a plain name beside it, whatever it claims."""
    return name if folder == "." else str(PurePosixPath(folder) / name)


def _parse_band(values: dict[str, str], number: int, folder: str) -> DeliveredBand:
    def of(key: str) -> str:
        return values[f"BAND_{number}_{key}"]

    return DeliveredBand(
        file=beside(folder, of("FILE")),
        name=f"B{number}",
        role=Role(of("COMMON_NAME")),
        wavelength_um=float(of("WAVELENGTH_UM")),
        resolution_m=float(of("RESOLUTION_M")),
        gain=float(of("REFLECTANCE_GAIN")),
        offset=float(of("REFLECTANCE_OFFSET")),
    )


def _parse_quality(values: dict[str, str], folder: str) -> QualityBand | None:
    name = values.get("QUALITY_FILE")
    if name is None:
        return None
    flags = tuple(
        QualityFlag(name=meaning, first_bit=int(m[1]))
        for key, meaning in values.items()
        if (m := re.match(r"QUALITY_BIT_(\d+)$", key))
    )
    return QualityBand(file=beside(folder, name), flags=flags)


def require_files(inventory: Inventory, scene: DeliveredScene) -> None:
    """Every file that the metadata names must have been found, inside the folder."""
    for name in sorted(_files_of(scene)):
        if name not in inventory.by_path:
            raise UnreadableFileError(
                f"The metadata of {scene.name} names the file {name}, which is not beside it."
            )


SPEC = DeliveryFormat("keyed-text", "Band files with a metadata text", _recognise)
