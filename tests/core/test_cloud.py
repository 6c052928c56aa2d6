"""What lies in a cloud of feature space, against plain loops over whole arrays."""

import numpy as np
import pytest
from rasterio.features import geometry_mask
from shapely.geometry import box, mapping
from tests.support.arrays import ArrayRaster, metric_grid, random_raster
from tests.support.scene_context import context_of

from kitesort.core.cloud import count_cloud, parse_cloud
from kitesort.core.correct.registry import CORRECTIONS
from kitesort.core.errors import BadSettingsError, GridMismatchError, MissingRoleError
from kitesort.core.geodesy import pixel_areas_ha
from kitesort.core.settings import validate_settings
from kitesort.core.training.patches import compact_patches
from support.opening import open_by

CLOUD = "0.1 0.1, 0.3 0.1, 0.3 0.35, 0.1 0.35"


def inside(raster: ArrayRaster) -> np.ndarray:
    """By plain comparison: the cloud is a box."""
    x, y = raster.values
    return raster.valid & (x > 0.1) & (x < 0.3) & (y > 0.1) & (y < 0.35)


def codes_over(shape: tuple[int, int]) -> ArrayRaster:
    """One code to the left, two to the right; without data in the last row."""
    codes = np.ones((1, *shape), np.float32)
    codes[:, :, shape[1] // 2 :] = 2
    valid = np.ones(shape, np.bool_)
    valid[-1] = False
    return ArrayRaster(codes, valid, ("class",))


def test_pixels_hectares_and_classes_of_every_pixel() -> None:
    raster = random_raster(60, 80, 2)
    found = count_cloud(raster, parse_cloud(CLOUD), codes=codes_over((60, 80)))
    hit = inside(raster)
    assert found.exact
    assert (found.n_covered, found.n_valid) == (4800, raster.valid.sum())
    assert found.n_inside == hit.sum() > 500
    areas = pixel_areas_ha(raster.grid, raster.grid.whole)
    assert found.area_ha == pytest.approx(areas[hit].sum(), rel=1e-12)
    assert found.by_code == {1: hit[:-1, :40].sum(), 2: hit[:-1, 40:].sum()}


def test_only_what_lies_in_the_outline() -> None:
    raster = random_raster(60, 80, 2)
    outline = box(400_100, 4_999_700, 400_400, 4_999_900)  # rows 10 to 30, columns 10 to 40
    found = count_cloud(raster, parse_cloud(CLOUD), outline=outline)
    assert (found.n_covered, found.n_inside) == (600, inside(raster)[10:30, 10:40].sum())
    assert found.by_code == {}


def test_of_many_pixels_some_and_the_area_in_proportion() -> None:
    raster = random_raster(700, 900, 2, invalid_share=0)
    all_of_it, some = (
        count_cloud(raster, parse_cloud(CLOUD), most=most) for most in (10**6, 128**2 * 9)
    )
    assert all_of_it.exact and not some.exact
    assert some.n_covered < all_of_it.n_covered / 4
    assert some.area_ha == pytest.approx(all_of_it.area_ha, rel=0.02)
    part = box(400_000, 4_995_000, 404_000, 5_000_000)
    parts = [
        count_cloud(raster, parse_cloud(CLOUD), outline=part, most=most)
        for most in (10**6, 128**2 * 4)
    ]
    assert parts[1].area_ha == pytest.approx(parts[0].area_ha, rel=0.03)


def test_classes_of_another_grid_are_refused() -> None:
    with pytest.raises(GridMismatchError):
        count_cloud(random_raster(9, 9, 2), parse_cloud(CLOUD), codes=codes_over((9, 8)))


class TestMask:
    SPEC = CORRECTIONS["mask-cloud"]
    DRAWN = {"across": "blue", "up": "green", "corners": CLOUD}

    @pytest.mark.parametrize("side", ["inside", "outside"])
    def test_inside_or_outside_becomes_no_data(self, side: str) -> None:
        raster = random_raster(30, 40)
        settings = validate_settings(self.SPEC, {"cloud": self.DRAWN, "mask": side})
        out = open_by(self.SPEC, raster, settings, context_of()).read(raster.grid.whole, ("red",))
        hit = inside(ArrayRaster(raster.values[:2], raster.valid, ("x", "y")))
        expected = raster.valid & (~hit if side == "inside" else hit)
        assert np.array_equal(out.valid, expected)
        assert np.array_equal(out.values[0][expected], raster.values[2][expected])

    def test_a_band_that_is_not_there(self) -> None:
        settings = validate_settings(self.SPEC, {"cloud": self.DRAWN | {"up": "nir"}})
        with pytest.raises(MissingRoleError):
            open_by(self.SPEC, random_raster(9, 9), settings, context_of())

    @pytest.mark.parametrize("corners", ["", "1 1", "0 0, 1 1, 2 2", "0 0, 1 0, x"])
    def test_no_cloud(self, corners: str) -> None:
        with pytest.raises(BadSettingsError):
            validate_settings(self.SPEC, {"cloud": self.DRAWN | {"corners": corners}})


class TestPatches:
    GRID = metric_grid(60, 60)

    def found(self, marked: np.ndarray, most: int = 20) -> list:
        return compact_patches(marked, self.GRID, self.GRID.whole, most=most)

    def test_a_square_is_found_with_its_own_pixels(self) -> None:
        marked = np.zeros((60, 60), np.bool_)
        marked[10:20, 30:42] = True
        (patch,) = self.found(marked)
        covered = ~geometry_mask([mapping(patch.outline)], (60, 60), self.GRID.transform)
        # Corners have fewer marked neighbours than a pixel of one piece has.
        marked[[10, 10, 19, 19], [30, 41, 30, 41]] = False
        edges = np.zeros_like(marked)
        edges[11:19, 31:41] = True
        assert np.array_equal(covered, edges) and patch.n_pixels == edges.sum()

    def test_small_holes_are_closed_and_larger_ones_stay(self) -> None:
        marked = np.zeros((60, 60), np.bool_)
        marked[5:25, 5:25] = True
        marked[12, 12] = False
        assert self.found(marked)[0].outline.interiors[:] == []
        marked[10:13, 10:13] = False
        assert len(self.found(marked)[0].outline.interiors) == 1

    def test_lines_specks_and_noise_are_no_sites(self) -> None:
        marked = np.zeros((60, 60), np.bool_)
        marked[5:8, :] = True
        marked[30:33, 30:33] = True
        marked |= np.random.default_rng(0).random((60, 60)) < 0.2
        assert self.found(marked) == []
        assert self.found(np.zeros((60, 60), np.bool_)) == []

    def test_the_largest_come_first_and_no_more_than_asked(self) -> None:
        marked = np.zeros((60, 60), np.bool_)
        for i, side in enumerate((7, 12, 9)):
            marked[2:2 + side, 20 * i + 1:20 * i + 1 + side] = True  # fmt: skip
        assert [p.n_pixels for p in self.found(marked)] == [100, 49, 25]
        assert [p.n_pixels for p in self.found(marked, most=2)] == [100, 49]
