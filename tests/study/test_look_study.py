"""What is looked at: regions, curves, lines and feature spaces of stored scenes."""

from pathlib import Path

import numpy as np
import pytest

from kitesort.core.delivery import read_delivery
from kitesort.core.display.feature_space import Axis
from kitesort.core.display.stretch import Stretch
from kitesort.core.engine import UNWATCHED
from kitesort.core.errors import (
    BadSettingsError,
    InputError,
    MissingRoleError,
    NotFoundError,
    OutsideSceneError,
    SiteError,
)
from kitesort.core.geometry import reproject_geometry
from kitesort.core.grid import Window
from kitesort.core.raster.region import read_region
from kitesort.core.recipe import LayerLeaf
from kitesort.store.scenes import add_scene, derive_scene
from kitesort.store.sites import update_site
from kitesort.store.studies import create_study
from kitesort.study.line import LineMember, read_line
from kitesort.study.look import (
    WHOLE,
    Region,
    band_sample,
    channel_curves,
    make_region,
    natural_limits,
    region_values,
)
from kitesort.study.plane import (
    PlaneLayers,
    class_ellipses,
    count_density,
    find_density,
    plane_tile,
    plane_values,
    soil_line,
    usual_axes,
)
from kitesort.study.rasters import READER, open_layer, opened, quantity_of
from kitesort.study.readout import read_place
from kitesort.study.training import class_values
from support.recipes import stepped
from support.small_scene import BANDS, BOW_TIE, GOOD_SITES, rectangle, write_small_scene
from support.study import SmallStudy, centre_of


@pytest.fixture
def july(small_study: SmallStudy, tmp_path: Path) -> int:
    scene = write_small_scene(tmp_path / "july", seed=11)
    return add_scene(small_study.id, "July pass", read_delivery(scene.metadata)).id


def derived(s: SmallStudy, operation: str, **settings: object) -> int:
    """A scene made of the June pass by one correction."""
    base = LayerLeaf(layer_id=s.scene_id, name="June pass")
    recipe = stepped(base, operation, dict(settings), READER)
    return derive_scene(s.id, recipe, "derived").id


def test_region_names_sites_outlines_and_an_extent(small_study: SmallStudy) -> None:
    assert make_region() == WHOLE
    region = make_region("0,0,10,20", (small_study.site_ids[1],), (GOOD_SITES[2],))
    assert len(region.outlines) == 3
    assert region.shape is not None and region.shape.geom_type in ("MultiPolygon", "Polygon")


@pytest.mark.parametrize("extent", ["1,2,3", "a,b,c,d", "3,0,1,9", "0,9,9,0", "0,0,inf,1", ""])
def test_extent_that_is_none(extent: str) -> None:
    with pytest.raises(BadSettingsError):
        make_region(extent)


def test_region_that_cannot_be_used(small_study: SmallStudy) -> None:
    with pytest.raises(SiteError, match="crosses itself"):
        make_region(outlines=(BOW_TIE,))
    with pytest.raises(NotFoundError):
        make_region(site_ids=(10**6,))
    with pytest.raises(OutsideSceneError):
        region_values(opened(small_study.scene_id), ("nir",), make_region("0,0,5,5"))
    with pytest.raises(MissingRoleError):
        region_values(opened(small_study.scene_id), ("pan",))


def test_overlapping_outlines_count_each_pixel_once(small_study: SmallStudy) -> None:
    twice = make_region(outlines=(rectangle(15, 20, 12, 15), rectangle(15, 25, 12, 15)))
    found = region_values(opened(small_study.scene_id), ("nir",), twice)
    assert found.n_covered == 12 * 20


def test_reshaped_site_is_counted_anew(small_study: SmallStudy) -> None:
    site = small_study.site_ids[1]
    before = band_sample(opened(small_study.scene_id), "nir", make_region(site_ids=(site,)))
    update_site(site, {"geometry": GOOD_SITES[3]})
    after = band_sample(opened(small_study.scene_id), "nir", make_region(site_ids=(site,)))
    assert before.mean() < 0.05 and after.mean() > 0.3


