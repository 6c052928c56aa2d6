"""Scenes as providers deliver them: found files, recognised sets, opened as one raster."""

from kitesort.core.delivery.formats.keyed_text import METADATA_SUFFIX, read_delivery
from kitesort.core.delivery.opening import open_delivery
from kitesort.core.delivery.scene import DEFAULT_EXCLUDED, DeliveredBand, DeliveredScene

__all__ = [
    "DEFAULT_EXCLUDED",
    "METADATA_SUFFIX",
    "DeliveredBand",
    "DeliveredScene",
    "open_delivery",
    "read_delivery",
]
