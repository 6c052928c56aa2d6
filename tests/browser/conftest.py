"""A running server and worker on the demo study, and a real Chromium that opens it."""

import os
import signal
import subprocess
import sys
import time
import urllib.request
from collections.abc import Generator, Iterator
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import pytest
from playwright.sync_api import Browser, expect, sync_playwright

from kitesort.demo.generate import DemoStudy
from kitesort.launch.pictures import pictures_json
from kitesort.launch.postgres import free_port
from kitesort.store.studies import list_studies
from support.catalogue import served_catalogue
from support.database import TestStore, make_page_store, reset_store
from support.study_page import CENTRE, RESOLUTION, StudyPage
from support.window import Window

expect.set_options(timeout=25_000)  # a shared machine may be slow for a while

VIEW = {"place": {"centre": CENTRE, "resolution": RESOLUTION}}
CHROMIUM = "/usr/bin/chromium"
FLAGS = [
    "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
]  # fmt: skip


FAILED = pytest.StashKey[bool]()


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(item: pytest.Item) -> Generator[None, pytest.TestReport, Any]:
    report = yield
    if report.failed:
        item.stash[FAILED] = True
    return report


@dataclass(frozen=True)
class Application:
    """Where it answers, and its parts, each a process of its own."""

    url: str
    server: subprocess.Popen[bytes]
    worker: subprocess.Popen[bytes]


def start_part(outside: dict[str, str], *arguments: str) -> subprocess.Popen[bytes]:
    """A part on the store in use, told what lies outside of it."""
    return subprocess.Popen(
        [sys.executable, "-m", "kitesort.launch", *arguments],
        env=os.environ | outside | {"PYTHONPATH": "src"},
    )


@pytest.fixture(scope="session")
def catalogue(demo: DemoStudy) -> Iterator[str]:
    """The stand-in catalogue with all its made-up scenes."""
    with served_catalogue(demo.folder / "catalogue") as address:
        yield address


@pytest.fixture(scope="session")
def page_store(demo: DemoStudy) -> TestStore:
    return make_page_store(demo.folder, VIEW)


@pytest.fixture(scope="session")
def application(page_store: TestStore, demo: DemoStudy, catalogue: str) -> Iterator[Application]:
    page_store.use()
    outside = {
        "KITESORT_CATALOGUES": catalogue,
        "KITESORT_PICTURES": pictures_json((), urlsplit(catalogue).port),
        "KITESORT_FOLDERS": str(demo.folder),
    }
    port = free_port()
    url = f"http://127.0.0.1:{port}"
    server = start_part(outside, "server", "--port", str(port))
    made = Application(url, server, start_part(outside, "worker"))
    deadline = time.monotonic() + 60
    while True:
        with suppress(OSError), urllib.request.urlopen(f"{url}/api/health", timeout=2):
            break
        assert time.monotonic() < deadline
        time.sleep(0.1)
    yield made
    for part in (made.server, made.worker):
        part.terminate()
    for part in (made.server, made.worker):
        part.wait(20)


@pytest.fixture
def address(application: Application) -> str:
    return application.url


@pytest.fixture
def resting_worker(application: Application) -> Iterator[None]:
    """Runs wait for their turn for as long as the test needs."""
    application.worker.send_signal(signal.SIGSTOP)
    yield
    application.worker.send_signal(signal.SIGCONT)


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        made = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        yield made
        made.close()


@pytest.fixture
def study_id(application: Application, page_store: TestStore) -> int:
    """The demo study as it is first opened, but for a known place in the panes."""
    assert application
    page_store.use()
    reset_store()
    (study,) = list_studies()
    return study.id


@pytest.fixture(scope="session")
def window(browser: Browser, application: Application) -> Iterator[Window]:
    made = Window(browser, application.url)
    yield made
    made.spend()


@pytest.fixture
def fresh_window(window: Window) -> None:
    """For tests of what happens when the page is loaded."""
    window.spend()


@pytest.fixture
def study_page(
    request: pytest.FixtureRequest, window: Window, address: str, study_id: int, tmp_path: Path
) -> Iterator[StudyPage]:
    """The study opened in a window; nothing unexpected may be said on its console."""
    opened = StudyPage(window, address, study_id, tmp_path)
    try:
        opened.open("train")
    except BaseException:
        window.spend()
        raise
    yield opened
    if FAILED in request.node.stash:
        window.spend()
    else:
        assert opened.close() == []
