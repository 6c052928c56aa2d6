"""Sentinel-2 level 1C and 2A: a tree of folders with XML metadata and JPEG 2000 bands.

Source: Sentinel-2 products specification: reflectance = (DN + offset) / quantification value,
the sun's height already taken into account; classes of the scene classification (SCL) of level
2A (all from memory).
"""

import re
import xml.etree.ElementTree as ET
from pathlib import PurePosixPath

from kitesort.core.delivery.format import (
    DeliveryFormat,
    Findings,
    Recognised,
    recognise_each,
)
from kitesort.core.delivery.inventory import FoundFile, Inventory
from kitesort.core.delivery.scene import DeliveredBand, DeliveredScene, QualityBand
from kitesort.core.delivery.sensors import MSI
from kitesort.core.delivery.told import Told, named_refusals
from kitesort.core.errors import UnreadableFileError
from kitesort.core.raster.quality import QualityFlag

PRODUCT = re.compile(r"MTD_MSIL(1C|2A)\.xml", re.IGNORECASE)
TILE = "MTD_TL.xml"
BAND_FILE = re.compile(r"_(B\d\d|B8A)(?:_(\d\d)m)?\.jp2$", re.IGNORECASE)
CLASS_FILE = re.compile(r"_SCL_\d\dm\.jp2$", re.IGNORECASE)
# Band numbers of the metadata, in its own order.
BAND_IDS = ("B01", "B02", "B03", "B04", "B05", "B06", "B07", "B08", "B8A", "B09", "B10", "B11",
            "B12")  # fmt: skip


def _class_flag(name: str, *values: int) -> QualityFlag:
    return QualityFlag(name=name, first_bit=0, n_bits=8, values=values)


SCENE_CLASSES = (
    _class_flag("fill", 0),
    _class_flag("saturated", 1),
    _class_flag("dark", 2),
    _class_flag("cloud_shadow", 3),
    _class_flag("water", 6),
    _class_flag("cloud", 8, 9),
    _class_flag("cirrus", 10),
    _class_flag("snow", 11),
)


def _recognise(inventory: Inventory) -> Findings:
    return recognise_each(
        inventory,
        lambda file: PRODUCT.fullmatch(file.name) is not None,
        _read_scene,
        lambda inventory, file: frozenset(f.path for f in _files_below(inventory, file)),
    )


def _read_scene(inventory: Inventory, file: FoundFile) -> Recognised:
    below = _files_below(inventory, file)
    product = parse_xml(inventory, file)
    tile = next((f for f in below if f.name.casefold() == TILE.casefold()), None)
    told = Told(file.name, _texts(product))
    bands = _read_bands(below, product, _quantification(told))
    if not bands:
        raise UnreadableFileError(f"None of the bands that {file.name} stands for is here.")
    with named_refusals(file.name):
        scene = DeliveredScene(
            folder=str(inventory.root),
            name=_name(inventory, file, product),
            sensor=f"{told.text('SPACECRAFT_NAME')}, level {_level(file)}",
            acquired=told.day("PRODUCT_START_TIME"),
            sun_elevation_deg=_sun(inventory, tile),
            divide_by_sine=False,
            fill_value=0.0,
            saturated_value=65535.0,
            bands=bands,
            quality=_read_quality(below),
        )
    return Recognised(scene, frozenset(f.path for f in below))


def _files_below(inventory: Inventory, file: FoundFile) -> list[FoundFile]:
    if file.folder == ".":
        return list(inventory.files)
    return [f for f in inventory.files if f.path.startswith(f"{file.folder}/")]


def parse_xml(inventory: Inventory, file: FoundFile) -> ET.Element:
    """An XML file without any document type: entities could reach elsewhere or grow for ever."""
    text = inventory.read_text(file)
    if "<!DOCTYPE" in text or "<!ENTITY" in text:
        raise UnreadableFileError(f"{file.name} defines entities of its own and is not read.")
    try:
        return ET.fromstring(text)
    except ET.ParseError as error:
        raise UnreadableFileError(
            f"{file.name} is not complete XML. It may be cut short; deliver it again."
        ) from error


def _all(root: ET.Element, tag: str) -> list[ET.Element]:
    """Elements by name, whatever their namespace."""
    return [e for e in root.iter() if e.tag.rpartition("}")[2] == tag]


def _texts(root: ET.Element) -> dict[str, str]:
    """The first text of each element, by its name without namespace."""
    texts: dict[str, str] = {}
    for element in root.iter():
        text = (element.text or "").strip()
        if text:
            texts.setdefault(element.tag.rpartition("}")[2], text)
    return texts


def _level(file: FoundFile) -> str:
    match = PRODUCT.fullmatch(file.name)
    assert match is not None
    return match[1].upper()


def _name(inventory: Inventory, file: FoundFile, product: ET.Element) -> str:
    uris = _all(product, "PRODUCT_URI")
    if uris and uris[0].text:
        return PurePosixPath(uris[0].text.strip()).name.removesuffix(".SAFE")
    folder = PurePosixPath(file.folder).name or inventory.title
    return folder.removesuffix(".SAFE")


def _read_bands(
    below: list[FoundFile], product: ET.Element, quantification: float
) -> tuple[DeliveredBand, ...]:
    offsets = {int(e.attrib["band_id"]): float(e.text or 0)
               for tag in ("RADIO_ADD_OFFSET", "BOA_ADD_OFFSET")
               for e in _all(product, tag)}  # fmt: skip
    finest: dict[str, FoundFile] = {}
    for f in below:
        match = BAND_FILE.search(f.name)
        if not match or "IMG_DATA" not in f.path.upper() or f.raster is None:
            continue
        name = match[1].upper()
        old = finest.get(name)
        if old is None or old.raster is None or f.raster.pixel_size < old.raster.pixel_size:
            finest[name] = f
    bands = []
    for name in BAND_IDS:
        file = finest.get(name)
        if file is None or file.raster is None:
            continue
        seen = MSI[name]
        bands.append(
            DeliveredBand(
                file=file.path,
                name=name,
                role=seen.role,
                wavelength_um=seen.wavelength_um,
                pixel_size=file.raster.pixel_size,
                gain=1 / quantification,
                offset=offsets.get(BAND_IDS.index(name), 0.0) / quantification,
                used=not seen.leave_out,
                reason=seen.leave_out,
            )
        )
    return tuple(bands)


def _quantification(told: Told) -> float:
    surface = told.number_if_told("BOA_QUANTIFICATION_VALUE")
    found = told.number("QUANTIFICATION_VALUE") if surface is None else surface
    if found <= 0:
        raise UnreadableFileError(f"{told.file} gives {found:g} as QUANTIFICATION_VALUE.")
    return found


def _sun(inventory: Inventory, tile: FoundFile | None) -> float | None:
    if tile is None:
        return None
    means = _all(parse_xml(inventory, tile), "Mean_Sun_Angle")
    zenith = Told(tile.name, _texts(means[0])).number("ZENITH_ANGLE") if means else None
    return None if zenith is None else 90.0 - zenith


def _read_quality(below: list[FoundFile]) -> QualityBand | None:
    classes = [f for f in below if CLASS_FILE.search(f.name) and f.raster is not None]
    if not classes:
        return None
    finest = min(classes, key=lambda f: f.raster.pixel_size if f.raster else 0)
    return QualityBand(file=finest.path, flags=SCENE_CLASSES)


SPEC = DeliveryFormat("sentinel-2", "Sentinel-2, level 1C or 2A", _recognise)
