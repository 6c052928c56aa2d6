"""What the numbers of a delivery run from and to, and what they therefore seem to be."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from kitesort.core.delivery.scene import DeliveredScene
from kitesort.core.raster.sample import sample_pixels

MOST_PIXELS = 512**2


@dataclass(frozen=True)
class BandRange:
    """Lowest and highest number that is not fill; None where all of it is."""

    low: float | None
    high: float | None


def band_ranges(scene: DeliveredScene) -> list[BandRange]:
    """Of every band, used or not, from native pixels spread over it.

    Raises
    ------
    UnreadableFileError
    """
    found = []
    for band in scene.bands:
        # Pixels are read the same whatever the CRS, and a file may not have one yet.
        raster = replace(scene.open_band(band), crs="EPSG:3857")
        values = sample_pixels(raster, most=MOST_PIXELS).values[0]
        if values.size:
            found.append(BandRange(float(values.min()), float(values.max())))
        else:
            found.append(BandRange(None, None))
    return found


def describe_numbers(ranges: Sequence[BandRange]) -> str:
    """Whether they look like reflectance, scaled whole numbers, or raw numbers. Common practice."""
    lows = [r.low for r in ranges if r.low is not None]
    highs = [r.high for r in ranges if r.high is not None]
    if not lows or not highs:
        return "All of it is fill: there is nothing to see in these files."
    low, high = min(lows), max(highs)
    if low >= -1 and high <= 2 and not float(high).is_integer():
        return "The numbers look like reflectance or an index: between -1 and 2."
    if low >= -10_000 and 255 < high <= 20_000:
        return "The numbers look like reflectance times 10 000, or raw numbers of a sensor."
    return "The numbers look like raw numbers of a sensor."
