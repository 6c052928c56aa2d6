"""A scene described by an open STAC item (JSON) whose assets lie beside it.

Source: STAC 1.0 and 1.1 item specification with the electro-optical, raster, projection, view and
classification extensions: value = number × scale + offset.
"""

import math
from datetime import date
from pathlib import PurePosixPath
from typing import Any

from kitesort.core.bands import Quantity
from kitesort.core.delivery.format import (
    DeliveryFormat,
    Findings,
    Recognised,
    recognise_each,
)
from kitesort.core.delivery.formats.keyed_text import beside
from kitesort.core.delivery.inventory import FoundFile, Inventory, natural_key
from kitesort.core.delivery.scene import DeliveredBand, DeliveredScene, QualityBand
from kitesort.core.delivery.sensors import MSI
from kitesort.core.delivery.told import named_refusals
from kitesort.core.errors import UnreadableFileError
from kitesort.core.outside_json import read_json
from kitesort.core.raster.quality import QualityFlag

Json = dict[str, Any]
KELVIN = ("k", "kelvin")
LEFT_OUT = {b.role: b.leave_out for b in MSI.values() if b.leave_out} | {
    "pan": "panchromatic: one wide band, for sharpening",
    "lwir": "thermal: it sees warmth, not reflected light",
    "lwir11": "thermal: it sees warmth, not reflected light",
    "lwir12": "thermal: it sees warmth, not reflected light",
}


def _recognise(inventory: Inventory) -> Findings:
    return recognise_each(inventory, _may_be_an_item, _read_item, _belongings)


def _belongings(inventory: Inventory, file: FoundFile) -> frozenset[str]:
    """The files that the description names, as far as it can be read."""
    try:
        item = _load(inventory, file) or {}
        found = [_local(inventory, file, asset) for asset in dict(item["assets"]).values()]
    except (UnreadableFileError, LookupError, TypeError, ValueError, AttributeError):
        return frozenset({file.path})
    return frozenset({file.path, *(f.path for f in found if f)})


def _may_be_an_item(file: FoundFile) -> bool:
    return file.name.lower().endswith(".json") and file.kind == "text"


def _read_item(inventory: Inventory, file: FoundFile) -> Recognised | None:
    item = _load(inventory, file)
    return None if item is None else _read_scene(inventory, file, item)


def _load(inventory: Inventory, file: FoundFile) -> Json | None:
    """The item, None for JSON of another kind."""
    text = inventory.read_text(file)
    if '"stac_version"' not in text:
        return None
    try:
        item = read_json(text)
    except ValueError as error:
        raise UnreadableFileError(f"{file.name} is not complete JSON. Deliver it again.") from error
    return item if isinstance(item, dict) and item.get("type") == "Feature" else None


def _read_scene(inventory: Inventory, file: FoundFile, item: Json) -> Recognised:
    try:
        with named_refusals(file.name):
            scene = _parse(inventory, file, item)
    except KeyError as error:
        raise UnreadableFileError(
            f"{file.name} does not give {error.args[0]}. Deliver it again."
        ) from error
    except (ValueError, TypeError, AttributeError) as error:
        raise UnreadableFileError(
            f"{file.name} describes a scene in a way that cannot be understood: {error}."
        ) from error
    bands = scene.bands
    mine = (
        {b.file for b in bands} | {file.path} | ({scene.quality.file} if scene.quality else set())
    )
    return Recognised(scene, frozenset(mine), _questions(scene))


def _parse(inventory: Inventory, file: FoundFile, item: Json) -> DeliveredScene:
    told = item["properties"]
    bands = _read_bands(inventory, file, item)
    if not bands:
        raise UnreadableFileError(f"None of the bands that {file.name} describes is beside it.")
    return DeliveredScene(
        folder=str(inventory.root),
        name=str(item["id"]),
        sensor=str(told.get("platform") or "Unknown sensor"),
        acquired=_date(told),
        sun_elevation_deg=told.get("view:sun_elevation"),
        divide_by_sine=False,
        fill_value=_common_fill(bands),
        bands=bands,
        quality=_read_quality(inventory, file, item),
    )


