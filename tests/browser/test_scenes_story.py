"""Scenes and Correct as a new user meets them: from the catalogue to two dates side by side."""

import json
import re
from pathlib import Path

import numpy as np
import pytest
import rasterio
from playwright.sync_api import Page, expect

from kitesort.demo.generate import DemoStudy
from support.deliveries import numbers, write_landsat_level_2, write_raster
from support.study_page import StudyPage

pytestmark = pytest.mark.browser


def mark(page: Page, title: str) -> None:
    """Mark a scene in the card of the present station."""
    page.get_by_role("checkbox", name=title, exact=True).check(force=True)


def stepped(page: Page, title: str) -> None:
    page.get_by_role("button", name="Add a step").click()
    page.get_by_role("button", name=title).click()
    expect(page.get_by_role("region", name=title)).to_be_visible()


EARLY, LATE = "Early summer pass", "Late summer pass"
DONE = "haze out, masked"


@pytest.mark.slow("a whole story: two scenes fetched, corrected, cropped, kept and compared")
def test_two_dates_from_the_catalogue_to_side_by_side(
    study_page: StudyPage, demo: DemoStudy
) -> None:
    page = study_page.page
    study_page.go("Scenes")
    take_two_from_the_catalogue(page)
    look_at_the_stack(page)
    study_page.go("Correct")
    take_haze_out_and_mask(study_page)
    study_page.go("Scenes")
    cropped = crop_by_a_boundary_in_degrees(study_page, demo.folder / "boundary.geojson")
    compare_and_bring_together(page, cropped)

    # Both dates side by side, with both spectra below.
    early = page.get_by_role("article", name=f"{EARLY}, {DONE}", exact=True)
    early.get_by_role("button", name="Show right").click()
    expect(study_page.caption(0)).to_contain_text(LATE)
    expect(study_page.caption(1)).to_contain_text(EARLY)
    study_page.settle()
    study_page.point_to(*clear_place(demo))
    table = page.get_by_role("table", name="Values at the crosshair")
    expect(table).to_contain_text("pane 1")
    expect(table).to_contain_text("pane 2")


def clear_place(demo: DemoStudy) -> tuple[float, float]:
    """A pixel inside the boundary, in sight, and clear on both dates."""
    clear = np.ones((720, 960), bool)
    for stem in ("WHB8_20230617_ULV", "WHB8_20240821_ULV"):
        with rasterio.open(demo.folder / "catalogue" / stem / f"{stem}_quality.tif") as dataset:
            clear &= (dataset.read(1) & 0b10111) == 0
    row = 230 + int(np.argmax(clear[230:400, 421]))
    return row + 0.5, 421.5


def take_two_from_the_catalogue(page: Page) -> None:
    """Search by dates and cloud; look before taking; both come in as runs."""
    page.get_by_role("button", name="Catalogue").click()
    sheet = page.get_by_role("region", name="Scene catalogue")
    sheet.get_by_label("First day, included").fill("2023-01-01")
    sheet.get_by_label("Last day, included").fill("2024-08-21")
    sheet.get_by_label("Cloud at most, %").fill("20")
    sheet.get_by_role("button", name="Search", exact=True).click()
    expect(sheet.get_by_text("4 scenes, newest first.")).to_be_visible()
    late = sheet.get_by_role("article", name=LATE)
    expect(late.get_by_text("3.4 % cloud")).to_be_visible()
    expect(late.get_by_role("img", name=f"Quick-look of {LATE}")).to_be_visible()
    known = sheet.get_by_role("article", name="Summer pass", exact=True)
    expect(known).to_contain_text("In the study already")
    for title in (LATE, EARLY):
        mark(page, title)
    page.get_by_role("button", name="Take 2 scenes into the study").click()
    for title, day in ((LATE, "21 August 2024"), (EARLY, "17 June 2023")):
        entry = page.get_by_role("article", name=title, exact=True)
        expect(entry).to_contain_text(day, timeout=90_000)
    expect(page.get_by_text(f"{EARLY} has arrived; it is among the scenes.")).to_be_attached()


