"""Derive: an index by name, ratios as colours, a formula with a mistake, tasseled cap, class breaks
to a map, and all of it stacked into what the classifier uses."""

import re

import numpy as np
import pytest
from playwright.sync_api import Locator, expect

from support.eventually import eventually
from support.study_page import StudyPage

pytestmark = pytest.mark.browser

# Scene pixels inside covers of the demo's summer pass: tidal water, salt marsh, ripe barley.
WATER, PLANTS, DRY = (347.5, 343.5), (237.5, 442.5), (259.5, 463.5)
COEFFICIENTS = """component blue green red nir swir16 swir22
brightness .3029 .2786 .4733 .5599 .508 .1872
greenness -.2941 -.243 -.5424 .7276 .0713 -.1608
wetness .1511 .1973 .3283 .3407 -.7117 -.4559"""


def card(study_page: StudyPage) -> Locator:
    return study_page.page.get_by_role("region", name="Derive", exact=True)


def choose(study_page: StudyPage, kind: str) -> None:
    group = study_page.page.get_by_role("group", name="What is derived")
    group.get_by_role("button", name=kind, exact=True).click()


def make(study_page: StudyPage, title: str) -> None:
    button = card(study_page).get_by_role("button", name=re.compile("Make "))
    expect(study_page.caption(1)).to_contain_text("preview")
    button.click()
    expect(card(study_page).get_by_role("article", name=title, exact=True)).to_be_visible()
    expect(study_page.caption(1)).not_to_contain_text("preview")


def make_ratio(study_page: StudyPage, upper: str, lower: str) -> None:
    choose(study_page, "Ratio")
    form = card(study_page)
    form.get_by_label("Above").select_option(upper)
    form.get_by_label("Below").select_option(lower)
    expect(study_page.caption(1)).to_contain_text(f"{upper}_over_{lower}")
    make(study_page, f"{upper} / {lower}, Summer pass")


def drag_right(study_page: StudyPage) -> int:
    """Drag the view until all three are seen; by how many columns it went."""
    mouse = study_page.page.mouse
    study_page.point_to(290.5, 450.5)
    mouse.down()
    study_page.point_to(290.5, 455.5)
    study_page.point_to(290.5, 550.5)
    study_page.page.wait_for_timeout(400)  # a hand at rest: the map does not go on by itself
    mouse.up()
    study_page.settle()
    study_page.point_to(290.5, 500.5, pane=1)
    study_page.settle()
    place = study_page.page.get_by_text(re.compile(r"row 290, col \d+"))
    found = re.search(r"col (\d+)", place.inner_text())
    assert found
    return 500 - int(found[1])


