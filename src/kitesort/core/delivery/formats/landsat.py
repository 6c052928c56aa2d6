"""Landsat 4 to 9, level 1 and 2, with the ``*_MTL.txt`` that comes with each scene.

Sources: data format control books and data users' handbooks of the Landsat missions: level 1
reflectance = (REFLECTANCE_MULT x DN + REFLECTANCE_ADD) / sin(SUN_ELEVATION), thermal bands by
RADIANCE_MULT and _ADD and the constants K1 and K2 to brightness temperature; level 2 surface
reflectance and temperature (kelvin) by factors of their own, without the sun. Bits of the quality
bands of collections 1 and 2 from the same books; of the time before collections from the Landsat 8
handbook of 2013 (all from memory; the chips that the tests read confirm fill and cloud).
"""

import re

from kitesort.core.delivery.format import (
    DeliveryFormat,
    Findings,
    Recognised,
    recognise_each,
)
from kitesort.core.delivery.inventory import FoundFile, Inventory
from kitesort.core.delivery.scene import DeliveredBand, DeliveredScene, QualityBand
from kitesort.core.delivery.sensors import ETM, OLI, TM, SensorBand
from kitesort.core.delivery.told import Told, named_refusals
from kitesort.core.errors import UnreadableFileError
from kitesort.core.raster.quality import QualityFlag

SUFFIX = "_mtl.txt"
Groups = dict[str, dict[str, str]]

# fmt: off
COLLECTION_2 = (
    QualityFlag(name="fill", first_bit=0), QualityFlag(name="dilated_cloud", first_bit=1),
    QualityFlag(name="cirrus", first_bit=2), QualityFlag(name="cloud", first_bit=3),
    QualityFlag(name="cloud_shadow", first_bit=4), QualityFlag(name="snow", first_bit=5),
    QualityFlag(name="water", first_bit=7),
)
COLLECTION_1 = (
    QualityFlag(name="fill", first_bit=0),
    QualityFlag(name="saturated", first_bit=2, n_bits=2, values=(1, 2, 3)),
    QualityFlag(name="cloud", first_bit=4),
    QualityFlag(name="cloud_shadow", first_bit=7, n_bits=2, values=(3,)),
    QualityFlag(name="snow", first_bit=9, n_bits=2, values=(3,)),
    QualityFlag(name="cirrus", first_bit=11, n_bits=2, values=(3,)),
)
BEFORE_COLLECTIONS = (
    QualityFlag(name="fill", first_bit=0),
    QualityFlag(name="water", first_bit=4, n_bits=2, values=(3,)),
    QualityFlag(name="snow", first_bit=10, n_bits=2, values=(3,)),
    QualityFlag(name="cirrus", first_bit=12, n_bits=2, values=(3,)),
    QualityFlag(name="cloud", first_bit=14, n_bits=2, values=(3,)),
)
# fmt: on


def _recognise(inventory: Inventory) -> Findings:
    return recognise_each(
        inventory, lambda file: file.name.lower().endswith(SUFFIX), _read_scene, _belongings
    )


def parse_groups(text: str) -> Groups:
    """``GROUP = NAME`` … ``END_GROUP = NAME`` with ``KEY = VALUE`` lines, by group name."""
    groups: Groups = {}
    stack = [""]
    for line in text.splitlines():
        key, equals, value = (part.strip() for part in line.partition("="))
        if not equals:
            continue
        if key == "GROUP":
            stack.append(value)
        elif key == "END_GROUP":
            stack = stack[:-1] or [""]
        else:
            groups.setdefault(stack[-1], {})[key] = value.strip('"')
    return groups


def _read_scene(inventory: Inventory, file: FoundFile) -> Recognised:
    groups = parse_groups(inventory.read_text(file))
    everything = {k: v for group in groups.values() for k, v in group.items()}
    is_level_2 = _is_level_2(groups, everything)
    factors = _level_2_factors(groups) if is_level_2 else everything
    told = Told(file.name, everything)
    spacecraft = _spacecraft(told)
    named = _band_files(groups)
    with named_refusals(file.name):
        bands = tuple(
            b for key, name in named.items()
            if (b := _read_band(inventory, file, spacecraft, key, name, factors))
        )  # fmt: skip
    if not bands:
        raise UnreadableFileError(f"None of the bands that {file.name} names is here.")
    absent = [n for n in named.values() if inventory.in_folder_of(file, n) is None]
    with named_refusals(file.name):
        scene = DeliveredScene(
            folder=str(inventory.root),
            name=everything.get("LANDSAT_PRODUCT_ID") or told.text("LANDSAT_SCENE_ID"),
            sensor=f"Landsat {spacecraft}, level {2 if is_level_2 else 1}",
            acquired=told.day("DATE_ACQUIRED"),
            sun_elevation_deg=told.number("SUN_ELEVATION"),
            divide_by_sine=not is_level_2,
            fill_value=0.0,
            saturated_value=None if is_level_2 else _saturated(told),
            bands=bands,
            quality=_read_quality(inventory, file, told),
            remarks=_remarks(absent, bands),
        )
    return Recognised(scene, _belongings(inventory, file) | {b.file for b in scene.bands})


