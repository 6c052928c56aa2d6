"""A running server and worker on the demo study, and a real Chromium that opens it."""

import os
import signal
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from urllib.parse import urlsplit

import pytest
from playwright.sync_api import Browser, expect, sync_playwright

from kitesort.demo.generate import DemoStudy, generate_catalogue
from kitesort.launch.demo_study import install_study
from kitesort.launch.pictures import pictures_json
from kitesort.launch.postgres import free_port
from kitesort.store.scenes import list_scenes
from kitesort.store.scheme import list_classes
from kitesort.store.studies import update_study
from support.catalogue import served_catalogue
from support.database import empty_store
from support.study_page import CENTRE, RESOLUTION, StudyPage

expect.set_options(timeout=25_000)  # a shared machine may be slow for a while

CHROMIUM = "/usr/bin/chromium"
FLAGS = [
    "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
]  # fmt: skip


@dataclass(frozen=True)
class Application:
    """Where it answers, and its parts, each a process of its own."""

    url: str
    server: subprocess.Popen[bytes]
    worker: subprocess.Popen[bytes]


def start_part(*arguments: str) -> subprocess.Popen[bytes]:
    return subprocess.Popen(
        [sys.executable, "-m", "kitesort.launch", *arguments],
        env=os.environ | {"PYTHONPATH": "src"},
    )


@pytest.fixture(scope="session")
def catalogue(demo: DemoStudy) -> Iterator[str]:
    """The stand-in catalogue with all its made-up scenes."""
    with served_catalogue(generate_catalogue(demo.folder)) as address:
        yield address


@pytest.fixture(scope="session")
def application(database: str, demo: DemoStudy, catalogue: str) -> Iterator[Application]:
    assert database
    os.environ["KITESORT_CATALOGUES"] = catalogue
    os.environ["KITESORT_PICTURES"] = pictures_json((), urlsplit(catalogue).port)
    os.environ["KITESORT_FOLDERS"] = str(demo.folder)
    port = free_port()
    url = f"http://127.0.0.1:{port}"
    made = Application(url, start_part("server", "--port", str(port)), start_part("worker"))
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
def study_id(address: str, demo: DemoStudy) -> Iterator[int]:
    """The demo study as it is first opened, but for a known place in the panes."""
    assert address
    empty_store()
    made = install_study(demo.folder)
    summer = next(scene for scene in list_scenes(made) if scene.title == "Summer pass")
    place = {"centre": CENTRE, "resolution": RESOLUTION}
    update_study(made, view={"sceneId": summer.id, "place": place})
    assert len(list_classes(made)) == 9
    yield made
    empty_store()


@pytest.fixture
def study_page(
    browser: Browser, address: str, study_id: int, tmp_path: Path
) -> Iterator[StudyPage]:
    """The study opened in a new window; nothing unexpected may be said on its console."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, accept_downloads=True)
    opened = StudyPage(context.new_page(), address, study_id, tmp_path)
    opened.open("train")
    yield opened
    said = opened.complaints()
    context.close()
    assert said == []
