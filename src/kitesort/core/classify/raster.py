"""A class map as a raster: a trained classifier over any raster, at any resolution."""

import hashlib

import numpy as np

from kitesort.core.classify.protocol import TrainedClassifier
from kitesort.core.legend import Legend
from kitesort.core.raster.class_file import class_bands
from kitesort.core.raster.derived import DerivedRaster
from kitesort.core.raster.protocol import Block, Raster, masked_block


class _Classify:
    """Picklable block function."""

    def __init__(self, model: TrainedClassifier) -> None:
        self.model = model

    def __call__(self, block: Block, _roles: tuple[str, ...]) -> Block:
        codes = np.zeros(block.valid.shape, np.uint16)
        if block.valid.all():
            pixels = block.values.reshape(block.values.shape[0], -1)
            codes.reshape(-1)[:] = self.model.classify(pixels)
        elif block.valid.any():
            pixels = np.ascontiguousarray(block.values[:, block.valid])
            codes[block.valid] = self.model.classify(pixels)
        return masked_block(codes[None].astype(np.float32), block.valid)


def class_map_raster(source: Raster, model: TrainedClassifier, legend: Legend) -> DerivedRaster:
    """Codes of a classifier over a raster that has (at least) the roles it was trained with."""
    return DerivedRaster(
        source, model.roles, class_bands(legend), _Classify(model), _signature(model)
    )


def _signature(model: TrainedClassifier) -> str:
    """Of all that was learnt."""
    told = hashlib.blake2s(digest_size=8)
    for name, array in sorted(model.arrays().items()):
        told.update(f"{name} {array.dtype} {array.shape}".encode())
        told.update(np.ascontiguousarray(array).tobytes())
    return told.hexdigest()
