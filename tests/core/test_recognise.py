"""Deliveries of the public land sensors, recognised from the files alone."""

import shutil
from datetime import date
from pathlib import Path

import numpy as np
import pytest
import rasterio
from affine import Affine

from kitesort.core.bands import RANGES_UM, Role
from kitesort.core.delivery.inventory import natural_key, take_inventory
from kitesort.core.delivery.opening import open_delivery
from kitesort.core.delivery.ranges import band_ranges, describe_numbers
from kitesort.core.delivery.recognise import FORMATS, recognise
from kitesort.core.delivery.scene import DeliveredScene, StackOptions
from kitesort.core.delivery.sensors import ETM, MSI, OLI, TM, SensorBand
from kitesort.core.errors import InputError, MissingRoleError
from kitesort.core.grid import Window
from support.deliveries import (
    LANDSAT_STEM,
    LEFT,
    SIDE_10M,
    TOP,
    numbers,
    write_landsat_level_2,
    write_raster,
    write_sentinel_2a,
)


def only_scene(folder: Path) -> DeliveredScene:
    found = recognise(take_inventory(folder))
    assert found.problems == ()
    assert len(found.scenes) == 1
    assert found.scenes[0].questions == ()
    return found.scenes[0].scene


def test_names_sort_as_people_read_them() -> None:
    names = ["B10", "B8A", "B2", "B1", "B8", "B11"]
    assert sorted(names, key=natural_key) == ["B1", "B2", "B8", "B8A", "B10", "B11"]


def test_every_way_of_delivering_has_a_title() -> None:
    assert set(FORMATS) == {"keyed-text", "landsat", "sentinel-2", "stac-item"}
    assert all(spec.title for spec in FORMATS.values())


@pytest.mark.parametrize(
    "band", [b for table in (TM, ETM, OLI, MSI) for b in table.values() if b.role in set(Role)]
)
def test_wavelengths_lie_in_the_range_of_their_role(band: SensorBand) -> None:
    """Source of the ranges: STAC electro-optical extension, common band names."""
    low, high = RANGES_UM[Role(band.role)]
    assert low - 0.005 <= band.wavelength_um <= high + 0.005


def test_landsat_level_2(tmp_path: Path) -> None:
    write_landsat_level_2(tmp_path / "deep" / "down")
    scene = only_scene(tmp_path)
    assert (scene.sensor, scene.acquired) == ("Landsat 9, level 2", date(2023, 6, 1))
    assert scene.roles == ("blue", "green", "red", "nir", "swir16", "swir22")
    thermal = next(b for b in scene.bands if b.role == "lwir11")
    assert not thermal.used and "thermal" in thermal.reason
    raster = open_delivery(scene)
    block = raster.read(raster.grid.whole, ("red",))
    # Level 2: factors of its own group, and no division by the sun's height.
    assert block.values[0][5, 6] == pytest.approx(10_400 * 2.75e-05 - 0.2)
    expected = np.ones((20, 20), bool)
    expected[0] = expected[5, 5] = expected[6, 6] = False
    assert np.array_equal(block.valid, expected), "fill, cloud and its shadow"


def test_level_2_takes_nothing_from_the_factors_of_level_1(tmp_path: Path) -> None:
    """They stand in the same text and are meant for other numbers."""
    write_landsat_level_2(tmp_path)
    [found] = recognise(take_inventory(tmp_path)).scenes
    with pytest.raises(MissingRoleError, match="no radiance factors for blue, green, red"):
        open_delivery(found.scene, quantity="radiance")
    text = tmp_path / f"{LANDSAT_STEM}_MTL.txt"
    lost = text.read_text().replace("LEVEL2_SURFACE_REFLECTANCE_PARAMETERS", "LOST")
    level = '= 02\n    PROCESSING_LEVEL = "L2SP"'
    text.write_text(lost.replace("= 02", level, 1))
    [found] = recognise(take_inventory(tmp_path)).scenes
    red = next(b for b in found.scene.bands if b.role == "red")
    assert (red.best_quantity, red.gain) == ("numbers", None)


