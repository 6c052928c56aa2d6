"""Take the pictures of docs/screenshots from a running Kite Sort with an untouched demo study.

./run --data data/shots --port 8741       (in another window)
.venv/bin/python scripts/screenshots.py http://127.0.0.1:8741
"""

import io
import re
import sys
from pathlib import Path

import numpy as np
from PIL import Image
from playwright.sync_api import Page, expect, sync_playwright

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
MOST_BYTES = 250_000
LEAST_OF_A_SPOT = 40  # pixels; a class in the list has 140
FLAGS = ["--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
         "--disable-background-networking", "--disable-component-update",
         "--disable-sync"]  # fmt: skip


def main(address: str) -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        expect(page.get_by_test_id("caption-2")).to_contain_text("from 46 sites", timeout=30_000)
        shoot(page, "first-start")
        page.get_by_role("button", name="Dismiss").click()
        page.get_by_role("button", name="Classify the whole scene").click()
        expect(page.get_by_test_id("caption-2")).to_contain_text("class map 1", timeout=60_000)
        page.mouse.move(190, 300)
        shoot(page, "classify")
        page.get_by_role("button", name="Try all methods").click()
        page.get_by_role("button", name="Try them all").click()
        expect(page.get_by_role("button", name="Try them again")).to_be_visible(timeout=180_000)
        shoot(page, "methods")
        page.keyboard.press("Escape")
        page.get_by_role("link", name="Check").click()
        shoot(page, "check")
        page.get_by_role("link", name="Deliver").click()
        page.get_by_text("Polygons", exact=True).click()
        page.get_by_role("spinbutton", name="Simplified by, m").fill("10")
        page.get_by_role("button", name="Make polygons").click()
        expect(page.get_by_role("link", name=re.compile("polygons$"))).to_be_visible(timeout=60_000)
        shoot(page, "deliver")
        page.get_by_role("combobox", name="Find").fill("as it stands")
        page.get_by_role("option", name="Show the class map as it stands").click()
        page.get_by_role("link", name="Train").click()
        expect(page.get_by_role("heading", level=1)).to_have_text("Train")
        page.keyboard.press("4")
        page.get_by_role("button", name="Site 2 ·").click()
        page.wait_for_timeout(600)
        page.mouse.move(310, 375)
        shoot(page, "train")
        page.get_by_role("tab", name="Sites").click()
        for _ in range(2):
            page.get_by_role("button", name="the next advice").click()
        page.get_by_role("button", name="Show", exact=True).click()
        page.wait_for_timeout(1500)
        shoot(page, "sites")
        page.get_by_role("tab", name="Spectrum").click()
        shoot_looking(page)
        shoot_scenes(page)
        shoot_correct(page)
        shoot_derive(page)
        shoot_tidy(page)
        shoot_clusters(page)
        browser.close()


def shoot_tidy(page: Page) -> None:
    page.get_by_role("link", name="Tidy").click()
    maps = page.get_by_role("combobox", name="Class map")
    maps.select_option(label="Summer pass, class map 1")
    for title in ("Majority filter", "Sieve"):
        page.get_by_role("button", name="Add a step").click()
        page.get_by_role("button", name=re.compile(f"^{title}")).click()
    expect(page.get_by_test_id("caption-2")).to_contain_text("after 2 steps")
    page.get_by_text("Class by class").click()
    page.mouse.move(640, 20)
    shoot(page, "tidy")


def shoot_clusters(page: Page) -> None:
    page.get_by_role("link", name="Classify").click()
    page.get_by_role("button", name="By clusters").click()
    page.get_by_role("button", name="Cluster the whole scene").click()
    keep = page.get_by_role("button", name="Keep the map in classes")
    expect(keep).to_be_visible(timeout=60_000)
    for key in "12":
        page.get_by_role("button", name=re.compile("^Call it [A-Z]")).click()
        expect(page.get_by_test_id("caption-2")).to_contain_text(f"{key} of 8 named")
        page.keyboard.press("m")
    page.keyboard.press("m")
    page.get_by_role("button", name=re.compile("^Call it [A-Z]")).click()
    page.keyboard.press("Shift+M")
    page.mouse.move(640, 20)
    shoot(page, "clusters")


