"""Sharpening of real bands, by the protocol of L. Wald, T. Ranchin and M. Mangolini 1997,
Photogrammetric Engineering and Remote Sensing 63:691-699 (from memory): fine and coarse bands are
made coarser by the same factor, sharpened, and held against the bands as they were."""

from dataclasses import dataclass

import numpy as np
import pytest
import rasterio
from affine import Affine

from kitesort.core.bands import Band
from kitesort.core.delivery.opening import open_delivery
from kitesort.core.delivery.scene import DeliveredScene
from kitesort.core.derive.methods.sharpen import SPEC, SharpenSettings
from kitesort.core.grid import Grid, Window
from kitesort.core.operation import Context
from kitesort.core.raster.protocol import Block, Raster, Shape, band_positions, roles_of
from kitesort.core.raster.stack import StackRaster
from kitesort.core.raster.warp import WarpedRaster
from kitesort.runs.perform import perform_run
from kitesort.store.files import layer_path
from kitesort.store.layers import get_layer
from kitesort.store.runs import create_run
from kitesort.store.scenes import add_scene, derive_scene
from kitesort.store.studies import create_study
from kitesort.study.derive import prepare_derived
from kitesort.study.rasters import open_layer, quantity_of
from support.opening import open_by, prepare_by

OLI = "LC08_L1TP_195025_20130707_20170503_01_T1"
ETM = "LE07_L1TP_195025_20010730_20170204_01_T1"
INNER = (slice(4, 36), slice(4, 36))


@dataclass(frozen=True)
class Held:
    """Bands as arrays on a grid."""

    block: Block
    grid: Grid
    bands: tuple[Band, ...]
    fingerprint: str = "held"

    def read(
        self, window: Window, roles: tuple[str, ...] | None = None, shape: Shape | None = None
    ) -> Block:
        assert shape is None or shape == (window.height, window.width)
        values = self.block.values[band_positions(self.bands, roles)]
        rows, cols = window.slices
        return Block(values[:, rows, cols].copy(), self.block.valid[rows, cols].copy())


def held(raster: Raster, roles: tuple[str, ...], grid: Grid, resampling: str) -> Held:
    block = WarpedRaster(raster, grid, resampling).read(grid.whole, roles)  # type: ignore[arg-type]
    return Held(block, grid, tuple(Band(role) for role in roles))


def with_pan(scene: DeliveredScene) -> Raster:
    bands = tuple(
        band.model_copy(update={"used": True}) if band.role == "pan" else band
        for band in scene.bands
    )
    return open_delivery(scene.model_copy(update={"bands": bands}))


@dataclass(frozen=True)
class Degraded:
    """Bands at 60 m with a panchromatic one at 30 m; ``truth``: the bands at 30 m."""

    stack: StackRaster
    truth: Held
    coarse: Grid

    def errors(self, raster: Raster) -> dict[str, float]:
        """Root mean square error of each band away from the chip's edges."""
        roles = roles_of(self.truth)
        found = raster.read(self.truth.grid.whole, roles)
        good = (found.valid & self.truth.block.valid)[INNER]
        assert good.mean() > 0.9
        gaps = (found.values - self.truth.block.values)[:, *INNER][:, good]
        return dict(zip(roles, np.sqrt((gaps.astype(np.float64) ** 2).mean(axis=1)), strict=True))


def degraded(scene: DeliveredScene, pan_shift: float = 0.0) -> Degraded:
    """``pan_shift``: 30 m pixels by which the panchromatic band is laid wrong."""
    raster = with_pan(scene)
    roles = tuple(role for role in roles_of(raster) if role != "pan")
    native = raster.bands[0].native
    assert native is not None
    coarse = Grid(native.crs, native.transform @ Affine.scale(2), 20, 20)
    truth = held(raster, roles, native, "nearest")
    there = Grid(native.crs, native.transform @ Affine.translation(pan_shift, pan_shift), 41, 41)
    pan = held(raster, ("pan",), there, "average")
    here = Held(pan.block, native, pan.bands)
    return Degraded(
        StackRaster(native, (here, held(truth, roles, coarse, "average"))), truth, coarse
    )


def sharpened(raster: Raster) -> Raster:
    context = Context(lambda *_: raster)
    return open_by(SPEC, raster, prepare_by(SPEC, raster, SharpenSettings(), context), context)


def interpolated(case: Degraded) -> Raster:
    own = WarpedRaster(case.stack, case.coarse, "nearest")
    return WarpedRaster(own, case.truth.grid, "bilinear")


