"""The whole job once, as a new user does it: look, draw, classify, read, check, download."""

import json
import re

import numpy as np
import pytest
import rasterio
from playwright.sync_api import expect

from kitesort.core.raster.class_file import CLASSES_TAG
from kitesort.demo.generate import COVERS, DemoStudy
from kitesort.launch.demo_study import COLOURS
from support.study_page import StudyPage

pytestmark = pytest.mark.browser


@pytest.mark.slow("the whole job, from the first look to the delivered file")
def test_the_whole_job(study_page: StudyPage, demo: DemoStudy) -> None:
    page = study_page.page

    # A scene on the left, the map as it stands on the right, each with its sentence.
    expect(study_page.caption(0)).to_have_text(
        "Summer pass shown as nir, red, green, stretched 2 to 98 % over the whole scene"
    )
    expect(study_page.caption(1)).to_contain_text("maximum likelihood on 7 bands of Summer pass")

    # The readout follows the pointer.
    study_page.point_to(300.5, 540.5)
    place = page.get_by_test_id("readout-place")
    expect(place).to_contain_text("row 300, col 540")
    expect(page.get_by_role("img", name=re.compile("Spectrum of the pixel.*nir 0"))).to_be_visible()

    # Reedbed falls short; draw a site of it and the card follows.
    page.keyboard.press("4")
    sites, pixels = study_page.counts("Reedbed")
    rows, columns = largest_patch(demo, 4)
    study_page.draw_rectangle((rows[0], columns[0]), (rows[1], columns[1]))
    area = (rows[1] - rows[0]) * (columns[1] - columns[0])
    study_page.expect_counts("Reedbed", sites + 1, pixels + area)

    # Classify; the map comes up on the right when it is done.
    page.get_by_role("button", name="Classify the whole scene").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Classify")
    expect(study_page.caption(1)).to_contain_text("Summer pass, class map 1")
    table = page.get_by_role("table", name="Areas of Summer pass, class map 1")
    expect(table.get_by_role("row")).to_have_count(len(COVERS) + 1)
    shares = [float(t) for t in table.locator("td:nth-child(3)").all_inner_texts()]
    assert sum(shares) == pytest.approx(100, abs=0.5)

    # How right is it?
    study_page.go("Check")
    overall = page.get_by_test_id("overall")
    expect(overall).to_have_text(re.compile(r"^\d\d\.\d %$"))
    assert float(overall.inner_text().split()[0]) > 65
    expect(page.get_by_text("at 95 % confidence")).to_be_visible()
    matrix = page.get_by_role(
        "table", name="Error matrix, rows as mapped, columns as on the ground"
    )
    expect(matrix.get_by_role("row")).to_have_count(len(COVERS) + 2)

    # Take it away, and open it with other software.
    study_page.go("Deliver")
    with page.expect_download() as download:
        page.get_by_role("link", name="Download GeoTIFF").click()
    path = study_page.folder / "map.tif"
    download.value.save_as(path)
    assert download.value.suggested_filename == "summer-pass-class-map-1.tif"
    check_delivered(path, demo)
    for link, ending, head in (
        ("Areas and legend as CSV", "areas.csv", "code,class,colour,pixels,percent,hectares"),
        ("Error matrix as CSV", "error-matrix.csv", "mapped as"),
    ):
        with page.expect_download() as download:
            page.get_by_role("link", name=link).click()
        assert download.value.suggested_filename == f"summer-pass-class-map-1-{ending}"
        assert download.value.path().read_text().startswith(head)

    # Nothing is lost by a reload.
    page.reload()
    expect(study_page.caption(1)).to_contain_text("Summer pass, class map 1")
    study_page.go("Train")
    study_page.expect_counts("Reedbed", sites + 1, pixels + area)


def check_delivered(path: object, demo: DemoStudy) -> None:
    with rasterio.open(path) as dataset:
        assert dataset.crs.to_epsg() == 32625
        assert dataset.nodata == 0
        assert dataset.tags(ns="IMAGE_STRUCTURE")["LAYOUT"] == "COG"
        colours = dataset.colormap(1)
        for code, colour in COLOURS.items():
            assert "#{:02x}{:02x}{:02x}".format(*colours[code][:3]) == colour
        names = {c["value"]: c["name"] for c in json.loads(dataset.tags()[CLASSES_TAG])}
        assert [names[code] for code, _, _ in COVERS] == [name for _, name, _ in COVERS]
        mapped = dataset.read(1)
    assert mapped.shape == demo.truth.shape
    seen = mapped > 0
    assert (mapped[seen] == demo.truth[seen]).mean() > 0.65
    assert not seen[0, 0], "the slanted edge holds no data"


def largest_patch(demo: DemoStudy, code: int) -> tuple[tuple[int, int], tuple[int, int]]:
    """First and last row and column of a 6 × 6 piece of a cover, near the middle of the panes."""
    window = np.lib.stride_tricks.sliding_window_view(demo.truth == code, (6, 6)).all(axis=(2, 3))
    rows, columns = np.nonzero(window)
    near = np.argmin((rows - 290) ** 2 + (columns - 500) ** 2)
    row, column = int(rows[near]), int(columns[near])
    assert abs(row - 290) < 90 and abs(column - 500) < 75, "in sight of the panes"
    return (row, row + 6), (column, column + 6)
