"""Random fields that look like nature: power-law spectra over a square in space."""

import numpy as np
import numpy.typing as npt
from scipy import fft

Field = npt.NDArray[np.float32]


def power_law_noise(
    shape: tuple[int, int], slope: float, rng: np.random.Generator, longest_px: float | None = None
) -> Field:
    """Noise with amplitude ~ frequency^-slope, mean 0, standard deviation 1.

    slope 0 is white, 1 rough, 2 smooth hills. Wavelengths above ``longest_px`` are flattened.
    """
    rows = fft.fftfreq(shape[0])[:, None].astype(np.float32)
    cols = fft.rfftfreq(shape[1])[None, :].astype(np.float32)
    frequency = np.hypot(rows, cols)
    floor = 1 / (longest_px or max(shape))
    amplitude = np.maximum(frequency, floor) ** -np.float32(slope)
    amplitude[0, 0] = 0
    white = fft.rfft2(rng.standard_normal(shape, dtype=np.float32), workers=2)
    field = fft.irfft2(white * amplitude, s=shape, workers=2)
    return ((field - field.mean()) / field.std()).astype(np.float32)


def smoothstep(values: Field, low: float, high: float) -> Field:
    """0 below low, 1 above high, smooth between (low may be above high to fall instead)."""
    t = np.clip((values - low) / (high - low), 0, 1)
    return (t * t * (3 - 2 * t)).astype(np.float32)