def shoot_looking(page: Page) -> None:
    page.get_by_role("button", name="Four panes").click()
    page.keyboard.press("w")
    page.wait_for_timeout(700)
    page.mouse.click(250, 200)  # no site is chosen any more
    page.get_by_role("tab", name="Time").click()
    for x, y in ((420, 230), (180, 180)):
        page.mouse.click(x, y)
        page.wait_for_timeout(500)
    page.mouse.move(300, 250)
    shoot(page, "looking")
    page.keyboard.press("Shift+P")
    page.get_by_role("button", name="Two panes").click()
    page.get_by_role("tab", name="Feature space").click()
    page.wait_for_timeout(500)
    page.keyboard.press("w")
    page.wait_for_timeout(1500)
    page.get_by_role("button", name="Circle a cloud").click()
    box = page.get_by_role("group", name="Feature space of").bounding_box()
    assert box is not None
    x, y = box["x"] + 60, box["y"] + 12
    page.mouse.move(x, y)
    page.mouse.down()
    for dx, dy in ((70, -4), (110, 30), (80, 75), (20, 70), (0, 10)):
        page.mouse.move(x + dx, y + dy, steps=8)
    page.mouse.up()
    page.mouse.move(330, 300)
    shoot(page, "feature-space")
    page.get_by_role("button", name="Put the light out").click()
    page.get_by_role("tab", name="Spectrum").click()
    page.wait_for_timeout(500)
    page.keyboard.press("w")
    page.get_by_label("Behind the spectrum").select_option("covers")
    page.get_by_role("button", name="Change the contrast stretch").first.click()
    shoot(page, "stretch")
    page.keyboard.press("Escape")
    page.get_by_label("Behind the spectrum").select_option("class")
    page.get_by_role("button", name="Layers").click()
    page.get_by_role("button", name="Change the bands that are shown").first.click()
    page.get_by_label("Single band").select_option("nir")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Reference photo in pane 2").click()
    page.get_by_role("button", name="Change the palette").first.click()
    page.get_by_role("button", name="Blue to yellow").click()
    page.keyboard.press("Escape")
    page.mouse.move(330, 300)
    shoot(page, "layers")
    page.get_by_role("button", name="Class map as it stands in pane 2").click()
    page.get_by_role("button", name="Change the bands that are shown").first.click()
    page.get_by_role("button", name="Near infrared").first.click()


def shoot_scenes(page: Page) -> None:
    page.get_by_role("link", name="Scenes").click()
    autumn = page.get_by_role("article", name="Autumn pass")
    autumn.get_by_role("button", name="Show right").click()
    page.get_by_role("tab", name="Time").click()
    for x, y in ((420, 330), (250, 420), (190, 180)):
        page.mouse.click(x, y)
        page.wait_for_timeout(500)
    page.get_by_role("region", name="Crop").scroll_into_view_if_needed()
    page.mouse.move(300, 300)
    shoot(page, "scenes")
    page.keyboard.press("Shift+P")
    page.get_by_role("tab", name="Spectrum").click()
    page.get_by_role("button", name="Bring in scenes").click()
    page.get_by_role("button", name="demo", exact=True).click()
    page.get_by_role("button", name="Look at this: scenes").click()
    shoot(page, "bring-in")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Catalogue").click()
    page.get_by_role("button", name="Search", exact=True).click()
    page.get_by_role("checkbox", name="Late summer pass").check(force=True)
    shoot(page, "catalogue")
    page.keyboard.press("Escape")


def shoot_correct(page: Page) -> None:
    page.get_by_role("link", name="Correct").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Correct")
    page.get_by_role("checkbox", name="Summer pass", exact=True).uncheck(force=True)
    for title in ("Spring pass", "Autumn pass"):
        page.get_by_role("checkbox", name=title, exact=True).check(force=True)
    for step in ("Haze: dark object subtraction", "Mask by the quality band"):
        page.get_by_role("button", name="Add a step").click()
        page.get_by_role("button", name=step).click()
    page.get_by_role("button", name="Correct 2 scenes").click()
    expect(page.get_by_test_id("caption-2")).to_contain_text("haze out", timeout=60_000)
    page.mouse.move(300, 300)
    shoot(page, "correct")