def _spacecraft(told: Told) -> int:
    named = told.text("SPACECRAFT_ID")
    digits = re.sub(r"\D", "", named)
    return int(told.as_number("SPACECRAFT_ID", digits or named))


def _is_level_2(groups: Groups, everything: dict[str, str]) -> bool:
    """Level 1 factors stand in a level 2 text, too, and mean other numbers."""
    return "LEVEL2_SURFACE_REFLECTANCE_PARAMETERS" in groups or everything.get(
        "PROCESSING_LEVEL", ""
    ).startswith("L2")


def _level_2_factors(groups: Groups) -> dict[str, str]:
    named = [group for name, group in groups.items() if name.startswith("LEVEL2_SURFACE_")]
    return {key: value for group in named for key, value in group.items()}


def _band_files(groups: Groups) -> dict[str, str]:
    """File name by band number; in level 2 the product's own files come first."""
    names: dict[str, str] = {}
    for group in groups.values():
        for key, value in group.items():
            if (m := re.match(r"FILE_NAME_BAND_((?:ST_B)?\d\w*)$", key)) and m[1] not in names:
                names[m[1]] = value
    return names


def _read_band(
    inventory: Inventory,
    file: FoundFile,
    spacecraft: int,
    key: str,
    name: str,
    factors: dict[str, str],
) -> DeliveredBand | None:
    found = inventory.in_folder_of(file, name)
    if found is None or found.raster is None:
        return None
    seen = _sensor_band(spacecraft, key)

    told = Told(file.name, factors)

    def of(what: str) -> float | None:
        return told.number_if_told(f"{what}_BAND_{key}")

    is_warm = key.startswith("ST_")
    what = "TEMPERATURE" if is_warm else "REFLECTANCE"
    gain = of(f"{what}_MULT")
    lacks = gain is None and any(k.startswith("REFLECTANCE_MULT_BAND_") for k in factors)
    reason = seen.leave_out or ("the metadata gives no reflectance factors for it" if lacks else "")
    return DeliveredBand(
        file=found.path,
        name=f"B{key}" if key[0].isdigit() else key,
        role=seen.role,
        wavelength_um=seen.wavelength_um,
        pixel_size=found.raster.pixel_size,
        gain=gain,
        offset=of(f"{what}_ADD") or 0.0,
        radiance_gain=of("RADIANCE_MULT"),
        radiance_offset=of("RADIANCE_ADD") or 0.0,
        quantity="temperature" if is_warm else "reflectance",
        k1=of("K1_CONSTANT"),
        k2=of("K2_CONSTANT"),
        used=not reason,
        reason=reason,
    )


def _sensor_band(spacecraft: int, key: str) -> SensorBand:
    table = OLI if spacecraft >= 8 else ETM if spacecraft == 7 else TM
    return table.get(key) or SensorBand("", 1.0, "the sensor has no such band")


def _saturated(told: Told) -> float | None:
    """The highest number a band can hold, the same for all bands of a scene."""
    return told.number_if_told("QUANTIZE_CAL_MAX_BAND_2")


def _read_quality(inventory: Inventory, file: FoundFile, told: Told) -> QualityBand | None:
    names = ("FILE_NAME_QUALITY_L1_PIXEL", "FILE_NAME_BAND_QUALITY")
    name = next((value for key in names if (value := told.values.get(key))), None)
    found = inventory.in_folder_of(file, name) if name else None
    if found is None or found.raster is None:
        return None
    collection = int(told.number_if_told("COLLECTION_NUMBER") or 0)
    flags = {0: BEFORE_COLLECTIONS, 1: COLLECTION_1}.get(collection, COLLECTION_2)
    return QualityBand(file=found.path, flags=flags)


def _remarks(absent: list[str], bands: tuple[DeliveredBand, ...]) -> tuple[str, ...]:
    remarks = []
    if absent and bands:
        remarks.append(f"The metadata names files that are not here: {', '.join(absent)}.")
    if all(band.gain is None for band in bands):
        remarks.append(
            "The metadata gives no reflectance factors, as before 2014. The numbers come in as "
            "they are; give a scale and offset under Correct."
        )
    return tuple(remarks)


def _belongings(inventory: Inventory, file: FoundFile) -> frozenset[str]:
    """Everything whose name begins like the metadata's: angles, previews and side files too."""
    return inventory.named_like(file, file.name[: -len(SUFFIX)])


SPEC = DeliveryFormat("landsat", "Landsat 4 to 9, level 1 or 2", _recognise)
