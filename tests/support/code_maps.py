"""Small made-up class maps, and steps of tidying done to them."""

from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from kitesort.core.bands import Band
from kitesort.core.engine import UNWATCHED
from kitesort.core.grid import Window
from kitesort.core.legend import UNCLASSIFIED, Legend, LegendEntry, share_roles
from kitesort.core.operation import Context
from kitesort.core.raster.class_file import class_bands
from kitesort.core.raster.lazy import OnSource
from kitesort.core.raster.protocol import Block, Raster, Shape, masked_block, roles_of
from kitesort.core.settings import validate_settings
from kitesort.core.tidy.registry import TIDYINGS
from support.arrays import ArrayRaster

Codes = npt.NDArray[np.uint16]
LEGEND: Legend = (
    *(LegendEntry(c, f"Class {c}", f"#10{c:02d}20") for c in (1, 2, 4, 7)), UNCLASSIFIED,
)  # fmt: skip
SCENE, SHARES, MAP = 1, 2, 3  # layers that steps may name


class CodeRaster(ArrayRaster):
    bands = class_bands(LEGEND)


def make_codes(seed: int = 0, shape: tuple[int, int] = (60, 83)) -> Codes:
    """Fields with salt and pepper, no data along an edge and in holes, unclassified spots."""
    rng = np.random.default_rng(seed)
    fields = rng.choice([1, 2, 4, 7], (8, 10)).repeat(9, 0).repeat(9, 1)[: shape[0], : shape[1]]
    noise = rng.random(fields.shape)
    codes = np.where(noise < 0.2, rng.choice([1, 2, 4, 7], fields.shape), fields)
    codes = np.where((noise > 0.9) & (noise < 0.94), 255, codes)
    codes = np.where(noise > 0.97, 0, codes)
    codes[:, :3] = 0
    return codes.astype(np.uint16)


def raster_of(codes: Codes) -> Raster:
    return CodeRaster(codes[None].astype(np.float32), codes > 0, ("class",))


def make_scene(shape: tuple[int, int] = (60, 83), seed: int = 20) -> ArrayRaster:
    """Two bands, without values here and there."""
    rng = np.random.default_rng(seed)
    values = rng.uniform(0, 1, (2, *shape)).astype(np.float32)
    return ArrayRaster(values, rng.random(shape) > 0.05, ("red", "nir"))


def make_shares(codes: Codes, seed: int = 30) -> ArrayRaster:
    """Shares of the four classes, the largest that of the code; some pixels have none."""
    rng = np.random.default_rng(seed)
    shares = rng.dirichlet(np.ones(4), codes.shape).transpose(2, 0, 1)
    for place, code in enumerate((1, 2, 4, 7)):
        shares[place][codes == code] += 0.5
    shares /= shares.sum(axis=0)
    roles = tuple(share_roles(LEGEND[:4]).values())
    valid = rng.random(codes.shape) > 0.03
    return ArrayRaster(shares.astype(np.float32), valid, roles, quantity="values")


def context_of(codes: Codes) -> Context:
    """A study in which a scene, shares and another map stand beside the map."""
    layers: dict[int, Raster] = {
        SCENE: make_scene(codes.shape),
        SHARES: make_shares(codes),
        MAP: raster_of(make_codes(40, codes.shape)),
    }
    return Context(lambda layer_id, _: layers[layer_id])


def open_step(operation: str, codes: Codes, **settings: Any) -> Raster:
    spec, raster, context = TIDYINGS[operation], raster_of(codes), context_of(codes)
    given = validate_settings(spec, settings)
    return spec.open((raster,), spec.prepare((raster,), given, context, UNWATCHED), context)


def tidied(operation: str, codes: Codes, **settings: Any) -> Codes:
    made = open_step(operation, codes, **settings)
    return read(made, made.grid.whole)


def read(raster: Raster, window: Window) -> Codes:
    block = raster.read(window)
    return np.where(block.valid, block.values[0], 0).astype(np.uint16)


@dataclass(frozen=True)
class CodesOn(OnSource):
    """A class map where a scene lies: its first band above or below 0.1, as classes 1 and 2."""

    source: Raster

    @property
    def bands(self) -> tuple[Band, ...]:
        return class_bands(LEGEND[:2])

    def _told(self) -> tuple[str, ...]:
        return self.source.fingerprint, "two classes"

    def read(
        self, window: Window, _roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        block = self.source.read(window, roles_of(self.source)[:1], shape)
        codes = np.where(block.values > 0.1, 1, 2).astype(np.float32)
        return masked_block(codes, block.valid)