def look_at_the_stack(page: Page) -> None:
    """Bands of 10, 20 and 60 m lie on one grid; position, role and wavelength side by side."""
    late = page.get_by_role("article", name=LATE, exact=True)
    late.get_by_text("8 bands, facts and acts").click()
    late.get_by_role("button", name="All facts of this scene").click()
    bands = page.get_by_role("table", name=f"All facts of the bands of {LATE}")
    expect(bands.get_by_role("row", name=re.compile("coastal"))).to_contain_text("60")
    expect(bands.get_by_role("row", name=re.compile("swir16"))).to_contain_text("1.610")
    expect(page.get_by_text("720 × 960")).to_be_visible()
    page.get_by_role("button", name="Back to the panes").click()


def take_haze_out_and_mask(study_page: StudyPage) -> None:
    """One chain for both dates; the table shows which date has had which step."""
    page = study_page.page
    for title in (LATE, EARLY):
        mark(page, title)
    stepped(page, "Haze: dark object subtraction")
    expect(page.get_by_role("slider", name="Dark value of blue")).to_be_visible()
    stepped(page, "Mask by the quality band")
    page.get_by_role("button", name="Correct 2 scenes").click()
    expect(study_page.caption(1)).to_contain_text(f"{EARLY}, {DONE}")
    expect(study_page.caption(1)).to_contain_text(f"over the whole of {EARLY}")
    row = page.get_by_role("row", name=re.compile(f"{LATE}, {DONE}"))
    for family in ("Reflectance", "Haze out", "Masked"):
        expect(row.get_by_text(f"{family}: done")).to_be_attached()
    expect(row.get_by_label("Normalised to another date: not done")).to_be_visible()
    expect(page.get_by_role("region", name="Left and right pane")).to_contain_text("pixels")
    page.get_by_role("button", name=f"Show {LATE}, {DONE} on the left").click()


def crop_by_a_boundary_in_degrees(study_page: StudyPage, boundary: Path) -> str:
    page = study_page.page
    page.get_by_label("Boundary file").set_input_files(boundary)
    expect(page.get_by_text("reprojected from WGS 84 (EPSG:4326)")).to_be_visible()
    page.get_by_role("button", name="Crop to the area").click()
    cropped = f"{LATE}, {DONE}, cropped"
    expect(study_page.caption(0)).to_contain_text(cropped)
    return cropped


def compare_and_bring_together(page: Page, cropped: str) -> None:
    """Aligned, but other ground; the offer makes a third scene on the first one's grid."""
    for title in (f"{EARLY}, {DONE}", cropped):
        mark(page, title)
    page.get_by_role("button", name="Compare grids").click()
    table = page.get_by_role("table", name="Grids of the chosen scenes")
    expect(table.get_by_role("row", name=re.compile(cropped))).to_contain_text("1 difference")
    expect(page.get_by_text("They cover different ground")).to_be_visible()
    page.get_by_role("button", name=re.compile(f"onto the grid of {EARLY}")).click()
    expect(page.get_by_text(re.compile("Made “.*regridded"))).to_be_visible()
    page.get_by_role("button", name="Back to the panes").click()


def test_a_delivery_is_dropped_recognised_and_taken(study_page: StudyPage) -> None:
    page = study_page.page
    folder = study_page.folder / "delivery"
    write_landsat_level_2(folder)
    study_page.go("Scenes")
    page.get_by_role("button", name="Bring in scenes").click()
    page.get_by_label("Choose files").last.set_input_files(sorted(folder.iterdir()))
    form = page.get_by_role("article", name="LC09_L2SP_000000_20230601_20230603_02_T1")
    expect(form).to_contain_text("comes in as reflectance")
    expect(form.get_by_label("What B4 sees")).to_have_value("red")
    expect(form).to_contain_text("thermal: it sees warmth")
    expect(form).to_contain_text("10 200 to 10 200".replace(" ", "\u202f", 1).replace(
        "to 10 200", "to 10\u202f200"))  # fmt: skip
    form.get_by_label("Name in the study").fill("June by Landsat")
    page.get_by_role("button", name="Take 1 scene into the study").click()
    expect(page.get_by_role("article", name="June by Landsat")).to_contain_text("1 June 2023")
    expect(study_page.caption(0)).to_contain_text("June by Landsat")


