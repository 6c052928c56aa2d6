"""What calibration, indices, components and maximum likelihood make of a scene, in few numbers."""

from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt

from kitesort.core.classify.methods.maximum_likelihood import MaximumLikelihoodSettings
from kitesort.core.delivery import open_delivery, read_delivery
from kitesort.core.derive.coefficients import parse_table
from kitesort.core.derive.registry import DERIVATIONS
from kitesort.core.operation import Context
from kitesort.core.raster.protocol import Block, Raster
from kitesort.core.settings import validate_settings
from kitesort.core.training.samples import TrainingSamples
from support.fitting import fit
from support.opening import open_by, prepare_by

PLACES = 40
TABLE = """x blue green red nir swir16 swir22
brightness .3029 .2786 .4733 .5599 .508 .1872
greenness -.2941 -.243 -.5424 .7276 .0713 -.1608"""
LAYERS: dict[str, tuple[str, dict[str, Any]]] = {
    "ndvi": ("index", {"index": "ndvi"}),
    "evi": ("index", {"index": "evi"}),
    "mndwi": ("index", {"index": "mndwi"}),
    "ratio": ("ratio", {"upper": "swir16", "lower": "nir"}),
    "formula": ("formula", {"formula": "sqrt(nir ^ 2 + red ^ 2) - max(green, 0.05)"}),
    "tasseled cap": ("tasseled-cap", {"coefficients": "own", "table": parse_table(TABLE)}),
    "components": ("principal-components", {"pixels": "every"}),
    "noise fraction": ("noise-fraction", {"pixels": "every"}),
}


def outcomes(metadata: Path, truth: npt.NDArray[np.uint16]) -> dict[str, list[float]]:
    """By name: the number of valid pixels, mean and spread over all bands, and values at places
    spread over the scene, -9 where there is none; of the class map the pixels of every class."""
    scene = read_delivery(metadata)
    raster, numbers = open_delivery(scene), open_delivery(scene, quantity="numbers")
    found = {"numbers": describe(numbers.read(numbers.grid.whole))}
    found["reflectance"] = describe(raster.read(raster.grid.whole))
    for name, (operation, settings) in LAYERS.items():
        layer = derived(raster, operation, settings)
        found[name] = describe(layer.read(layer.grid.whole))
    return found | {"class map": class_map(raster, truth, scene.roles)}


def derived(raster: Raster, operation: str, settings: dict[str, Any]) -> Raster:
    spec, context = DERIVATIONS[operation], Context(lambda *_: raster)
    prepared = prepare_by(spec, raster, validate_settings(spec, settings), context)
    return open_by(spec, raster, prepared, context)


def describe(block: Block) -> list[float]:
    values = np.where(block.valid, block.values, np.nan).astype(np.float64)
    flat = values.reshape(-1)
    at = flat[np.linspace(0, flat.size - 1, PLACES).astype(int)]
    summary = [float(block.valid.sum()), float(np.nanmean(flat)), float(np.nanstd(flat))]
    return summary + np.nan_to_num(at, nan=-9).tolist()


def class_map(raster: Raster, truth: npt.NDArray[np.uint16], roles: tuple[str, ...]) -> list[float]:
    """Pixels of each of nine classes, from 120 random pixels of each cover."""
    block = raster.read(raster.grid.whole)
    rng = np.random.default_rng(11)
    values, codes = [], []
    for code in range(1, 10):
        rows, columns = np.nonzero((truth == code) & block.valid)
        pick = rng.choice(len(rows), 120, replace=False)
        values.append(block.values[:, rows[pick], columns[pick]].T)
        codes.append(np.full(120, code, np.uint16))
    names = {code: str(code) for code in range(1, 10)}
    samples = TrainingSamples.of_pixels(np.concatenate(values), np.concatenate(codes), roles, names)
    pixels = np.ascontiguousarray(block.values[:, block.valid])
    found = fit(samples, MaximumLikelihoodSettings()).classify(pixels)
    return np.bincount(found, minlength=10)[1:10].astype(float).tolist()
