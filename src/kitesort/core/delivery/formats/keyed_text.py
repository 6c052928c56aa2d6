"""Band files beside a ``*_metadata.txt`` with one ``KEY = VALUE`` per line; ``#`` starts a remark.

The scene gives ``reflectance = (GAIN x DN + OFFSET) / sin(SUN_ELEVATION)`` per band.
"""

import re
from pathlib import Path, PurePosixPath

from kitesort.core.bands import Role
from kitesort.core.delivery.format import (
    DeliveryFormat,
    Findings,
    Recognised,
    recognise_each,
)
from kitesort.core.delivery.inventory import FoundFile, Inventory, take_inventory
from kitesort.core.delivery.scene import DeliveredBand, DeliveredScene, QualityBand
from kitesort.core.delivery.told import Told, named_refusals
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
    return recognise_each(
        inventory, lambda file: file.name.endswith(METADATA_SUFFIX), _read_scene, _belongings
    )


def _belongings(inventory: Inventory, file: FoundFile) -> frozenset[str]:
    """What the text names, as far as it can be read, and what is called like it."""
    try:
        values = parse_lines(inventory.read_text(file))
    except UnreadableFileError:
        values = {}
    named = {beside(file.folder, v) for key, v in values.items() if key.endswith("_FILE")}
    return inventory.named_like(file, file.name[: -len(METADATA_SUFFIX)]) | named


def _read_scene(inventory: Inventory, file: FoundFile) -> Recognised:
    scene = _parse(inventory, file)
    return Recognised(scene, _files_of(scene) | {file.path})


def _files_of(scene: DeliveredScene) -> frozenset[str]:
    quality = [scene.quality.file] if scene.quality else []
    return frozenset([b.file for b in scene.bands] + quality)


def _parse(inventory: Inventory, file: FoundFile) -> DeliveredScene:
    values = parse_lines(inventory.read_text(file))
    told = Told(file.name, values)
    numbers = sorted({int(m[1]) for key in values if (m := re.match(r"BAND_(\d+)_FILE$", key))})
    with named_refusals(file.name):
        scene = DeliveredScene(
            folder=str(inventory.root),
            name=told.text("SCENE"),
            sensor=told.text("SENSOR"),
            acquired=told.day("ACQUIRED"),
            sun_elevation_deg=told.number("SUN_ELEVATION"),
            fill_value=told.number("FILL_VALUE"),
            saturated_value=told.number_if_told("SATURATED_VALUE"),
            bands=tuple(_parse_band(told, n, file.folder) for n in numbers),
            quality=_parse_quality(values, file.folder),
        )
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


def _parse_band(told: Told, number: int, folder: str) -> DeliveredBand:
    def key(what: str) -> str:
        return f"BAND_{number}_{what}"

    role = told.text(key("COMMON_NAME"))
    if role not in set(Role):
        raise UnreadableFileError(
            f"{told.file} gives {key('COMMON_NAME')} as “{role[:40]}”, which is no band's common "
            "name. Deliver it again."
        )
    return DeliveredBand(
        file=beside(folder, told.text(key("FILE"))),
        name=f"B{number}",
        role=role,
        wavelength_um=told.number(key("WAVELENGTH_UM")),
        pixel_size=told.number(key("RESOLUTION_M")),
        gain=told.number(key("REFLECTANCE_GAIN")),
        offset=told.number(key("REFLECTANCE_OFFSET")),
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