def _questions(scene: DeliveredScene) -> tuple[str, ...]:
    asked = []
    if any(b.used and not b.role for b in scene.bands):
        asked.append("Say what each band sees. The description does not tell for all of them.")
    if scene.acquired is None:
        asked.append("Give the date it was taken: the description does not tell.")
    return tuple(asked)


def _date(told: Json) -> date | None:
    when = str(told.get("datetime") or told.get("start_datetime") or "")[:10]
    return date.fromisoformat(when) if when else None


def _local(inventory: Inventory, file: FoundFile, asset: Json) -> FoundFile | None:
    name = PurePosixPath(str(asset.get("href", "")).split("?")[0]).name
    return inventory.by_path.get(beside(file.folder, name))


def _described(asset: Json) -> list[tuple[Json, Json]]:
    """Pairs of optical and numeric descriptions of an asset's bands."""
    if "bands" in asset:
        return [(b, b) for b in asset["bands"]]
    optical = asset.get("eo:bands") or []
    numeric = asset.get("raster:bands") or [{}] * len(optical)
    return list(zip(optical, numeric, strict=False))


def _read_bands(inventory: Inventory, file: FoundFile, item: Json) -> tuple[DeliveredBand, ...]:
    bands = []
    for key, asset in item["assets"].items():
        found = _local(inventory, file, asset)
        if found is None or found.raster is None or not _described(asset):
            continue
        for index, (optical, numeric) in enumerate(_described(asset), start=1):
            role = str(optical.get("common_name") or optical.get("eo:common_name") or "")
            reason = LEFT_OUT.get(role, "")
            scale = numeric.get("scale", numeric.get("raster:scale"))
            bands.append(
                DeliveredBand(
                    file=found.path,
                    index=index,
                    name=str(optical.get("name") or key),
                    role=role,
                    wavelength_um=optical.get("center_wavelength")
                    or optical.get("eo:center_wavelength"),
                    pixel_size=found.raster.pixel_size,
                    gain=scale,
                    offset=numeric.get("offset", numeric.get("raster:offset", 0.0)) or 0.0,
                    quantity=_quantity(numeric, role),
                    fill_value=_number(numeric.get("nodata")),
                    used=not reason,
                    reason=reason,
                )
            )
    return tuple(sorted(bands, key=lambda b: natural_key(b.name)))


def _quantity(numeric: Json, role: str) -> Quantity:
    """What number × scale + offset means: by its unit, else by what the band sees."""
    unit = str(numeric.get("unit") or "").casefold()
    if unit in KELVIN or (not unit and role.startswith("lwir")):
        return "temperature"
    return "radiance" if unit.startswith("w") else "reflectance"


def _number(told: Any) -> float | None:
    """``nodata`` may be a number, or the words "nan", "inf" and "-inf" (which need no marker)."""
    return float(told) if told is not None and math.isfinite(float(told)) else None


def _common_fill(bands: tuple[DeliveredBand, ...]) -> float | None:
    """What marks no data in all bands alike, to be seen and changed."""
    fills = {band.fill_value for band in bands}
    return fills.pop() if len(fills) == 1 else None


def _read_quality(inventory: Inventory, file: FoundFile, item: Json) -> QualityBand | None:
    for asset in item["assets"].values():
        fields = asset.get("classification:bitfields") or []
        found = _local(inventory, file, asset)
        if fields and found is not None and found.raster is not None:
            flags = tuple(flag for field in fields for flag in _flags(field))
            return QualityBand(file=found.path, flags=flags)
    return None


def _flags(field: Json) -> list[QualityFlag]:
    """The classes of a bit field that warn of something: all but those named as its absence."""
    flags = []
    for entry in field.get("classes") or []:
        name = str(entry.get("name", ""))
        if name and int(entry["value"]) > 0:
            flags.append(
                QualityFlag(
                    name=name,
                    first_bit=int(field["offset"]),
                    n_bits=int(field["length"]),
                    values=(int(entry["value"]),),
                )
            )
    return flags


SPEC = DeliveryFormat("stac-item", "Files described by a STAC item", _recognise)
