"""Which classes are still possible for a pixel, with a promise that holds over sites."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from kitesort.core.classify.arrays import no_classifier, take_numbers
from kitesort.core.group_statistics import Float64Array

LEVEL = 0.9


@dataclass(frozen=True)
class Calibration:
    """Of training pixels told by classifiers that had not seen their site: ``strangeness`` (n,) in
    rising order, one less the share of the pixel's own class, and ``mass`` (n,) of all up to it.

    Each site weighs the same, one over their number and one more, however many pixels it has; so
    the promise is over sites, which may be like one another, and not over pixels, whose neighbours
    are. Source: V. Vovk, A. Gammerman and G. Shafer 2005, Algorithmic Learning in a Random World;
    Y. Lee, R. Foygel Barber and R. Willett 2023 (several measurements of each subject; from
    memory, coverage confirmed in the tests).
    """

    strangeness: Float64Array
    mass: Float64Array
    n_sites: int

    def least_share(self, level: float = LEVEL) -> float:
        """The share from which on a class is possible: the class of a pixel of a new site is among
        the possible ones in at least ``level`` of all cases. Minus infinity, and so every class,
        where there are too few sites to promise anything."""
        at = int(np.searchsorted(self.mass, level - 1e-12))
        return -np.inf if at == len(self.mass) else 1 - float(self.strangeness[at])

    def arrays(self) -> dict[str, npt.NDArray[Any]]:
        return {
            "calibration_strangeness": self.strangeness,
            "calibration_mass": self.mass,
            "calibration_sites": np.array([float(self.n_sites)]),
        }


def calibrate(own_share: Float64Array, sites: npt.NDArray[np.integer]) -> Calibration | None:
    """From the share (n,) that each held-out pixel's own class got, and its site (n,); None without
    any."""
    if len(own_share) == 0:
        return None
    _, place, n_pixels = np.unique(sites, return_inverse=True, return_counts=True)
    weights = 1 / (n_pixels[place] * (len(n_pixels) + 1.0))
    strangeness = 1 - own_share
    order = np.argsort(strangeness, kind="stable")
    return Calibration(strangeness[order], np.cumsum(weights[order]), len(n_pixels))


def restore_calibration(arrays: Mapping[str, npt.NDArray[Any]]) -> Calibration | None:
    """Raises BadClassifierError where it is there, and none."""
    if "calibration_mass" not in arrays:
        return None
    mass = take_numbers(arrays, "calibration_mass", (None,))
    strangeness = take_numbers(arrays, "calibration_strangeness", (len(mass),))
    sites = take_numbers(arrays, "calibration_sites", (1,))
    if (np.diff(mass) < 0).any() or (np.diff(strangeness) < 0).any() or mass[-1] > 1:
        raise no_classifier()
    return Calibration(strangeness, mass, int(sites[0]))


def possible(shares: Float64Array, least: float) -> npt.NDArray[np.bool_]:
    """Which classes (classes, n) a pixel may still have; by a little more than rounding."""
    return np.asarray(shares >= least - 1e-12)
