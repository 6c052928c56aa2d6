"""Looking: panes, peek, edge, stretch, palette, readouts, layers, notes; with real movements."""

import re

import numpy as np
import pytest
from playwright.sync_api import Locator, expect

from kitesort.core.display.stretch import Stretch
from kitesort.core.palette import palette_table
from kitesort.study.look import channel_curves
from kitesort.study.rasters import open_layer, opened
from support.eventually import eventually
from support.study_page import StudyPage

LIT = np.array([0, 229, 255])


def tab(study_page: StudyPage, name: str) -> None:
    study_page.page.get_by_role("tab", name=name).click()


def note(study_page: StudyPage) -> Locator:
    return study_page.page.get_by_test_id("chart-note")


def clean_pictures(study_page: StudyPage) -> list[np.ndarray]:
    """The panes without what is drawn over them, and without their round corners."""
    study_page.settle()
    study_page.page.mouse.move(5, 5)
    within = (slice(8, -8), slice(8, -8))
    return [study_page.picture(i)[within] for i in range(2)]


def share_alike(one: np.ndarray, other: np.ndarray) -> float:
    return float((np.abs(one.astype(int) - other).max(axis=2) <= 2).mean())


def test_four_panes_show_one_place_and_come_back(study_page: StudyPage) -> None:
    page = study_page.page
    page.get_by_role("button", name="Four panes").click()
    expect(page.get_by_role("application")).to_have_count(4)
    study_page.settle()
    box = study_page.pane(3).bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 150, box["y"] + 80)
    # Three dates are read at once.
    table = page.get_by_role("table", name="Values at the crosshair")
    expect(table.get_by_role("columnheader")).to_have_count(5)
    page.mouse.click(box["x"] + 150, box["y"] + 80)
    expect(page.get_by_text("1 of at most 6 pinned")).to_be_visible()
    study_page.settle()
    page.reload()
    expect(page.get_by_role("application")).to_have_count(4)
    expect(page.get_by_text("1 of at most 6 pinned")).to_be_visible()
    page.keyboard.press("Shift+P")
    expect(page.get_by_text("A click in a pane pins its pixel.")).to_be_visible()
    page.keyboard.press("t")
    expect(page.get_by_role("application")).to_have_count(1)
    expect(study_page.caption(0)).to_contain_text("beneath it Class map as it stands")


