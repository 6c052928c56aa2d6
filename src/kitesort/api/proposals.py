"""Between what was recognised and the table that the analyst fills."""

from collections.abc import Sequence
from pathlib import Path

from kitesort.api.scene_schemas import (
    BandRangeOut,
    FileOut,
    FindingsOut,
    ProposalOut,
    ProposedBandOut,
    RangesOut,
    SceneTake,
)
from kitesort.core.crs_search import require_crs
from kitesort.core.delivery.format import Findings, Recognised
from kitesort.core.delivery.inventory import Inventory, RasterFacts
from kitesort.core.delivery.ranges import band_ranges, describe_numbers
from kitesort.core.delivery.scene import DeliveredBand, DeliveredScene, StackOptions
from kitesort.core.errors import InputError, NotFoundError
from kitesort.core.grid import parse_crs, unit_name
from kitesort.store.records import DeliveredFile


def findings_out(
    inventory: Inventory, found: Findings, files: Sequence[DeliveredFile]
) -> FindingsOut:
    others = [f for f in inventory.files if f.path not in found.taken]
    return FindingsOut(
        scenes=[_proposal(inventory, i, r) for i, r in enumerate(found.scenes)],
        problems=list(found.problems),
        files=[FileOut.model_validate(f, from_attributes=True) for f in files],
        n_other_files=len(others),
    )


def _proposal(inventory: Inventory, position: int, found: Recognised) -> ProposalOut:
    scene = found.scene
    finest = min(scene.used_bands or scene.bands, key=lambda b: b.pixel_size)
    facts = _facts(inventory, finest)
    return ProposalOut(
        position=position,
        name=scene.name,
        sensor=scene.sensor,
        acquired=scene.acquired,
        sun_elevation_deg=scene.sun_elevation_deg,
        crs=facts.crs,
        crs_name=parse_crs(facts.crs).name if facts.crs else None,
        rows=facts.rows,
        columns=facts.columns,
        pixel_size=facts.pixel_size,
        unit=unit_name(facts.crs) if facts.crs else "",
        fill_value=scene.fill_value,
        bands=[_band_out(inventory, i, band) for i, band in enumerate(scene.bands)],
        quality_file=Path(scene.quality.file).name if scene.quality else None,
        flags=list(scene.flag_names),
        remarks=list(scene.remarks),
        questions=list(found.questions),
        looks_like_series=len(scene.bands) == 1 and scene.acquired is not None,
    )


def _facts(inventory: Inventory, band: DeliveredBand) -> RasterFacts:
    facts = inventory.by_path[band.file].raster
    if facts is None:
        raise InputError(f"{band.file} cannot be read any more.")
    return facts


def _band_out(inventory: Inventory, position: int, band: DeliveredBand) -> ProposedBandOut:
    return ProposedBandOut(
        position=position,
        file=band.file,
        index=band.index,
        name=band.name,
        role=band.role,
        wavelength_um=band.wavelength_um,
        pixel_size=band.pixel_size,
        kind=_facts(inventory, band).dtype,
        quantity=band.best_quantity,
        gain=band.gain,
        offset=band.offset,
        used=band.used,
        reason=band.reason,
    )


def proposed(found: Sequence[Recognised], position: int) -> DeliveredScene:
    """Raises NotFoundError when the delivery is not what it was."""
    if position >= len(found):
        raise NotFoundError("The delivery has changed since. Look at it again.")
    return found[position].scene


def ranges_out(scene: DeliveredScene) -> RangesOut:
    ranges = band_ranges(scene)
    return RangesOut(
        bands=[BandRangeOut(position=i, low=r.low, high=r.high) for i, r in enumerate(ranges)],
        looks_like=describe_numbers(
            [r for r, b in zip(ranges, scene.bands, strict=True) if b.used]
        ),
    )


def taken_scene(found: Sequence[Recognised], wish: SceneTake) -> DeliveredScene:
    """A recognised scene with what the analyst said of it; files are never named by the browser.

    Raises
    ------
    NotFoundError : no such scene or band. BadSettingsError : no such CRS.
    """
    scene = proposed(found, wish.position)
    bands = []
    for said in wish.bands:
        if said.position >= len(scene.bands):
            raise NotFoundError("The delivery has changed since. Look at it again.")
        band = scene.bands[said.position]
        told = said.model_dump(include={"role", "wavelength_um", "gain", "offset", "used"})
        told |= {"reason": "" if said.used else band.reason}
        if wish.fill_value != scene.fill_value:
            told["fill_value"] = None  # the analyst's own word counts for all bands
        bands.append(band.model_copy(update=told))
    return scene.model_copy(
        update={
            "sensor": wish.sensor,
            "acquired": wish.acquired,
            "crs": require_crs(wish.crs) if wish.crs else None,
            "fill_value": wish.fill_value,
            "stack": StackOptions(grid=wish.grid, resampling=wish.resampling),
            "bands": tuple(bands),
        }
    )