def test_nothing_is_guessed(study_page: StudyPage) -> None:
    """Three files that tell nothing of themselves: roles, date and coordinate system are asked."""
    page = study_page.page
    folder = study_page.folder / "plain"
    for i in range(3):
        write_raster(folder / f"x_{i}.tif", numbers(100 * (i + 1), 40), 10, crs=None)
    study_page.go("Scenes")
    page.get_by_role("button", name="Bring in scenes").click()
    page.get_by_label("Choose files").last.set_input_files(sorted(folder.iterdir()))
    form = page.get_by_role("article", name="x")
    expect(form.get_by_text("Nothing here tells which is which")).to_be_visible()
    take = page.get_by_role("button", name="Take 1 scene into the study")
    expect(take).to_be_disabled()
    form.get_by_label("All roles in order").fill("blue red swir1")
    expect(form.get_by_text("Say what is meant by the role “swir1”.")).to_be_visible()
    form.get_by_role("button", name="Yes, swir16").click()
    expect(form.get_by_label("What x_2 sees")).to_have_value("swir16")
    expect(form).to_contain_text("short-wave infrared")
    form.get_by_label("What x_2 sees").fill("red")
    expect(form.get_by_text("The role red is given twice.")).to_be_visible()
    form.get_by_label("What x_2 sees").fill("nir")
    expect(form.get_by_text("Give the coordinate system.")).to_be_visible()
    form.get_by_label("Coordinate system").fill("32625")
    page.get_by_role("button", name=re.compile("EPSG:32625 · WGS 84")).click()
    form.get_by_label("Date").fill("2023-07-04")
    take.click()
    expect(page.get_by_role("article", name="x", exact=True)).to_contain_text("raw numbers")

    study_page.go("Correct")  # what cannot be converted is said before it is started
    page.get_by_role("checkbox", name="x", exact=True).check(force=True)
    page.get_by_role("button", name="Add a step").click()
    page.get_by_role("button", name="Numbers to reflectance or radiance").click()
    expect(page.get_by_text("there are no factors for its bands")).to_be_visible()
    page.get_by_role("button", name="Give scale and offset by hand instead").click()
    step = page.get_by_role("region", name="Scale and offset")
    step.get_by_label("Scale", exact=True).fill("0.0002")
    step.get_by_role("button", name="Band by band").click()
    step.get_by_label("Offset of nir").fill("0.1")
    page.get_by_role("button", name="Correct 1 scene").click()
    expect(study_page.caption(1)).to_contain_text("x, scaled")