def test_peek_shows_the_next_pane_as_long_as_it_is_held(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.go("Scenes")
    scene, classes = clean_pictures(study_page)
    study_page.pane(0).hover()
    page.keyboard.down("b")
    expect(study_page.caption(0)).to_contain_text("Beneath: Class map as it stands")
    held, _ = clean_pictures(study_page)
    assert share_alike(held, classes) > 0.97
    page.keyboard.up("b")
    expect(study_page.caption(0)).not_to_contain_text("Beneath")
    study_page.settle()
    back, _ = clean_pictures(study_page)
    assert share_alike(back, scene) > 0.97


def test_moving_edge_cuts_a_pane_open(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.go("Scenes")
    scene, classes = clean_pictures(study_page)
    study_page.pane(0).hover()
    page.keyboard.press("e")
    edge = page.get_by_role("slider", name="Edge between the layer and the one beneath")
    box, pane = edge.bounding_box(), study_page.pane(0).bounding_box()
    assert box is not None and pane is not None
    page.mouse.move(box["x"] + 7, box["y"] + 100)
    page.mouse.down()
    page.mouse.move(pane["x"] + 0.25 * pane["width"], box["y"] + 100, steps=5)
    page.mouse.up()
    cut, _ = clean_pictures(study_page)
    width = scene.shape[1]
    left, right = slice(0, int(0.2 * width)), slice(int(0.3 * width), width)
    assert share_alike(cut[:, left], scene[:, left]) > 0.95
    assert share_alike(cut[:, right], classes[:, right]) > 0.95
    edge.focus()
    page.keyboard.press("ArrowRight")
    expect(edge).to_have_attribute("aria-valuenow", "27")
    page.keyboard.press("e")
    expect(edge).to_have_count(0)


def test_limits_are_dragged_on_the_histogram(study_page: StudyPage) -> None:
    """Black moved to a value makes pixels of that value black on the screen."""
    page = study_page.page
    study_page.go("Scenes")
    study_page.caption(0).get_by_role("button", name="Change the contrast stretch").click()
    black = page.get_by_role("slider", name="Black of nir")
    box = black.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 20)
    page.mouse.down()
    page.mouse.move(box["x"] + 130, box["y"] + 20, steps=6)
    page.mouse.up()
    expect(study_page.caption(0)).to_contain_text("stretched between set limits")
    low = float(black.get_attribute("aria-valuenow") or "nan")
    high = float(
        page.get_by_role("slider", name="White of nir").get_attribute("aria-valuenow") or "nan"
    )
    assert 0.1 < low < high
    black.focus()
    page.keyboard.press("ArrowRight")
    eventually(lambda: float(black.get_attribute("aria-valuenow") or "nan") > low)
    low = float(black.get_attribute("aria-valuenow") or "nan")
    page.keyboard.press("Escape")
    study_page.settle()
    page.mouse.move(5, 5)
    raster = open_layer(study_page.scene_id, "look")
    nir = raster.read(raster.grid.whole, ("nir",)).values[0]
    for row, column in ((250, 450), (300, 520), (330, 560)):
        share = (nir[row, column] - low) / (high - low)
        red = study_page.colour_at(row + 0.5, column + 0.5, 0)[0]
        assert red == pytest.approx(255 * min(1, max(0, share)), abs=4)


def test_single_band_in_a_palette_with_its_legend(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.go("Scenes")
    caption = study_page.caption(0)
    caption.get_by_role("button", name="Change the bands that are shown").click()
    page.get_by_label("Single band").select_option("nir")
    page.keyboard.press("Escape")
    caption.get_by_role("button", name="Change the palette").click()
    page.get_by_role("button", name="Blue to yellow").click()
    page.keyboard.press("Escape")
    expect(caption).to_contain_text("shown as nir in blue to yellow")
    expect(page.get_by_role("img", name=re.compile("Colours from .* of nir"))).to_be_visible()
    study_page.settle()
    page.mouse.move(5, 5)
    raster = open_layer(study_page.scene_id, "look")
    nir = raster.read(raster.grid.whole, ("nir",)).values[0]
    limits = channel_curves(opened(study_page.scene_id), ("nir",), Stretch())[0].limits
    table = palette_table("blue-yellow").astype(int)
    for row, column in ((250, 450), (300, 520), (330, 560)):
        share = (nir[row, column] - limits.low) / (limits.high - limits.low)
        expected = table[int(np.clip(255 * share + 0.5, 0, 255))]
        got = np.array(study_page.colour_at(row + 0.5, column + 0.5, 0))
        assert np.abs(got - expected).max() <= 6


def test_stretch_over_what_the_panes_show(study_page: StudyPage) -> None:
    study_page.go("Scenes")
    before, _ = clean_pictures(study_page)
    caption = study_page.caption(0)
    caption.get_by_role("button", name="Change where values are counted").click()
    study_page.page.get_by_role("button", name="What the panes show now").click()
    expect(caption).to_contain_text("over a part of the scene")
    after, _ = clean_pictures(study_page)
    assert share_alike(before, after) < 0.9


def test_line_is_drawn_read_and_followed(study_page: StudyPage) -> None:
    page = study_page.page
    tab(study_page, "Line")
    page.get_by_role("button", name="Draw a line").click()
    study_page.click(300.5, 480.5)
    page.mouse.dblclick(*study_page.at(300.5, 540.5))
    expect(note(study_page)).to_contain_text("600 m, 60 pixels · 61 places read")
    chart = page.get_by_role("img", name=re.compile("Values along the line: nir, red, green"))
    box = chart.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 40)
    ring = page.locator(".ol-overlay-container circle").first
    expect(ring).to_be_visible()
    # Its end is moved: the values follow.
    study_page.drag((300.5, 540.5), (300.5, 570.5))
    expect(note(study_page)).to_contain_text("900 m, 90 pixels")
    with page.expect_download() as download:
        page.get_by_role("button", name="CSV").click()
    assert download.value.suggested_filename == "line.csv"
    rows = download.value.path().read_text().splitlines()
    assert rows[0] == 'distance_m,x,y,"nir","red","green"' and len(rows) == 92
    first, last = (np.array(row.split(","), float) for row in (rows[1], rows[-1]))
    assert np.hypot(*(last - first)[1:3]) == pytest.approx(last[0], rel=1e-3), "where it was read"
    # Two clicks on the chart measure between them; typed marks do as well.
    page.get_by_role("button", name="Measure").click()
    box = chart.bounding_box()
    assert box is not None
    for share in (0.5, 0.8):
        page.mouse.click(box["x"] + share * box["width"], box["y"] + 40)
    between = page.get_by_role("table", name="Between the marks")
    expect(between.get_by_role("row")).to_have_count(4)
    page.get_by_label("First mark, metres from the start").fill("100")
    page.get_by_label("Second mark").fill("400")
    expect(between.get_by_role("columnheader").first).to_have_text("300 m")
    nir = [float(row.split(",")[3]) for row in rows[1:]]
    expect(between.get_by_role("cell").nth(3)).to_have_text(f"{nir[40] - nir[10]:.3f}")


def test_line_with_keys_alone(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.pane(0).focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("d")
    page.keyboard.press("Space")
    for _ in range(3):
        page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Space")
    page.keyboard.press("Enter")
    expect(note(study_page)).to_contain_text("300 m, 30 pixels")


def test_circled_cloud_lights_its_pixels(study_page: StudyPage) -> None:
    page = study_page.page
    tab(study_page, "Feature space")
    expect(note(study_page)).to_contain_text("every pixel")
    study_page.settle()

    def lit() -> float:
        far = np.abs(study_page.picture(0).astype(int) - LIT).max(axis=2)
        return float((far < 40).mean())

    assert lit() < 0.001
    page.get_by_role("button", name="Circle a cloud").click()
    plot = page.get_by_role("group", name=re.compile("Feature space of red"))
    box = plot.bounding_box()
    assert box is not None
    x, y = box["x"] + 60, box["y"] + 12  # low red, high near infrared: fresh green
    page.mouse.move(x, y)
    page.mouse.down()
    for dx, dy in ((110, 0), (110, 70), (0, 70), (0, 10)):
        page.mouse.move(x + dx, y + dy, steps=8)
    page.mouse.up()
    eventually(lambda: lit() > 0.02)
    told = page.get_by_role("region", name="The circled cloud")
    expect(told.get_by_test_id("cloud-count")).to_have_text(
        re.compile(r"pixels · .* % of the whole scene · .* ha")
    )
    expect(told.get_by_role("row").filter(has_text="Pasture")).to_have_count(1)
    # It becomes sites of a class, and a mask.
    told.get_by_label("Class of the sites").select_option(label="Pasture")
    told.get_by_role("button", name="Make sites of").click()
    expect(told.get_by_text(re.compile("Made [0-9]+ sites"))).to_be_visible()
    told.get_by_role("button", name="Keep only these").click()
    expect(study_page.caption(1)).to_contain_text("Summer pass, masked")
    page.get_by_label("Band across").select_option(label="blue, Summer pass")
    expect(told.get_by_test_id("cloud-count")).to_be_visible()  # it is lit still
    page.get_by_role("button", name="Put the light out").click()
    eventually(lambda: lit() < 0.001)
    page.get_by_label("Band across").select_option(label="red, Summer pass")
    page.get_by_label("Light the pixels in a class’s ellipse").select_option(label="Pasture")
    eventually(lambda: lit() > 0.001)
    page.get_by_role("button", name="Soil line").click()
    expect(plot.locator("polygon[stroke*=warm]")).to_have_count(1)


def test_histogram_of_a_view_with_classes(study_page: StudyPage) -> None:
    page = study_page.page
    tab(study_page, "Histogram")
    expect(note(study_page)).to_contain_text("valid of 691")
    page.get_by_label("Pixels of", exact=True).select_option("view")
    expect(note(study_page)).not_to_contain_text("valid of 691")
    page.get_by_role("button", name="Per class").click()
    expect(page.get_by_text("Tidal water (half height)")).to_be_visible()
    page.get_by_role("button", name="Title and range").click()
    page.get_by_label("Title of the chart").fill("What the view holds")
    page.get_by_label("Low end across").fill("0")
    page.get_by_label("High end across").fill("0.2")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Show all").click()
    expect(page.get_by_role("button", name="Show all")).to_have_count(0)


def test_places_through_time(study_page: StudyPage) -> None:
    page = study_page.page
    tab(study_page, "Time")
    study_page.go("Scenes")
    study_page.click(300.5, 520.5)
    study_page.click(260.5, 480.5)
    legend = page.get_by_role("listitem").filter(has_text="pin")
    expect(legend).to_have_count(2)
    expect(note(study_page)).to_contain_text("23 dates, 1 January 2024 to 18 December")
    with page.expect_download() as download:
        page.get_by_role("button", name="CSV").click()
    rows = download.value.path().read_text().splitlines()
    assert len(rows) == 24 and rows[0] == 'date,"here","pin 1","pin 2"'


def test_layers_are_named_grouped_hidden_and_removed(study_page: StudyPage) -> None:
    page = study_page.page
    page.keyboard.press("l")
    expect(page.get_by_role("heading", level=1)).to_have_text("Layers")
    page.get_by_role("button", name="Autumn pass in pane 2").click()
    expect(study_page.caption(1)).to_contain_text("Autumn pass")
    page.get_by_role("button", name="More about Autumn pass").click()
    page.get_by_label("Group of Autumn pass").fill("Late in the year")
    page.keyboard.press("Enter")
    group = page.get_by_role("region", name="Late in the year")
    expect(group.get_by_text("Autumn pass").first).to_be_visible()
    group.get_by_role("button", name="More about Autumn pass").click()
    group.get_by_role("button", name="Hide from choices").click()
    expect(page.get_by_role("button", name="Show hidden layers, 1")).to_be_visible()
    page.get_by_label("Find a layer", exact=True).fill("spring")
    page.get_by_role("button", name="More about Spring pass").click()
    page.get_by_role("button", name="Remove", exact=True).click()
    expect(page.get_by_text("Nothing else is made of it.")).to_be_visible()
    page.get_by_role("button", name="Remove it").click()
    expect(page.get_by_text("No layer is called that.")).to_be_visible()
    page.get_by_role("heading", level=1).click()
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="Spring pass in pane 1")).to_be_visible()