def test_bands_of_a_region_stay_together(small_study: SmallStudy) -> None:
    """The same pixels in every band, whichever bands are asked for together."""
    region = make_region(outlines=(rectangle(2, 90, 20, 30),))  # partly under cloud
    pair = region_values(opened(small_study.scene_id), ("red", "nir"), region)
    for i, role in enumerate(("red", "nir")):
        alone = region_values(opened(small_study.scene_id), (role,), region)
        assert np.array_equal(alone.values[0], pair.values[i], equal_nan=True)
    assert 0 < pair.n_valid < pair.n_covered


def test_region_is_carried_into_the_scenes_own_system(small_study: SmallStudy) -> None:
    """The same outline counts about as many pixels' worth of ground in a scene in degrees."""
    degrees = derived(small_study, "regrid", crs="EPSG:4326")
    region = make_region(outlines=(GOOD_SITES[2],))
    here = region_values(opened(small_study.scene_id), ("red",), region)
    there = region_values(opened(degrees), ("red",), region)
    assert here.values.mean() == pytest.approx(float(there.values.mean()), abs=0.01)
    assert BANDS["red"][2][1] == pytest.approx(float(there.values.mean()), abs=0.01)


def test_curves_of_a_missing_band_are_refused(small_study: SmallStudy) -> None:
    with pytest.raises(MissingRoleError, match="pan"):
        channel_curves(opened(small_study.scene_id), ("red", "pan"), Stretch())


def test_curves_leave_out_what_takes_no_part(small_study: SmallStudy) -> None:
    (curve,) = channel_curves(opened(small_study.scene_id), ("red",), Stretch(kind="extremes"))
    sample = band_sample(opened(small_study.scene_id), "red")
    raster = open_layer(small_study.scene_id)
    n_used = int(raster.read(raster.grid.whole, ("red",)).valid.sum())
    assert sample.size == n_used
    assert (curve.limits.low, curve.limits.high) == pytest.approx((sample.min(), sample.max()))


def test_natural_limits_follow_what_the_values_are(small_study: SmallStudy) -> None:
    assert quantity_of(small_study.scene_id) == "reflectance"
    assert natural_limits(opened(small_study.scene_id), ("red",)).high == 1
    numbers = derived(small_study, "convert", quantity="numbers")
    assert quantity_of(numbers) == "numbers"
    assert natural_limits(opened(numbers), ("red",)).high == 65_535


def test_line_reads_several_dates(small_study: SmallStudy, july: int) -> None:
    ends = [centre_of(70, 10), centre_of(70, 110)]
    members = [LineMember(small_study.scene_id, "nir"), LineMember(july, "nir")]
    found = read_line(small_study.id, ends, members)
    assert found.values.shape == (2, 101)
    assert not np.array_equal(found.values[0], found.values[1], equal_nan=True)
    for values in found.values:
        assert values[:50].mean() == pytest.approx(0.40, abs=0.01)
        assert values[56:].mean() == pytest.approx(0.22, abs=0.01)
    with pytest.raises(InputError, match="another study"):
        read_line(create_study("Other").id, ends, members)


def test_line_in_a_scene_in_degrees(small_study: SmallStudy) -> None:
    degrees = derived(small_study, "regrid", crs="EPSG:4326")
    ends = [centre_of(70, 10), centre_of(70, 50)]
    found = read_line(small_study.id, ends, [LineMember(degrees, "nir")])
    assert found.places.distance_m[-1] == pytest.approx(400, rel=1e-3)
    assert np.nanmean(found.values) == pytest.approx(0.40, abs=0.01)


