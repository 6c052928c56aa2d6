"""The first page in a real browser: time until both panes show their tiles, weight of scripts."""

import gzip
from pathlib import Path
from time import perf_counter

from playwright.sync_api import Browser, sync_playwright

from bench.result import Result
from bench.server import Served
from bench.sizes import size

CHROMIUM = "/usr/bin/chromium"
FLAGS = [
    "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
]  # fmt: skip
OPENINGS = size(4, 1)
DIST = Path(__file__).parents[1] / "web" / "dist" / "assets"


def first_page(served: Served) -> list[Result]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        seconds = min(_open(browser, served)[0] for _ in range(OPENINGS))
        scripts = _open(browser, served)[1]
        browser.close()
    weight = sum(len(gzip.compress((DIST / name).read_bytes())) for name in scripts) / 1000
    return [
        Result("first page: both panes and the card are there", seconds, None, "", "s",
               "below 2 s", seconds < 2),
        Result("scripts of the map page, packed", weight, None, "", "kB", "below 700 kB",
               weight < 700),
    ]  # fmt: skip


def _open(browser: Browser, served: Served) -> tuple[float, list[str]]:
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    started = perf_counter()
    page.goto(f"{served.url}/studies/{served.study_id}/train", wait_until="commit")
    page.get_by_role("application").nth(1).wait_for()
    page.get_by_role("button", name="Classify the whole scene").wait_for()
    seconds = perf_counter() - started
    page.wait_for_timeout(2000)
    names: list[str] = page.evaluate(
        "() => performance.getEntriesByType('resource').map((r) => r.name)"
        ".filter((n) => n.endsWith('.js')).map((n) => n.split('/').pop())"
    )
    context.close()
    return seconds, names