def test_an_index_by_name(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.go("Derive")
    page.get_by_label("Find an index").fill("normalized difference veg")
    expect(page.get_by_text("Generalized", exact=False)).to_have_count(0)
    page.get_by_role("checkbox", name=re.compile("^NDVI Normalized")).check(force=True)
    expect(study_page.caption(1)).to_contain_text("preview shown as ndvi")
    facts = card(study_page)
    expect(facts.get_by_role("math")).to_have_text("nir−rednir+red")
    expect(facts).to_contain_text("From -1 to 1")
    expect(facts).to_contain_text("Green vegetation 0.8")
    make(study_page, "NDVI, Summer pass")
    expect(study_page.caption(1)).to_contain_text("NDVI, Summer pass shown as ndvi")
    study_page.settle()
    study_page.point_to(*PLANTS)
    table = page.get_by_role("table", name="Values at the crosshair")
    value = table.get_by_role("row", name=re.compile("^ndvi")).get_by_role("cell").first
    expect(value).to_have_text(re.compile(r"0\.[4-9]\d\d"))  # plants are green
    expect(page.get_by_role("navigation").get_by_text("1 layer")).to_be_visible()


def test_several_indices_and_those_that_the_scene_cannot_give(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.go("Derive")
    for symbol in ("NDVI", "NDWI", "NBR"):
        page.get_by_role("checkbox", name=re.compile(f"^{symbol} ")).check(force=True)
    button = card(study_page).get_by_role("button", name="Make 3 layers")
    expect(study_page.caption(1)).to_contain_text("preview shown as nbr")
    button.click()
    for symbol in ("NDVI", "NDWI", "NBR"):
        expect(page.get_by_role("article", name=f"{symbol}, Summer pass")).to_be_visible()
    page.get_by_label("Use", exact=True).select_option("water")
    page.get_by_role("button", name=re.compile("^All ")).click()
    missing = page.get_by_role("checkbox", disabled=True).first
    expect(missing).to_be_attached()
    expect(card(study_page).get_by_text(re.compile("^needs ")).first).to_be_attached()


def test_a_layer_chosen_twice_in_a_ratio_changes_places(study_page: StudyPage) -> None:
    """No choice of layers is refused on the way from one ratio to its reverse."""
    study_page.go("Derive")
    choose(study_page, "Ratio")
    above, below = card(study_page).get_by_label("Above"), card(study_page).get_by_label("Below")
    expect(above).to_have_value("nir")
    above.select_option("blue")
    expect(below).to_have_value("nir")
    expect(study_page.caption(1)).to_contain_text("blue_over_nir")
    below.select_option("blue")
    expect(above).to_have_value("nir")
    expect(study_page.caption(1)).to_contain_text("nir_over_blue")


def test_a_long_caption_unfolds_in_a_narrow_window(study_page: StudyPage) -> None:
    """All of its handles can be reached, with the pointer and with keys."""
    page, caption = study_page.page, study_page.caption(1)
    page.set_viewport_size({"width": 1024, "height": 800})
    study_page.go("Derive")
    choose(study_page, "Ratio")
    expect(caption).to_contain_text("nir_over_blue in blue, green, yellow")
    page.mouse.move(20, 20)

    def height() -> float:
        box = caption.bounding_box()
        assert box
        return box["height"]

    assert height() < 45, "two lines, whatever it says"
    caption.get_by_role("button").first.hover()
    eventually(lambda: height() > 60)
    page.mouse.move(20, 20)
    eventually(lambda: height() < 45)
    page.get_by_label("Above").focus()
    caption.get_by_role("button").last.focus()
    page.keyboard.press("Shift+Tab")
    eventually(lambda: height() > 60)
    page.keyboard.press("Enter")
    expect(page.get_by_text("Mean ± 2 standard deviations")).to_be_visible()


@pytest.mark.slow("a story of several layers, each computed and drawn")
def test_ratios_make_a_composite_in_which_covers_have_their_colours(study_page: StudyPage) -> None:
    """Red: dry ground (short-wave over blue); green: plants (near infrared over blue); blue:
    water (blue over short-wave)."""
    study_page.go("Derive")
    ratios = (("swir16", "blue"), ("nir", "blue"), ("blue", "swir16"))
    for upper, lower in ratios:
        make_ratio(study_page, upper, lower)
    choose(study_page, "Composite")
    form = card(study_page)
    for channel, (upper, lower) in zip(("Red", "Green", "Blue"), ratios, strict=True):
        form.get_by_label(channel, exact=True).select_option(
            label=f"{upper}_over_{lower}, {upper} / {lower}, Summer pass"
        )
    expect(study_page.caption(1)).to_contain_text(
        "swir16_over_blue, nir_over_blue, blue_over_swir16"
    )
    expect(form.get_by_role("table", name="Correlation")).to_be_visible()
    moved = drag_right(study_page)
    water, plants, dry = (
        study_page.colour_at(row, column + moved, pane=1) for row, column in (WATER, PLANTS, DRY)
    )
    assert water[2] > max(water[0], water[1]), f"water is blue: {water}"
    assert plants[1] > plants[2] + 60, f"plants are green or yellow: {plants}"
    assert dry[0] > dry[2] + 60 and dry[0] / max(dry[1], 1) > plants[0] / max(plants[1], 1), dry
    make(study_page, "Stack of 3 layers, swir16 / blue, Summer pass")


def test_a_formula_whose_mistake_is_mended(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.expected = ("422",)
    study_page.go("Derive")
    choose(study_page, "Formula")
    text = page.get_by_label("Formula", exact=True)
    text.fill("(nir - redd) / (nir + red)")
    alert = card(study_page).get_by_role("alert")
    expect(alert).to_contain_text("There is no layer called redd. Did you mean “red”?")
    expect(alert.locator("mark")).to_have_text("redd")
    expect(card(study_page).get_by_role("button", name="Make the layer")).to_be_disabled()
    alert.get_by_role("button", name="Write red").click()
    expect(text).to_have_value("(nir - red) / (nir + red)")
    expect(study_page.caption(1)).to_contain_text("preview shown as formula")
    expect(card(study_page).get_by_role("alert")).to_have_count(0)
    expect(card(study_page).get_by_role("math")).to_be_visible()
    text.fill("log(nir - red)")
    expect(card(study_page)).to_contain_text("have no value: division by zero, or a root")
    page.get_by_label("Short name").fill("My log")
    page.get_by_label("Name to save the formula under").fill("Logarithm")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(card(study_page).get_by_role("button", name="Logarithm", exact=True)).to_be_visible()
    expect(study_page.caption(1)).to_contain_text("preview shown as my_log")
    make(study_page, "my_log, Summer pass")
    text.fill("")
    card(study_page).get_by_role("button", name="Logarithm", exact=True).click()
    expect(text).to_have_value("log(nir - red)")


def test_a_formula_of_two_dates_for_other_scenes_too(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.expected = ("422",)
    study_page.go("Derive")
    choose(study_page, "Formula")
    text = page.get_by_label("Formula", exact=True)
    text.fill("nir - ")
    page.get_by_label("Insert a layer of another scene").select_option(label="nir, Spring pass")
    expect(text).to_have_value("nir - spring_pass.nir")
    expect(study_page.caption(1)).to_contain_text("preview")
    page.get_by_text("The same for other scenes").click()
    page.get_by_role("checkbox", name="Autumn pass").check(force=True)
    card(study_page).get_by_role("button", name="Make 2 layers").click()
    for scene in ("Summer pass", "Autumn pass"):
        entry = page.get_by_role("article", name=f"formula, {scene}")
        expect(entry).to_contain_text(f"of {scene}, Spring pass")


def test_tasseled_cap_of_another_sensor_is_refused_and_copied(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.expected = ("422",)
    study_page.go("Derive")
    choose(study_page, "Tasseled cap")
    form = card(study_page)
    expect(form.get_by_role("alert")).to_contain_text("No set of coefficients is published here")
    page.get_by_role("combobox", name="Coefficients").select_option("oli-2014")
    expect(form.get_by_role("alert")).to_contain_text("the scene is of Whimbrel-8")
    page.get_by_role("combobox", name="Coefficients").select_option("own")
    page.get_by_label("Table", exact=True).fill(COEFFICIENTS.replace(".7276", ".0728"))
    expect(form).to_contain_text("greenness has the length")
    page.get_by_label("Table", exact=True).fill(COEFFICIENTS)
    expect(form).to_contain_text("All of length 1 and at right angles")
    expect(study_page.caption(1)).to_contain_text("brightness, greenness, wetness")
    page.get_by_label("Name to save the table under").fill("Borrowed")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("combobox", name="Coefficients")).to_contain_text("saved: Borrowed")
    make(study_page, "Tasseled cap, Summer pass")
    entry = page.get_by_role("article", name="Tasseled cap, Summer pass")
    expect(entry).to_contain_text("own coefficients “Borrowed”")


@pytest.mark.slow("a story of several layers, each computed and drawn")
def test_components_and_texture(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.go("Derive")
    choose(study_page, "Principal components")
    chart = page.get_by_role("img", name=re.compile("Variance of each component"))
    expect(chart).to_be_visible()
    expect(page.get_by_role("table", name="Loadings").get_by_role("row")).to_have_count(9)
    page.get_by_label("From the matrix of").select_option("correlation")
    make(study_page, "Principal components (correlation), Summer pass")
    choose(study_page, "Minimum noise fraction")
    expect(page.get_by_role("img", name=re.compile("Variance over noise"))).to_be_visible()
    choose(study_page, "Texture")
    expect(card(study_page)).to_contain_text("Computed at native resolution")
    expect(study_page.caption(1)).to_contain_text("nir_contrast")
    study_page.settle()
    make(study_page, "Texture of nir, Summer pass")


@pytest.mark.slow("a story of several layers, each computed and drawn")
def test_sharpened_bands_are_seen_at_once_and_stay_reflectance(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.go("Derive")
    choose(study_page, "Sharpen")
    expect(study_page.caption(1)).to_contain_text("preview shown as swir22, swir16, nir")
    taken = page.get_by_role("table", name="Detail taken")
    expect(taken.get_by_role("row", name=re.compile(r"^swir16 × 1\.\d\d"))).to_be_visible()
    expect(taken.get_by_role("row")).to_have_count(5)
    bands = page.get_by_role("group", name="Bands to sharpen")
    bands.get_by_role("checkbox", name="swir16").check(force=True)
    expect(taken.get_by_role("row")).to_have_count(2)
    make(study_page, "Sharpened, Summer pass")
    study_page.settle()
    study_page.point_to(*PLANTS)
    values = page.get_by_role("table", name="Values at the crosshair")
    expect(values.get_by_role("row", name=re.compile("^swir16")).get_by_role("cell")).to_have_count(
        2
    )
    choose(study_page, "Stripe filter")
    expect(card(study_page)).to_contain_text("1024 × 1024 pixels at once")
    page.get_by_label("Repeating within, pixels").fill("6")
    expect(study_page.caption(1)).to_contain_text("preview shown as")
    make(study_page, "Without stripes, Summer pass")


@pytest.mark.slow("a story of several layers, each computed and drawn")
def test_breaks_to_a_map_with_areas_and_a_stack_that_is_classified(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.expected = ("422",)
    study_page.go("Derive")
    page.get_by_role("checkbox", name=re.compile("^NDVI ")).check(force=True)
    make(study_page, "NDVI, Summer pass")

    choose(study_page, "Class breaks")
    page.get_by_label("Layer", exact=True).select_option(label="ndvi, NDVI, Summer pass")
    page.get_by_label("Start from").select_option("vegetation index")
    page.get_by_role("button", name="Fill the table").click()
    rows = page.get_by_role("group", name="Class breaks")
    expect(rows.get_by_label(re.compile("^Name of class"))).to_have_count(5)
    expect(study_page.caption(1)).to_contain_text("Class breaks of ndvi")
    expect(study_page.caption(1)).to_contain_text("not kept yet")
    study_page.settle()
    colours = {tuple(c) for c in study_page.picture(1)[::7, ::7].reshape(-1, 3).tolist()}
    assert len(colours) < 60, "few colours: it is a class map"

    rows.get_by_label("Dense to").fill("0.3")
    alert = card(study_page).get_by_role("alert")
    expect(alert).to_contain_text("Dense ends at 0.3, not above its start 0.4")
    expect(card(study_page).get_by_role("button", name="Keep the class map")).to_be_disabled()
    rows.get_by_label("Dense to").fill("0.6")
    expect(card(study_page)).to_contain_text("above 0.6, the highest limit, and stay unclassified")
    rows.get_by_label("Dense to").fill("")
    limit = page.get_by_role("slider", name="Limit 3")
    limit.focus()
    limit.press("ArrowRight")
    expect(rows.get_by_label("Sparse to", exact=True)).not_to_have_value("0.25")
    moved = rows.get_by_label("Sparse to", exact=True).input_value()
    expect(rows.get_by_label("Open from")).to_have_value(moved)
    expect(card(study_page).get_by_role("alert")).to_have_count(0)
    card(study_page).get_by_role("button", name="Keep the class map").click()
    expect(study_page.caption(1)).to_contain_text("class breaks of ndvi", timeout=60_000)
    study_page.go("Classify")
    areas = page.get_by_role("table", name=re.compile("NDVI, Summer pass, class map"))
    expect(areas.get_by_role("row", name=re.compile("^Dense"))).to_be_visible()

    study_page.go("Deliver")
    part = page.get_by_role("region", name="Maps of class breaks")
    expect(part.get_by_role("article")).to_have_count(1)
    files = page.get_by_role("region", name="Scenes and layers")
    files.get_by_role("button", name="Keep as a file").click()
    expect(files.get_by_role("link", name="Download GeoTIFF")).to_be_visible(timeout=60_000)

    classify_a_stack(study_page)


def classify_a_stack(study_page: StudyPage) -> None:
    """All bands and the index, trained on and classified as one."""
    page = study_page.page
    study_page.go("Derive")
    choose(study_page, "Stack")
    page.get_by_role("button", name="all 8").click()
    page.get_by_role("combobox", name="Add from").select_option(label="NDVI, Summer pass")
    page.get_by_role("group", name="Add from NDVI, Summer pass").get_by_text("ndvi").click()
    expect(page.get_by_role("table", name="Ranges").get_by_role("row")).to_have_count(10)
    make(study_page, "Stack of 9 layers, Summer pass")
    entry = page.get_by_role("article", name="Stack of 9 layers, Summer pass")
    entry.get_by_role("button", name="Train and classify with it").click()
    study_page.go("Train")
    page.get_by_role("button", name="Classify the whole scene").click()
    expect(study_page.caption(1)).to_contain_text("maximum likelihood on", timeout=90_000)
    expect(study_page.caption(1)).to_contain_text("9 bands")
    expect(study_page.caption(1)).to_contain_text("Stack of 9 layers")


def test_a_preview_is_seen_until_it_is_left(study_page: StudyPage) -> None:
    """What the pane showed before lies beneath, and comes back."""
    page = study_page.page
    before = study_page.caption(1).inner_text()
    study_page.go("Derive")
    choose(study_page, "Ratio")
    expect(study_page.caption(1)).to_contain_text("preview")
    study_page.point_to(300.5, 540.5, pane=1)
    page.keyboard.down("b")
    expect(study_page.caption(1)).to_contain_text("Beneath: Class map as it stands")
    page.keyboard.up("b")
    expect(study_page.caption(1)).to_contain_text("preview")
    study_page.go("Train")
    expect(study_page.caption(1)).to_have_text(before)
    page.reload()
    expect(study_page.caption(1)).to_have_text(before)


def test_layers_are_kept_shown_and_removed(study_page: StudyPage) -> None:
    page = study_page.page
    study_page.go("Derive")
    choose(study_page, "Ratio")
    make(study_page, "nir / blue, Summer pass")
    entry = page.get_by_role("article", name="nir / blue, Summer pass")
    entry.get_by_role("button", name="Show left").click()
    expect(study_page.caption(0)).to_contain_text("nir / blue, Summer pass shown as")
    entry.get_by_role("button", name="Keep as a file").click()
    expect(entry.get_by_role("link", name="Download GeoTIFF")).to_be_visible(timeout=60_000)
    page.get_by_role("tab", name="Histogram").click()
    chart = page.get_by_role("img", name=re.compile("Histogram of nir_over_blue"))
    expect(chart).to_be_visible()
    entry.get_by_role("button", name="Remove").click()
    entry.get_by_role("button", name="Remove it").click()
    expect(entry).to_have_count(0)
    expect(study_page.caption(0)).to_contain_text("not there any more")
    assert np.isfinite(study_page.picture(0).astype(float)).all()


def test_what_belongs_to_a_study_ends_with_it(study_page: StudyPage) -> None:
    """A scene is made, another study opened and left again: the first opens as it was left, and
    nothing that was in hand there is seen in between."""
    page = study_page.page
    study_page.go("Derive")
    make_ratio(study_page, "swir16", "nir")
    page.get_by_role("button", name="Layers").first.click()
    for name in ("Ulver", "Fold"):
        page.get_by_title("Other studies, or a new one").click()
        page.get_by_label("Name of the new study").fill(name)
        page.get_by_label("Name of the new study").press("Enter")
        expect(page.get_by_title("Other studies, or a new one")).to_have_text(name)
        expect(page.get_by_role("application")).to_have_count(0)
        expect(page.get_by_text("Drop files, a whole folder")).to_be_visible()
    page.get_by_title("Other studies, or a new one").click()
    page.get_by_role("button", name="Ulverhythe Levels").click()
    expect(study_page.caption(1)).to_contain_text("swir16_over_nir")
    expect(page.get_by_role("heading", level=1)).to_have_text("Scenes")