def test_note_is_pinned_found_and_undone(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.point_to(300.5, 520.5)
    page.keyboard.press("n")
    page.get_by_label("Words of the note").fill("Is this reed or marsh?")
    page.get_by_role("button", name="Pin it").click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.get_by_role("button", name="Layers").click()
    notes = page.get_by_role("region", name="Notes")
    expect(notes.get_by_role("textbox")).to_have_value("Is this reed or marsh?")
    notes.get_by_role("button", name="Go there").click()
    page.keyboard.press("Control+z")
    expect(notes.get_by_role("textbox")).to_have_count(0)


def test_typed_coordinates_are_gone_to(study_page: StudyPage) -> None:
    page = study_page.page
    page.keyboard.press("g")
    field = page.get_by_label("Coordinates")
    field.fill("somewhere")
    page.get_by_role("button", name="Go there").click()
    expect(page.get_by_text("Type two numbers")).to_be_visible()
    field.fill("46.0 N, 34.13 W")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("readout-place")).to_contain_text(re.compile(r"46\.0000° N, 34\.1"))


def test_reference_picture_tells_date_and_source(study_page: StudyPage) -> None:
    study_page.page.get_by_role("button", name="Layers").click()
    study_page.page.get_by_role("button", name="Reference photo in pane 1").click()
    expect(study_page.caption(0)).to_contain_text("taken 18 July 2024, from the demo’s generator")
    study_page.settle()
    picture = study_page.picture(0).astype(int)
    green = (picture[..., 1] > picture[..., 2] + 8).mean()
    assert green > 0.2, "fields in natural colours"


