"""Two jobs of a newcomer, done with as few clicks and fields as they need.

Counted by hand on the version before, they took 59 clicks and 36 fields (a study from a file with
six bands of an unknown sensor) and 110 clicks (four classes with five sites each, to a map); two
thirds of that are the limit.
"""

import re
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from support.deliveries import write_raster
from support.eventually import eventually
from support.study_page import StudyPage

pytestmark = pytest.mark.browser
COUNT = """() => {
  window.done = {clicks: 0, fields: 0};
  const field = 'input:not([type=checkbox]):not([type=radio]):not([type=file]), select, textarea';
  addEventListener('pointerdown', () => { window.done.clicks += 1; }, true);
  addEventListener('change', (e) => { window.done.fields += e.target.matches(field); }, true);
}"""
# Water, soil, grass, sand by band: blue to short-wave infrared.
COVERS = np.array(
    [
        [500, 400, 300, 200, 100, 80],
        [1200, 1500, 1900, 2500, 3200, 2900],
        [400, 700, 450, 4200, 2100, 1000],
        [2200, 2600, 3000, 3400, 4000, 3800],
    ]
)


def write_six_bands(folder: Path) -> Path:
    """A quarter of each cover with some noise, 120 by 160 pixels."""
    cover = np.zeros((120, 160), np.int64)
    cover[:60, 80:], cover[60:, :80], cover[60:, 80:] = 1, 2, 3
    noise = np.random.default_rng(0).normal(0, 60, (6, 120, 160))
    numbers = (COVERS[cover].transpose(2, 0, 1) + noise).clip(1).astype(np.uint16)
    return write_raster(folder / "area_20230704.tif", numbers, 30)


def done(page: Page) -> dict[str, int]:
    counted: dict[str, int] = page.evaluate("() => window.done")
    return counted


def start_study(study_page: StudyPage) -> Page:
    """A new study with the six bands as one scene, their roles named."""
    page = study_page.page
    page.evaluate(COUNT)
    page.get_by_role("banner").get_by_role("button").first.click()
    page.get_by_label("Name of the new study").fill("Six bands")
    page.keyboard.press("Enter")
    files = page.get_by_label("Choose files").last
    files.set_input_files([write_six_bands(study_page.folder / "six")])
    page.get_by_label("All roles in order").fill("blue green red nir swir1 swir22")
    page.get_by_role("button", name="Yes, swir16").click()
    page.get_by_role("button", name="Take 1 scene into the study").click()
    expect(study_page.caption(0)).to_contain_text("area_20230704")
    return page


@pytest.mark.slow("two whole jobs, from an empty study to its results")
def test_a_study_from_six_bands_of_an_unknown_sensor(study_page: StudyPage) -> None:
    page = start_study(study_page)

    study_page.go("Correct")
    page.get_by_role("checkbox", name="area_20230704", exact=True).check(force=True)
    page.get_by_role("button", name="Add a step").click()
    page.get_by_role("button", name="Scale and offset").click()
    page.get_by_role("button", name="Correct 1 scene").click()
    expect(study_page.caption(1)).to_contain_text("area_20230704, scaled")

    study_page.go("Derive")
    page.get_by_label("From", exact=True).select_option(label="area_20230704, scaled")
    for name in ("NDVI", "NDWI", "SAVI", "NDBI"):
        page.get_by_role("checkbox", name=re.compile(f"^{name} ")).check(force=True)
    page.get_by_role("button", name="Make 4 layers").click()
    expect(page.get_by_role("navigation").get_by_text("4 layers")).to_be_visible()

    study_page.go("Deliver")
    page.get_by_role("button", name="Keep as a file").first.click()
    with page.expect_download() as download:
        page.get_by_role("link", name="Download GeoTIFF").first.click()
    assert download.value.path().stat().st_size > 10_000

    counted = done(page)
    assert counted["clicks"] <= 39 and counted["fields"] <= 24, counted


@pytest.mark.slow("two whole jobs, from an empty study to its results")
def test_four_classes_with_five_sites_each_to_a_map(study_page: StudyPage) -> None:
    page = start_study(study_page)
    study_page.go("Train")
    for name in ("Water", "Soil", "Grass", "Sand"):
        page.get_by_label("Name of a new class").fill(name)
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name=f"Change {name}")).to_be_visible()
    page.get_by_text("Whole", exact=True).click()
    study_page.settle()
    box = study_page.pane(0).bounding_box()
    assert box is not None
    width = min(box["width"], box["height"] * 160 / 120) * 0.9
    middle = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    for i, name in enumerate(("Water", "Soil", "Grass", "Sand")):
        page.keyboard.press(str(i + 1))
        page.keyboard.press("r")
        for k in range(5):
            x = middle[0] + width * ((i % 2) * 0.5 - 0.45 + 0.09 * k)
            y = middle[1] + width * ((i // 2) * 0.375 - 0.25)
            page.mouse.move(x, y)
            page.mouse.down()
            page.mouse.move(x + width * 0.03, y + width * 0.06, steps=4)
            page.mouse.up()
        eventually(lambda name=name: study_page.counts(name)[0] == 5)
    page.get_by_role("button", name="Classify the whole scene").click()
    expect(study_page.caption(1)).to_contain_text("maximum likelihood on", timeout=60_000)

    counted = done(page)
    assert counted["clicks"] <= 73, counted
