"""What is looked at in a scene: values of a region, and how they become pictures."""

import json
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt
import shapely
from shapely.geometry import box, mapping
from shapely.geometry.base import BaseGeometry

from kitesort.core.display.stretch import Curve, Limits, Stretch, make_curves
from kitesort.core.display.tile import read_tile
from kitesort.core.errors import BadSettingsError
from kitesort.core.geometry import reproject_shape
from kitesort.core.newest import always, remembered
from kitesort.core.outline import parse_site
from kitesort.core.raster.protocol import Block, Raster
from kitesort.core.raster.region import read_region
from kitesort.core.raster.sample import MOST_PIXELS, Sample
from kitesort.core.recipe import parents_of
from kitesort.store.sites import get_site
from kitesort.study.rasters import OpenLayer, opened, quantity_of, study_crs

NATURAL_TOPS = (255.0, 65_535.0)
KEPT_TILES = 128  # three bands of 256 × 256 pixels: at most 1 MiB each
FEW_PIXELS = 512**2  # as many as a pane shows: of what has to be computed first


@dataclass(frozen=True)
class Region:
    """Where values are taken from: GeoJSON outlines as text, in the study's CRS; none: all."""

    outlines: tuple[str, ...] = ()

    @property
    def shape(self) -> BaseGeometry | None:
        if not self.outlines:
            return None
        return shapely.union_all([parse_site(json.loads(text)) for text in self.outlines])


WHOLE = Region()


def make_region(
    extent: str | None = None,
    site_ids: tuple[int, ...] = (),
    outlines: tuple[dict[str, Any], ...] = (),
) -> Region:
    """A region from what a request names: an extent ``left,bottom,right,top``, sites, outlines.

    Raises
    ------
    BadSettingsError, NotFoundError, SiteError
    """
    shapes = [get_site(site_id).geometry for site_id in site_ids] + list(outlines)
    if extent is not None:
        shapes.append(_box_of(extent))
    for outline in shapes:
        parse_site(outline)
    return Region(tuple(json.dumps(outline, sort_keys=True) for outline in shapes))


def _box_of(extent: str) -> dict[str, Any]:
    try:
        left, bottom, right, top = (float(v) for v in extent.split(","))
    except ValueError as error:
        raise BadSettingsError("An extent is four numbers: left, bottom, right, top.") from error
    if not (np.isfinite([left, bottom, right, top]).all() and left < right and bottom < top):
        raise BadSettingsError("The extent encloses nothing.")
    return dict(mapping(box(left, bottom, right, top)))


@remembered(128, once=always)
def region_values(
    layer: OpenLayer, roles: tuple[str, ...], region: Region = WHOLE, most: int = MOST_PIXELS
) -> Sample:
    """Usable values of bands in a region, the same pixels in all of them.

    Raises
    ------
    OutsideSceneError, NoValidPixelsError, MissingRoleError
    """
    return read_study_region(layer.raster("see"), layer.study_id, region, roles, most)


def region_outline(raster: Raster, study_id: int, region: Region) -> BaseGeometry | None:
    """A region of a study in the CRS of a raster; None for all of it."""
    outline = region.shape
    return outline and reproject_shape(outline, study_crs(study_id), raster.grid.crs)


def read_study_region(
    raster: Raster,
    study_id: int,
    region: Region,
    roles: tuple[str, ...],
    most: int = MOST_PIXELS,
) -> Sample:
    """Values of a raster in a region of its study, carried into the raster's CRS; read-only."""
    outline = region_outline(raster, study_id, region)
    found = read_region(raster, outline, roles, most)
    found.values.flags.writeable = False
    return found


@remembered(KEPT_TILES, once=always)
def shown_tile(layer: OpenLayer, level: int, row: int, col: int, roles: tuple[str, ...]) -> Block:
    """A tile's values as they are looked at, remembered: another stretch reads nothing anew."""
    block = read_tile(layer.shown, level, row, col, roles)
    block.values.flags.writeable = block.valid.flags.writeable = False
    return block


@remembered(256, once=always)
def band_sample(layer: OpenLayer, role: str, region: Region = WHOLE) -> npt.NDArray[np.float32]:
    """Usable native values of one band, spread evenly where there are many; fewer of what
    has to be computed first, so that a preview need not wait."""
    pattern = stretch_pattern(layer)
    measured = quantity_of(pattern.id, (role,)) != "values"
    most = MOST_PIXELS if region == WHOLE and measured else FEW_PIXELS
    values: npt.NDArray[np.float32] = region_values(pattern, (role,), region, most).values[0]
    return values


def stretch_pattern(layer: OpenLayer) -> OpenLayer:
    """The one whose values tell how to stretch another one's: the one behind it where it is the
    same but for its neighbours' part, which would have to be computed everywhere first."""
    node = layer.derivation
    if node is None or layer.is_seen_kept or not (node.spec.is_local and node.spec.keeps_units):
        return layer
    return opened(parents_of(node)[0])


@remembered(512, once=always)
def channel_curves(
    layer: OpenLayer, roles: tuple[str, ...], stretch: Stretch, region: Region = WHOLE
) -> tuple[Curve, ...]:
    """How the values of each band become brightness; from usable pixels only, so that cloud does
    not darken the ground."""
    samples = [band_sample(layer, role, region) for role in roles]
    return tuple(make_curves(samples, stretch, natural_limits(layer, roles)))


def natural_limits(layer: OpenLayer, roles: tuple[str, ...]) -> Limits:
    """What values could be at all: reflectance 0 to 1, numbers those of 8 or 16 bits, all
    others what there is."""
    quantity = quantity_of(layer.id, roles)
    if quantity == "reflectance":
        return Limits(0.0, 1.0)
    if quantity not in ("numbers", "radiance"):
        samples = [v for r in roles if (v := band_sample(layer, r)).size]
        ends = [(float(v.min()), float(v.max())) for v in samples] or [(0.0, 1.0)]
        return Limits(min(low for low, _ in ends), max(high for _, high in ends))
    most = max((float(v.max()) for r in roles if (v := band_sample(layer, r)).size), default=0)
    return Limits(0.0, next((top for top in NATURAL_TOPS if most <= top), most))
