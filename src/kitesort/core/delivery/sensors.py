"""What the bands of the public land sensors see: role and centre wavelength by band name.

Sources: Landsat 4-9 data users' handbooks and the Sentinel-2 user handbook, tables of spectral
bands (from memory; a test holds every wavelength against the role's published range).
"""

from dataclasses import dataclass


@dataclass(frozen=True)
class SensorBand:
    """Role and centre wavelength in micrometres; ``leave_out`` says why it is not stacked."""

    role: str
    wavelength_um: float
    leave_out: str = ""


_THERMAL = "thermal: it sees warmth, not reflected light"
_PAN = "panchromatic: one wide band, for sharpening"
_CIRRUS = "made to see thin high cloud, not the ground"
_NARROW_NIR = "a second near infrared, narrower and coarser than the first"
_VAPOUR = "made to see water vapour, not the ground"


@dataclass(frozen=True)
class KnownSensor:
    """The bands of a sensor as they are usually handed on, in order."""

    title: str
    bands: tuple[SensorBand, ...]


TM = {
    "1": SensorBand("blue", 0.485),
    "2": SensorBand("green", 0.560),
    "3": SensorBand("red", 0.660),
    "4": SensorBand("nir", 0.830),
    "5": SensorBand("swir16", 1.650),
    "6": SensorBand("lwir", 11.45, _THERMAL),
    "7": SensorBand("swir22", 2.215),
}
ETM = TM | {
    "6_VCID_1": SensorBand("lwir", 11.45, _THERMAL),
    "6_VCID_2": SensorBand("lwir_high_gain", 11.45, _THERMAL),
    "8": SensorBand("pan", 0.710, _PAN),
}
OLI = {
    "1": SensorBand("coastal", 0.443),
    "2": SensorBand("blue", 0.482),
    "3": SensorBand("green", 0.561),
    "4": SensorBand("red", 0.655),
    "5": SensorBand("nir", 0.865),
    "6": SensorBand("swir16", 1.609),
    "7": SensorBand("swir22", 2.201),
    "8": SensorBand("pan", 0.590, _PAN),
    "9": SensorBand("cirrus", 1.373, _CIRRUS),
    "10": SensorBand("lwir11", 10.895, _THERMAL),
    "11": SensorBand("lwir12", 12.005, _THERMAL),
    "ST_B6": SensorBand("lwir", 11.45, _THERMAL),
    "ST_B10": SensorBand("lwir11", 10.895, _THERMAL),
}
MSI = {
    "B01": SensorBand("coastal", 0.443),
    "B02": SensorBand("blue", 0.490),
    "B03": SensorBand("green", 0.560),
    "B04": SensorBand("red", 0.665),
    "B05": SensorBand("rededge071", 0.705),
    "B06": SensorBand("rededge075", 0.740),
    "B07": SensorBand("rededge078", 0.783),
    "B08": SensorBand("nir", 0.842),
    "B8A": SensorBand("nir08", 0.865, _NARROW_NIR),
    "B09": SensorBand("nir09", 0.945, _VAPOUR),
    "B10": SensorBand("cirrus", 1.375, _CIRRUS),
    "B11": SensorBand("swir16", 1.610),
    "B12": SensorBand("swir22", 2.190),
}


def _bands(table: dict[str, SensorBand], *names: str) -> tuple[SensorBand, ...]:
    return tuple(table[name] for name in names)


KNOWN_SENSORS = (
    KnownSensor("Landsat 4 to 7, six bands", _bands(TM, "1", "2", "3", "4", "5", "7")),
    KnownSensor("Landsat 8 and 9, seven bands", _bands(OLI, "1", "2", "3", "4", "5", "6", "7")),
    KnownSensor("Sentinel-2, four bands of 10 m", _bands(MSI, "B02", "B03", "B04", "B08")),
    KnownSensor("Sentinel-2, ten bands", _bands(
        MSI, "B02", "B03", "B04", "B05", "B06", "B07", "B08", "B8A", "B11", "B12",
    )),
    KnownSensor("Sentinel-2, all thirteen bands", _bands(
        MSI, "B01", "B02", "B03", "B04", "B05", "B06", "B07", "B08", "B8A", "B09", "B10", "B11",
        "B12",
    )),
)  # fmt: skip