def shoot_derive(page: Page) -> None:
    page.get_by_role("link", name="Scenes").click()
    page.get_by_role("article", name="Summer pass").get_by_role("button", name="Show left").click()
    page.get_by_role("link", name="Derive").click()
    page.get_by_label("From", exact=True).select_option(label="Summer pass")
    kinds = page.get_by_role("group", name="What is derived")
    for upper, lower in (("swir16", "blue"), ("nir", "blue"), ("blue", "swir16")):
        kinds.get_by_role("button", name="Ratio").click()
        page.get_by_label("Above").select_option(upper)
        page.get_by_label("Below").select_option(lower)
        expect(page.get_by_test_id("caption-2")).to_contain_text(f"{upper}_over_{lower}")
        page.get_by_role("button", name="Make the layer").click()
        expect(page.get_by_role("article", name=f"{upper} / {lower}, Summer pass")).to_be_visible()
    kinds.get_by_role("button", name="Composite").click()
    for channel, (upper, lower) in zip(
        ("Red", "Green", "Blue"), (("swir16", "blue"), ("nir", "blue"), ("blue", "swir16")),
        strict=True,
    ):  # fmt: skip
        page.get_by_label(channel, exact=True).select_option(
            label=f"{upper}_over_{lower}, {upper} / {lower}, Summer pass"
        )
    expect(page.get_by_role("table", name="Correlation")).to_be_visible()
    kinds.get_by_role("button", name="Formula").click()
    page.get_by_label("Formula", exact=True).fill("where(nir > 0.1, (nir - red) / (nir + red), 0)")
    expect(page.get_by_test_id("caption-2")).to_contain_text("preview shown as formula")
    page.mouse.move(330, 300)
    shoot(page, "derive")
    kinds.get_by_role("button", name="Index").click()
    page.get_by_role("checkbox", name="NDVI Normalized").check(force=True)
    expect(page.get_by_test_id("caption-2")).to_contain_text("preview shown as ndvi")
    page.get_by_role("button", name="Make the layer").click()
    page.get_by_label("From", exact=True).select_option(label="NDVI, Summer pass")
    kinds.get_by_role("button", name="Class breaks").click()
    page.get_by_label("Start from").select_option("vegetation index")
    page.get_by_role("button", name="Fill the table").click()
    expect(page.get_by_test_id("caption-2")).to_contain_text("Class breaks")
    page.mouse.move(330, 300)
    shoot(page, "breaks")


def shoot(page: Page, name: str) -> None:
    page.wait_for_timeout(600)
    page.wait_for_function("() => document.body.dataset.busy === 'false'", timeout=30_000)
    page.wait_for_timeout(900)
    shot = Image.open(io.BytesIO(page.screenshot())).convert("RGB")
    for n_colours in (256, 192, 128):
        with_palette(shot, n_colours).save(FOLDER / f"{name}.png", optimize=True)
        if (FOLDER / f"{name}.png").stat().st_size <= MOST_BYTES:
            return


def with_palette(shot: Image.Image, n_colours: int) -> Image.Image:
    """In so many colours: of half of them those that fill some spot as they are, so that the page
    and the class list keep theirs, and the others for what is photographed."""
    packed = np.asarray(shot).astype(np.uint32) @ np.array([2**16, 2**8, 1], np.uint32)
    colours, counts = np.unique(packed, return_counts=True)
    order = np.argsort(-counts)[: n_colours // 2]
    flat = [int(c) for c in colours[order][counts[order] >= LEAST_OF_A_SPOT]]
    exact = [channel for c in flat for channel in c.to_bytes(3, "big")]
    others = shot.quantize(n_colours - len(flat)).getpalette() or []
    palette = Image.new("P", (1, 1))
    palette.putpalette([*exact, *others])
    return shot.quantize(palette=palette, dither=Image.Dither.NONE)


if __name__ == "__main__":
    main(sys.argv[1])