def test_axes_do_not_depend_on_the_region(small_study: SmallStudy) -> None:
    layers = PlaneLayers(small_study.scene_id, "red", small_study.scene_id, "nir")
    whole = find_density(layers)
    part = find_density(layers, make_region(site_ids=(small_study.site_ids[4],)))
    assert (whole.density.x, whole.density.y) == (part.density.x, part.density.y)
    assert part.density.n_valid == 180
    assert (whole.density.x, whole.density.y) == usual_axes(layers)


def test_two_dates_of_one_band_lie_about_the_diagonal(small_study: SmallStudy, july: int) -> None:
    layers = PlaneLayers(small_study.scene_id, "nir", july, "nir")
    x, y = plane_values(layers).values
    assert np.corrcoef(x, y)[0, 1] > 0.99
    assert find_density(layers).aligned
    assert class_ellipses(layers) == {}, "classes are trained on one scene"
    assert class_ellipses(PlaneLayers(july, "nir", july, "nir")) == {}


def test_layers_of_two_studies_are_refused(small_study: SmallStudy, tmp_path: Path) -> None:
    other = create_study("Other")
    scene = write_small_scene(tmp_path / "other", seed=3)
    elsewhere = add_scene(other.id, "Elsewhere", read_delivery(scene.metadata)).id
    layers = PlaneLayers(small_study.scene_id, "red", elsewhere, "red")
    with pytest.raises(InputError, match="different studies"):
        plane_tile(layers, 0, 0, 0)


def test_counted_space_is_found_again(small_study: SmallStudy) -> None:
    layers = PlaneLayers(small_study.scene_id, "blue", small_study.scene_id, "swir16")
    x, y = usual_axes(layers)
    counted = count_density(layers, x, y, UNWATCHED)
    again = count_density(layers, x, y, UNWATCHED)
    assert np.array_equal(counted.counts, again.counts)
    found = find_density(layers)
    assert found.exact and np.array_equal(found.density.counts, counted.counts)
    narrow = find_density(layers, WHOLE, Axis(0, 0.05))
    assert narrow.density.n_outside > 0, "other axes are counted for themselves"


def test_soil_line_of_grass_alone_is_none(small_study: SmallStudy) -> None:
    layers = PlaneLayers(small_study.scene_id, "red", small_study.scene_id, "nir")
    with pytest.raises(InputError, match="too few land pixels"):
        soil_line(layers, make_region(site_ids=(small_study.site_ids[1],)))


def test_class_values_are_those_of_the_sites(small_study: SmallStudy) -> None:
    by_code = class_values(small_study.scene_id, "nir")
    for code, values in by_code.items():
        outline = make_region(outlines=(GOOD_SITES[code],)).shape
        expected = read_region(open_layer(small_study.scene_id), outline, ("nir",)).values[0]
        assert np.array_equal(np.sort(values), np.sort(expected))


def test_region_is_the_same_however_it_is_written() -> None:
    turned = {"coordinates": GOOD_SITES[1]["coordinates"], "type": "Polygon"}
    assert make_region(outlines=(GOOD_SITES[1],)) == make_region(outlines=(turned,))
    there = reproject_geometry(GOOD_SITES[1], "EPSG:32625", "EPSG:4326")
    assert isinstance(make_region(outlines=(there,)), Region)


@pytest.mark.parametrize("row", [0, 63, 64, 95])
@pytest.mark.parametrize("column", [4, 63, 64, 127])
def test_pixels_at_the_borders_of_what_is_remembered(
    small_study: SmallStudy, row: int, column: int
) -> None:
    """Neighbourhoods of 64 pixels meet without a seam, also where the scene ends."""
    raster = open_layer(small_study.scene_id)
    (got,) = read_place(small_study.id, *centre_of(row, column), (small_study.scene_id,)).scenes
    expected = raster.read(Window(row, column, 1, 1))
    assert (got.row, got.column) == (row, column)
    assert list(got.values.values()) == pytest.approx(expected.values[:, 0, 0].tolist())
    assert got.usable == bool(expected.valid[0, 0])