def test_surface_temperature_is_in_kelvin(tmp_path: Path) -> None:
    """Factors of the level 2 product guide of collection 2 (from memory)."""
    write_landsat_level_2(tmp_path)
    [found] = recognise(take_inventory(tmp_path)).scenes
    bands = tuple(b.model_copy(update={"used": b.role in ("red", "lwir11")})
                  for b in found.scene.bands)  # fmt: skip
    scene = found.scene.model_copy(update={"bands": bands})
    raster = open_delivery(scene)
    values = raster.read(raster.grid.whole, ("lwir11",)).values[0]
    assert values[3, 3] == pytest.approx(10_800 * 0.00341802 + 149.0)
    assert {b.role: b.quantity for b in raster.bands} == {
        "red": "reflectance", "lwir11": "temperature",
    }  # fmt: skip
    assert scene.quantity_words == "reflectance, lwir11 as temperature"


def test_sentinel_2_level_2a(tmp_path: Path) -> None:
    write_sentinel_2a(tmp_path)
    scene = only_scene(tmp_path)
    assert (scene.sensor, scene.acquired) == ("Sentinel-2A, level 2A", date(2023, 6, 15))
    assert scene.sun_elevation_deg == pytest.approx(59.5)
    assert scene.name.startswith("S2A_MSIL2A_20230615")
    assert scene.roles == ("coastal", "blue", "green", "red", "rededge071", "rededge075",
                           "rededge078", "nir", "swir16", "swir22")  # fmt: skip
    assert {b.role: b.pixel_size for b in scene.bands}["blue"] == 10, "the finest of three"
    raster = open_delivery(scene)
    assert raster.grid.width == SIDE_10M
    block = raster.read(raster.grid.whole, ("nir", "swir16"))
    assert block.values[:, 20, 30] == pytest.approx([0.2, 0.2])
    assert not block.valid[:2].any(), "fill"
    assert not block.valid[10:16, 10:16].any(), "cloud, from the classes at 20 m"
    assert not block.valid[20:24, 20:24].any(), "cloud shadow"
    assert block.valid[30:, 30:].all()


def test_previews_and_angles_are_no_bands(tmp_path: Path) -> None:
    write_landsat_level_2(tmp_path)
    write_raster(tmp_path / "other_preview.tif", numbers(9, 20), 30)
    found = recognise(take_inventory(tmp_path))
    assert len(found.scenes) == 1
    assert any("VZA" in path for path in found.scenes[0].taken)
    assert "other_preview.tif" not in found.taken


def test_a_zip_s_worth_of_scenes_at_once(tmp_path: Path) -> None:
    write_landsat_level_2(tmp_path / "one")
    write_sentinel_2a(tmp_path / "two")
    found = recognise(take_inventory(tmp_path))
    assert {r.scene.sensor.split(",")[0] for r in found.scenes} == {"Landsat 9", "Sentinel-2A"}


@pytest.mark.parametrize(
    ("grid", "resampling", "pixel"),
    [("finest", "nearest", 10), ("coarsest", "average", 60), ("swir16", "average", 20)],
)
def test_the_grid_of_the_stack_is_chosen(
    tmp_path: Path, grid: str, resampling: str, pixel: float
) -> None:
    write_sentinel_2a(tmp_path)
    options = StackOptions.model_validate({"grid": grid, "resampling": resampling})
    scene = only_scene(tmp_path).model_copy(update={"stack": options})
    raster = open_delivery(scene)
    assert raster.grid.pixel_size == (pixel, pixel)
    block = raster.read(raster.grid.whole, ("blue",))
    assert block.valid[3:].mean() > 0.9
    assert block.values[0][block.valid] == pytest.approx(0.2, abs=1e-6)


