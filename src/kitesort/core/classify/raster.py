"""A class map as a raster: a trained classifier over any raster, at any resolution."""

import numpy as np

from kitesort.core.bands import Band
from kitesort.core.classify.protocol import TrainedClassifier
from kitesort.core.raster.derived import DerivedRaster
from kitesort.core.raster.protocol import Block, Raster


class _Classify:
    """Picklable block function."""

    def __init__(self, model: TrainedClassifier) -> None:
        self.model = model

    def __call__(self, block: Block, _roles: tuple[str, ...]) -> Block:
        codes = np.zeros(block.valid.shape, np.uint8)
        if block.valid.all():
            pixels = block.values.reshape(block.values.shape[0], -1)
            codes.reshape(-1)[:] = self.model.classify(pixels)
        elif block.valid.any():
            pixels = np.ascontiguousarray(block.values[:, block.valid])
            codes[block.valid] = self.model.classify(pixels)
        return Block(codes[None].astype(np.float32), block.valid)


def class_map_raster(source: Raster, model: TrainedClassifier, signature: str) -> DerivedRaster:
    """Codes of a classifier over a raster that has (at least) the roles it was trained with."""
    bands = (Band("class"),)
    return DerivedRaster(source, model.roles, bands, _Classify(model), signature)