def test_a_folder_on_the_server_and_a_series(study_page: StudyPage, demo: DemoStudy) -> None:
    page = study_page.page
    study_page.go("Scenes")
    page.get_by_role("button", name="Bring in scenes").click()
    page.get_by_role("button", name=demo.folder.name, exact=True).click()
    page.get_by_role("button", name="Look at this: series").click()
    series = page.get_by_role("article", name="Series of ndvi")
    expect(series).to_contain_text("23 dates of ndvi, as one series")
    series.get_by_label("Name of the series").fill("Greenness")
    page.get_by_role("button", name="Take 23 scenes into the study").click()
    part = page.get_by_role("region", name="Greenness")
    expect(part).to_contain_text("23 dates, 1 January 2024 to 18 December 2024")
    part.get_by_label("First day, included").fill("2024-05-01")
    expect(part).to_contain_text("15 dates of ndvi in this time")
    study_page.point_to(300.5, 540.5)
    part.get_by_role("button", name="Values through time").click()
    page.get_by_label("Series", exact=True).select_option("Greenness")
    page.get_by_label("First day, included").first.fill("2024-05-01")
    study_page.click(300.5, 540.5)
    expect(page.get_by_role("img", name="Greenness through time at 2 places")).to_be_visible()
    expect(page.get_by_test_id("chart-note")).to_contain_text("15 dates")
    with page.expect_download() as download:
        page.get_by_role("button", name="CSV").click()
    path = study_page.folder / "series.csv"
    download.value.save_as(path)
    rows = path.read_text().splitlines()
    assert len(rows) == 16 and rows[0] == 'date,"here","pin 1"'
    assert rows[1].startswith("2024-05-08,")
    with rasterio.open(demo.folder / "series" / "ndvi_20240508.tif") as dataset:
        expected = dataset.read(1)[300 // 6, 540 // 6] * 0.0001
    assert float(rows[1].split(",")[2]) == pytest.approx(expected, abs=1e-4)


def test_a_dark_value_is_moved_by_the_keys(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.go("Correct")
    mark(page, "Autumn pass")
    stepped(page, "Haze: dark object subtraction")
    slider = page.get_by_role("slider", name="Dark value of blue")
    found = float(slider.get_attribute("aria-valuenow") or "nan")
    assert 0.05 < found < 0.12, "strong haze in the blue of that date"
    slider.focus()
    for _ in range(3):
        page.keyboard.press("ArrowRight")
    expect(page.get_by_text("moved by hand")).to_be_attached()
    moved = float(slider.get_attribute("aria-valuenow") or "nan")
    assert moved > found
    page.get_by_role("button", name="Correct 1 scene").click()
    expect(study_page.caption(1)).to_contain_text("Autumn pass, haze out")
    study_page.go("Scenes")
    entry = page.get_by_role("article", name="Autumn pass, haze out")
    entry.get_by_text("facts and acts").click()
    entry.get_by_role("button", name="All facts of this scene").click()
    sheet = page.get_by_role("region", name="Autumn pass, haze out")
    expect(sheet).to_contain_text(f"blue {moved:.3f}")


def test_a_drawn_area_is_masked_and_a_shift_is_measured(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.go("Correct")
    mark(page, "Summer pass")
    stepped(page, "Mask drawn areas")
    page.get_by_role("button", name="Rectangle").click()
    study_page.click(280, 520)
    study_page.click(320, 580)
    page.get_by_role("button", name="Use this area").click()
    page.get_by_role("button", name="Correct 1 scene").click()
    expect(study_page.caption(1)).to_contain_text("Summer pass, masked")
    study_page.settle()
    study_page.point_to(300.5, 550.5)
    values = page.get_by_role("table", name="Values at the crosshair")
    expect(values).to_contain_text("pane 1")
    expect(values.get_by_role("row", name=re.compile("nir .* –"))).to_be_visible()

    mark(page, "Two years earlier")
    page.get_by_role("button", name="Measure the shift").click()
    expect(page.get_by_text(re.compile("pieces of the scene agree"))).to_be_visible(timeout=60_000)
    said = page.get_by_text(re.compile("must be moved")).inner_text()
    assert [float(n) for n in re.findall(r"(\d\.\d\d)", said)] == pytest.approx([0.4, 0.4], abs=0.1)


def test_an_empty_study_begins_with_bringing_in(study_page: StudyPage) -> None:
    page = study_page.page
    page.get_by_role("button", name="Ulverhythe Levels").click()
    page.get_by_label("Name of the new study").fill("Second study")
    page.get_by_role("button", name="Start it").click()
    expect(page.get_by_text("Drop files, a whole folder, or a zip or tar here")).to_be_visible()
    folder = study_page.folder / "second"
    write_landsat_level_2(folder)
    page.get_by_label("Choose files").last.set_input_files(sorted(folder.iterdir()))
    page.get_by_role("button", name="Take 1 scene into the study").click()
    expect(study_page.caption(0)).to_contain_text("Landsat 9, level 2, 1 June 2023")


def test_a_boundary_that_misses_and_a_catalogue_that_is_not_allowed(
    study_page: StudyPage, tmp_path: Path
) -> None:
    study_page.expected = ("422", "502")
    page = study_page.page
    study_page.go("Scenes")
    far = {"type": "Polygon", "coordinates": [[[0, 0], [1, 0], [1, 1], [0, 0]]]}
    path = tmp_path / "far.geojson"
    path.write_text(json.dumps({"type": "FeatureCollection", "features": [
        {"type": "Feature", "properties": {}, "geometry": far}]}))  # fmt: skip
    page.get_by_label("Boundary file").set_input_files(path)
    page.get_by_role("button", name="Crop to the area").click()
    expect(page.get_by_text("The area misses the scene altogether")).to_be_visible()
    expect(page.get_by_role("article", name=re.compile("cropped"))).to_have_count(0)
    page.get_by_label("Boundary file").set_input_files(
        {"name": "x.kml", "mimeType": "text/xml", "buffer": b"<kml/>"}
    )
    expect(page.get_by_text("no file that is read")).to_be_visible()