class TestLooseFiles:
    def test_roles_that_names_state_are_filled_in_and_others_asked(self, tmp_path: Path) -> None:
        for name in ("scene_blue", "scene_nir", "scene_x"):
            write_raster(tmp_path / f"{name}.tif", numbers(5, 20), 10)
        [found] = recognise(take_inventory(tmp_path)).scenes
        assert [b.role for b in found.scene.bands] == ["blue", "nir", ""]
        assert any("what each band sees" in q for q in found.questions)
        assert any("date" in q for q in found.questions)
        with pytest.raises(MissingRoleError, match="scene_x"):
            open_delivery(found.scene)

    def test_a_four_band_picture_is_asked_about(self, tmp_path: Path) -> None:
        write_raster(tmp_path / "x_20230704.tif", np.ones((4, 9, 9), np.uint8), 2)
        [found] = recognise(take_inventory(tmp_path)).scenes
        assert found.scene.acquired == date(2023, 7, 4)
        assert [b.index for b in found.scene.bands] == [1, 2, 3, 4]
        assert [b.role for b in found.scene.bands] == ["red", "green", "blue", ""]
        assert not found.scene.bands[3].used
        assert "transparency" in found.questions[0], "what a program wrote without asking"

    def test_colours_that_the_file_itself_names(self, tmp_path: Path) -> None:
        write_raster(tmp_path / "x.tif", np.ones((3, 9, 9), np.uint8), 2, photometric="rgb")
        [found] = recognise(take_inventory(tmp_path)).scenes
        assert [b.role for b in found.scene.bands] == ["red", "green", "blue"]
        assert "as many programs do unasked" in found.questions[0]

    def test_a_name_goes_before_what_a_program_wrote_unasked(self, tmp_path: Path) -> None:
        path = write_raster(tmp_path / "x.tif", np.ones((4, 9, 9), np.uint8), 2)
        with rasterio.open(path, "r+") as dataset:
            dataset.descriptions = ("red", "green", "blue", "near infrared, nir")
        [found] = recognise(take_inventory(tmp_path)).scenes
        assert found.scene.roles == ("red", "green", "blue", "nir")
        assert not any("transparency" in question for question in found.questions)

    def test_a_colour_table_is_no_measurement(self, tmp_path: Path) -> None:
        path = write_raster(tmp_path / "cover_2021.tif", np.ones((9, 9), np.uint8), 2)
        with rasterio.open(path, "r+") as dataset:
            dataset.write_colormap(1, {1: (0, 128, 0, 255)})
        [found] = recognise(take_inventory(tmp_path)).scenes
        assert found.scene.used_bands == ()
        assert "codes of classes" in found.scene.bands[0].reason

    def test_every_file_s_own_mark_of_no_data_counts(self, tmp_path: Path) -> None:
        for name, mark in (("red", 7), ("nir", 9)):
            data = np.array([[7, 8, 9]] * 3, np.uint8)
            write_raster(tmp_path / f"x_{name}.tif", data, 10, nodata=mark)
        [found] = recognise(take_inventory(tmp_path)).scenes
        assert any("mark no data differently" in r for r in found.scene.remarks)
        block = open_delivery(found.scene).read(Window(0, 0, 1, 3))
        by_role = dict(zip(found.scene.roles, np.isnan(block.values[:, 0]).tolist(), strict=True))
        assert by_role == {"red": [True, False, False], "nir": [False, False, True]}

    def test_bands_on_other_pixels_are_one_set_and_it_is_said_how_they_lie(
        self, tmp_path: Path
    ) -> None:
        write_raster(tmp_path / "x_red.tif", numbers(5, 30), 10)
        write_raster(tmp_path / "x_nir.tif", numbers(5, 15), 20)
        half = Affine(10, 0, LEFT + 5, 0, -10, TOP - 5)
        write_raster(tmp_path / "x_blue.tif", numbers(5, 30), 10, transform=half)
        [found] = recognise(take_inventory(tmp_path)).scenes
        [remark] = found.scene.remarks
        assert "x_nir pixels of 20 instead of 10" in remark
        one_of = ("x_red begins -0.50 pixels to the right and +0.50 up",
                  "x_blue begins +0.50 pixels to the right and -0.50 up")  # fmt: skip
        assert any(words in remark for words in one_of)

    def test_sixty_metres_are_not_rounded_away(self, tmp_path: Path) -> None:
        write_raster(tmp_path / "x_red.tif", numbers(5, 20), 10)
        moved = Affine(10, 0, LEFT + 60, 0, -10, TOP)
        write_raster(tmp_path / "x_nir.tif", numbers(5, 20), 10, transform=moved)
        assert len(recognise(take_inventory(tmp_path)).scenes) == 2

    def test_a_set_without_a_name_is_called_as_its_delivery_is(self, tmp_path: Path) -> None:
        for name in ("blue", "nir"):
            write_raster(tmp_path / f"{name}.tif", numbers(5, 20), 10)
        [found] = recognise(take_inventory(tmp_path, title="Moor in June")).scenes
        assert found.scene.name == "Moor in June"

    def test_files_of_two_places_are_two_sets(self, tmp_path: Path) -> None:
        write_raster(tmp_path / "a.tif", numbers(5, 20), 10)
        write_raster(tmp_path / "b.tif", numbers(5, 30), 10)
        assert len(recognise(take_inventory(tmp_path)).scenes) == 2

    def test_index_files_with_dates_are_a_series(self, tmp_path: Path) -> None:
        for day in ("20240101", "20240117", "20240202"):
            data = np.full((8, 8), 5000, np.int16)
            write_raster(tmp_path / f"ndvi_{day}.tif", data, 60, nodata=-3000)
        found = recognise(take_inventory(tmp_path)).scenes
        assert [r.scene.acquired for r in found] == [
            date(2024, 1, 1), date(2024, 1, 17), date(2024, 2, 2)
        ]  # fmt: skip
        assert all("0.0001" in r.questions[0] for r in found)
        raster = open_delivery(found[0].scene)
        assert raster.read(raster.grid.whole).values == pytest.approx(0.5)

    def test_three_hundred_bands_are_too_many_for_one_stack(self, tmp_path: Path) -> None:
        write_raster(tmp_path / "x.tif", np.ones((300, 4, 4), np.uint8), 2)
        [found] = recognise(take_inventory(tmp_path)).scenes
        assert len(found.scene.used_bands) == 256
        assert any("300 bands" in q for q in found.questions)
        everything = tuple(
            b.model_copy(update={"used": True, "role": f"b{i}"})
            for i, b in enumerate(found.scene.bands)
        )
        with pytest.raises(InputError, match="300 bands are more than the 256"):
            open_delivery(found.scene.model_copy(update={"bands": everything}))


