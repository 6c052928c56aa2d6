"""What rasters made of others have in common: they are told apart by what they are made of, and
lie where their source does unless they say otherwise."""

import hashlib

from kitesort.core.bands import Band
from kitesort.core.grid import Grid
from kitesort.core.raster.protocol import Raster


class LazyRaster:
    """``_told``: the fingerprints of what it is made of, and in words what is done to it."""

    def _told(self) -> tuple[str, ...]:
        raise NotImplementedError

    @property
    def fingerprint(self) -> str:
        return hashlib.blake2s("|".join(self._told()).encode(), digest_size=8).hexdigest()


class OnSource(LazyRaster):
    """Grid and bands are the source's."""

    source: Raster

    @property
    def grid(self) -> Grid:
        return self.source.grid

    @property
    def bands(self) -> tuple[Band, ...]:
        return self.source.bands


class Computed(LazyRaster):
    """What ``signature`` names, done to the bands ``inputs`` of a source, where that lies."""

    source: Raster
    inputs: tuple[str, ...]
    signature: str

    @property
    def grid(self) -> Grid:
        return self.source.grid

    def _told(self) -> tuple[str, ...]:
        return self.source.fingerprint, self.signature, ",".join(self.inputs)
