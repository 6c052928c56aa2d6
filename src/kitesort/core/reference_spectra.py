"""Spectra of common covers as textbooks draw them, to choose bands for a ratio or to recognise a
curve by its shape. They are schematic, not measurements.

Source: values from memory of the curves in remote sensing textbooks (Lillesand, Kiefer & Chipman,
Remote Sensing and Image Interpretation, chapter 1; Richards, Remote Sensing Digital Image
Analysis, chapter 1); good to about 0.05. Only typical values of indices are computed from them.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

SOURCE = "covers schematic, as textbooks draw them, good to about 0.05"


@dataclass(frozen=True)
class ReferenceSpectrum:
    """Reflectance (0 to 1) over wavelength (µm)."""

    id: str
    title: str
    colour: str
    points: tuple[tuple[float, float], ...]


# fmt: off
REFERENCE_SPECTRA: tuple[ReferenceSpectrum, ...] = (
    ReferenceSpectrum("water", "Clear water", "#0072B2", (
        (0.40, 0.060), (0.45, 0.060), (0.50, 0.055), (0.55, 0.045), (0.60, 0.025), (0.65, 0.015),
        (0.70, 0.008), (0.75, 0.004), (0.90, 0.001), (1.00, 0.0), (1.65, 0.0), (2.40, 0.0))),
    ReferenceSpectrum("turbid-water", "Turbid water", "#56B4E9", (
        (0.40, 0.060), (0.45, 0.080), (0.50, 0.100), (0.55, 0.130), (0.60, 0.130), (0.65, 0.115),
        (0.70, 0.090), (0.75, 0.045), (0.80, 0.040), (0.85, 0.030), (0.90, 0.012), (1.00, 0.006),
        (1.20, 0.002), (1.65, 0.0), (2.40, 0.0))),
    ReferenceSpectrum("vegetation", "Green vegetation", "#009E73", (
        (0.40, 0.030), (0.45, 0.035), (0.50, 0.045), (0.55, 0.100), (0.60, 0.060), (0.65, 0.045),
        (0.68, 0.035), (0.70, 0.100), (0.72, 0.250), (0.75, 0.420), (0.80, 0.470), (0.90, 0.490),
        (0.97, 0.460), (1.10, 0.490), (1.20, 0.450), (1.30, 0.460), (1.40, 0.220), (1.45, 0.130),
        (1.55, 0.240), (1.65, 0.300), (1.80, 0.240), (1.90, 0.080), (1.95, 0.050), (2.10, 0.120),
        (2.20, 0.170), (2.30, 0.120), (2.40, 0.070))),
    ReferenceSpectrum("straw", "Dry vegetation, straw", "#E69F00", (
        (0.40, 0.070), (0.50, 0.140), (0.60, 0.240), (0.70, 0.330), (0.80, 0.400), (0.90, 0.450),
        (1.10, 0.520), (1.30, 0.550), (1.40, 0.520), (1.45, 0.490), (1.65, 0.560), (1.90, 0.420),
        (2.10, 0.380), (2.20, 0.420), (2.30, 0.330), (2.40, 0.300))),
    ReferenceSpectrum("dry-soil", "Dry soil", "#D55E00", (
        (0.40, 0.080), (0.50, 0.130), (0.60, 0.190), (0.70, 0.240), (0.80, 0.280), (0.90, 0.310),
        (1.10, 0.360), (1.30, 0.400), (1.40, 0.380), (1.65, 0.440), (1.80, 0.450), (1.90, 0.390),
        (2.10, 0.440), (2.20, 0.400), (2.30, 0.420), (2.40, 0.400))),
    ReferenceSpectrum("wet-soil", "Wet soil, mud", "#8C510A", (
        (0.40, 0.040), (0.50, 0.060), (0.60, 0.090), (0.70, 0.115), (0.80, 0.135), (0.90, 0.150),
        (1.10, 0.170), (1.30, 0.180), (1.40, 0.130), (1.65, 0.180), (1.90, 0.080), (2.10, 0.130),
        (2.20, 0.130), (2.40, 0.090))),
    ReferenceSpectrum("sand", "Dry sand", "#BBA300", (
        (0.40, 0.140), (0.50, 0.240), (0.60, 0.330), (0.70, 0.390), (0.80, 0.430), (0.90, 0.450),
        (1.10, 0.500), (1.30, 0.530), (1.40, 0.520), (1.65, 0.580), (1.90, 0.540), (2.20, 0.600),
        (2.30, 0.590), (2.40, 0.570))),
    ReferenceSpectrum("snow", "Snow", "#7A6C9D", (
        (0.40, 0.960), (0.50, 0.970), (0.60, 0.960), (0.70, 0.940), (0.80, 0.900), (0.90, 0.850),
        (1.00, 0.720), (1.03, 0.660), (1.10, 0.720), (1.20, 0.500), (1.25, 0.420), (1.30, 0.450),
        (1.40, 0.150), (1.50, 0.040), (1.60, 0.060), (1.70, 0.100), (1.80, 0.120), (1.95, 0.030),
        (2.00, 0.020), (2.25, 0.080), (2.40, 0.030))),
)
# fmt: on


def reflectance_at(
    spectrum: ReferenceSpectrum, wavelengths_um: Sequence[float]
) -> npt.NDArray[np.float32]:
    """Reflectance (n,) at wavelengths, in a straight line between the points."""
    at, value = zip(*spectrum.points, strict=True)
    return np.interp(wavelengths_um, at, value).astype(np.float32)