@pytest.mark.parametrize("name", [OLI, ETM])
def test_nearer_to_the_real_bands_than_interpolation(
    scenes: dict[str, DeliveredScene], name: str
) -> None:
    case = degraded(scenes[name])
    plain, sharp = case.errors(interpolated(case)), case.errors(sharpened(case.stack))
    for role, error in sharp.items():
        assert error < 1.01 * plain[role], f"{role} is not made worse"
    assert np.mean([sharp[r] / plain[r] for r in sharp]) < 0.85
    seen_by_pan = ("green", "red") if name == OLI else ("nir",)  # ranges of the two pan bands
    for role in seen_by_pan:
        assert sharp[role] < 0.62 * plain[role]


def test_the_panchromatic_band_lies_half_its_pixel_off(scenes: dict[str, DeliveredScene]) -> None:
    """As these missions deliver it: corners 7.5 m apart, so that the centre of every coarse pixel
    is that of a fine one. The georeference says so, and is what counts."""
    raster = with_pan(scenes[OLI])
    native = raster.bands[0].native
    assert native is not None
    assert native.bounds[0] - raster.grid.bounds[0] == 7.5
    assert raster.grid.bounds[3] - native.bounds[3] == -7.5
    found = sharpened(raster).read(raster.grid.whole)
    assert found.valid[2:-2, 2:-2].all()
    again = WarpedRaster(sharpened(raster), native, "nearest").read(native.whole, ("red",))
    seen = WarpedRaster(raster, native, "nearest").read(native.whole, ("red",))
    both = (again.valid & seen.valid)[2:-2, 2:-2]
    gap = (again.values - seen.values)[0, 2:-2, 2:-2][both]
    assert abs(gap.mean()) < 0.005 * seen.values[seen.valid[None]].mean(), "nothing brightens"


@pytest.mark.parametrize("shift", [-0.5, 0.5])
def test_a_band_laid_half_a_pixel_wrong_is_worse(
    scenes: dict[str, DeliveredScene], shift: float
) -> None:
    """What taking corners for one another would do."""
    true, wrong = (degraded(scenes[OLI], by) for by in (0.0, shift))
    right, off = true.errors(sharpened(true.stack)), wrong.errors(sharpened(wrong.stack))
    for role in ("blue", "green", "red"):
        assert off[role] > 1.8 * right[role]


def test_gains_follow_what_the_panchromatic_band_sees(scenes: dict[str, DeliveredScene]) -> None:
    """Landsat 8's spans green and red (0.50 to 0.68 um, users' handbook), Landsat 7's also the near
    infrared (0.52 to 0.90 um): there its detail is the near infrared's."""

    def gains(name: str) -> dict[str, float]:
        raster = with_pan(scenes[name])
        context = Context(lambda *_: raster)
        ready = prepare_by(SPEC, raster, SharpenSettings(), context)
        assert isinstance(ready, SharpenSettings) and ready.fine == ("pan",)
        return dict(zip(ready.roles, ready.gains, strict=True))

    oli, etm = gains(OLI), gains(ETM)
    assert 0.7 < oli["green"] < 1.1 and 0.9 < oli["red"] < 1.5
    assert oli["nir"] < 0.2 * etm["nir"]
    assert etm["nir"] == max(etm.values())


def test_from_a_real_delivery_to_a_kept_file(store: str, scenes: dict[str, DeliveredScene]) -> None:
    """As an analyst does it: the panchromatic band taken in, sharpened, an index of that, kept."""
    assert store
    study = create_study("Sharpening")
    used = tuple(
        band.model_copy(update={"used": band.used or band.role == "pan"})
        for band in scenes[ETM].bands
    )
    delivery = scenes[ETM].model_copy(update={"bands": used})
    scene = add_scene(study.id, "Landsat 7", delivery)
    sharp = derive_scene(study.id, prepare_derived(study.id, scene.id, "sharpen", {}))
    assert quantity_of(sharp.id) == "reflectance"
    index = derive_scene(study.id, prepare_derived(study.id, sharp.id, "index", {"index": "ndvi"}))
    values = open_layer(index.id).read(open_layer(index.id).grid.whole)
    assert values.valid.mean() > 0.95 and np.abs(values.values[0][values.valid]).max() <= 1
    perform_run(create_run(study.id, "Keeping", "keep", {"layer_id": sharp.id}).id)
    kept = get_layer(sharp.id).kept_path
    assert kept
    with rasterio.open(layer_path(kept)) as dataset:
        assert dataset.shape == (82, 82) and dataset.res == (15.0, 15.0)
        assert dataset.descriptions == (*roles_of(open_layer(sharp.id)),)
        red = dataset.read(dataset.descriptions.index("red") + 1)
    lazy = open_layer(sharp.id).read(open_layer(sharp.id).grid.whole, ("red",))
    assert np.array_equal(red[np.isfinite(red)], lazy.values[0][np.isfinite(red)], equal_nan=True)