def test_what_the_numbers_look_like(tmp_path: Path) -> None:
    write_landsat_level_2(tmp_path)
    ranges = band_ranges(only_scene(tmp_path))
    assert (ranges[0].low, ranges[0].high) == (10_200, 10_200), "fill does not count"
    assert "times 10 000" in describe_numbers(ranges[:6])
    write_raster(tmp_path / "f" / "red.tif", np.full((4, 4), 0.25, np.float32), 10)
    [found] = recognise(take_inventory(tmp_path / "f")).scenes
    assert "look like reflectance" in describe_numbers(band_ranges(found.scene))
    write_raster(tmp_path / "e" / "red.tif", np.zeros((4, 4), np.uint8), 10, nodata=0)
    [empty] = recognise(take_inventory(tmp_path / "e")).scenes
    assert "All of it is fill" in describe_numbers(band_ranges(empty.scene))


def test_a_band_that_is_missing_is_told(tmp_path: Path) -> None:
    metadata = write_landsat_level_2(tmp_path)
    next(metadata.parent.glob("*SR_B5.TIF")).unlink()
    [found] = recognise(take_inventory(tmp_path)).scenes
    assert "nir" not in found.scene.roles
    assert any("SR_B5" in remark for remark in found.scene.remarks)


def test_metadata_alone_is_a_problem_in_words(tmp_path: Path) -> None:
    metadata = write_sentinel_2a(tmp_path / "s")
    shutil.rmtree(metadata.parent / "GRANULE")
    found = recognise(take_inventory(tmp_path))
    assert found.scenes == ()
    assert "None of the bands that MTD_MSIL2A.xml stands for is here" in found.problems[0]


@pytest.mark.parametrize(
    ("old", "new", "said"),
    [
        ("SUN_ELEVATION = 60.0", "", "does not give SUN_ELEVATION"),
        ("SUN_ELEVATION = 60.0", "SUN_ELEVATION = high", "gives SUN_ELEVATION as “high”, which is"),
        ("SUN_ELEVATION = 60.0", "SUN_ELEVATION = 95", "something impossible for sun elevation"),
        ("2023-06-01", "the first of June", "DATE_ACQUIRED as “the first of June”, which is not a"),
        ("MULT_BAND_3 = 2.75e-05", "MULT_BAND_3 = x", "REFLECTANCE_MULT_BAND_3 as “x”"),
    ],
)
def test_what_is_wrong_with_metadata_is_named_and_its_bands_are_no_set_of_their_own(
    tmp_path: Path, old: str, new: str, said: str
) -> None:
    metadata = write_landsat_level_2(tmp_path)
    text = metadata.read_text()
    assert old in text
    metadata.write_text(text.replace(old, new))
    found = recognise(take_inventory(tmp_path))
    assert found.scenes == ()
    assert said in found.problems[0]


def test_a_damaged_tree_is_named_and_no_set_either(tmp_path: Path) -> None:
    metadata = write_sentinel_2a(tmp_path)
    text = metadata.read_text()
    metadata.write_text(text.replace("BOA_QUANTIFICATION_VALUE", "LOST"))
    found = recognise(take_inventory(tmp_path))
    assert found.scenes == () and "QUANTIFICATION_VALUE" in found.problems[0]
    metadata.write_text(text.replace("2023-06-15T10:36", "yesterday"))
    assert "PRODUCT_START_TIME as “yesterday" in recognise(take_inventory(tmp_path)).problems[0]