def test_layer_removed_elsewhere_leaves_the_panes_working(study_page: StudyPage) -> None:
    study_page.expected = ("404",)
    page = study_page.page
    page.keyboard.press("l")
    page.get_by_role("button", name="Autumn pass in pane 1").click()
    study_page.settle()
    scenes = page.request.get(f"{study_page.address}/api/studies/{study_page.study_id}/scenes")
    autumn = next(s["id"] for s in scenes.json() if s["title"] == "Autumn pass")
    page.request.delete(f"{study_page.address}/api/layers/{autumn}")
    page.get_by_role("button", name="Summer pass in pane 2").click()
    page.get_by_role("button", name="More about Spring pass").click()
    page.get_by_label("Name of Spring pass").fill("Spring")
    page.keyboard.press("Enter")
    expect(study_page.caption(0)).to_contain_text("is not there any more; choose another one")
    study_page.point_to(300.5, 520.5)
    expect(page.get_by_test_id("readout-place")).to_contain_text("row 300, col 520")


@pytest.mark.parametrize(("width", "height"), [(1024, 700), (2560, 1440), (420, 300)])
def test_every_window_size_works(study_page: StudyPage, width: int, height: int) -> None:
    page = study_page.page
    page.set_viewport_size({"width": width, "height": height})
    study_page.settle()
    box = study_page.pane(0).bounding_box()
    assert box is not None and box["width"] > 200 and box["height"] > 150
    if width > 1000:
        assert page.evaluate("document.documentElement.scrollWidth") <= width
        assert page.evaluate("document.documentElement.scrollHeight") <= height


def test_stretch_over_a_site_that_is_deleted(study_page: StudyPage) -> None:
    page = study_page.page
    page.get_by_role("button", name=re.compile("Site 1 ·")).click()
    caption = study_page.caption(0)
    caption.get_by_role("button", name="Change where values are counted").click()
    page.get_by_role("button", name="The chosen site").click()
    expect(caption).to_contain_text("over a training site")
    study_page.settle()
    over_site = study_page.picture(0)
    page.get_by_role("button", name="Delete site 1").click()
    expect(caption).to_contain_text("over the whole scene")
    study_page.settle()
    assert share_alike(study_page.picture(0), over_site) < 0.9
