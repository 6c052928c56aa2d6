"""The study's page as a user handles it: places on the map, sites, captions, colours."""

import io
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import numpy.typing as npt
from PIL import Image
from playwright.sync_api import ConsoleMessage, Locator, Response, expect

from kitesort.demo.delivery import ORIGIN
from support.eventually import eventually
from support.window import Window

RESOLUTION = 4.0  # metres per screen pixel: a scene pixel is 2.5 screen pixels
CENTRE = [ORIGIN[0] + 5_000.0, ORIGIN[1] - 2_900.0]
Place = tuple[float, float]


class StudyPage:
    """``said`` collects what the console complained of, but for what a test expects."""

    def __init__(self, window: Window, address: str, study_id: int, folder: Path) -> None:
        self.window = window
        self.page = page = window.page
        self.address = address
        self.study_id = study_id
        self.folder = folder
        self.expected: tuple[str, ...] = ()
        self._said: list[str] = []
        self._listeners: dict[Any, Callable[[Any], None]] = {
            "console": self._listen, "response": self._watch, "pageerror": self._stumble,
        }  # fmt: skip
        for event, listener in self._listeners.items():
            page.on(event, listener)

    def _listen(self, message: ConsoleMessage) -> None:
        # Chromium's advice about reading pixels back, which the map does to find what is hit.
        if "willReadFrequently" in message.text:
            return
        if message.type in ("error", "warning"):
            self._said.append(message.text)

    def _stumble(self, error: Exception) -> None:
        self._said.append(str(error))

    def _watch(self, response: Response) -> None:
        """What the server refused, with its sentence, to be read when a test fails."""
        if response.status >= 400:
            print(f"{response.status} {response.request.method} {response.url}")

    def complaints(self) -> list[str]:
        return [s for s in self._said if not any(word in s for word in self.expected)]

    def open(self, station: str) -> None:
        self.window.enter(f"/studies/{self.study_id}/{station}")
        expect(self.pane(0)).to_be_visible()
        dismiss = self.page.get_by_role("button", name="Dismiss", exact=True)
        if dismiss.is_visible():
            dismiss.click()
        expect(self.page.get_by_role("navigation").get_by_text("sites")).to_have_text("46 sites")
        self.settle()
        self.window.remember()

    def close(self) -> list[str]:
        """Leave the study; what was complained of."""
        self.window.leave()
        for event, listener in self._listeners.items():
            self.page.remove_listener(event, listener)
        return self.complaints()

    def go(self, station: str) -> None:
        self.page.get_by_role("link", name=station).click()
        expect(self.page.get_by_role("heading", level=1)).to_have_text(station)

    def pane(self, index: int) -> Locator:
        return self.page.get_by_role("application").nth(index)

    def caption(self, index: int) -> Locator:
        return self.page.get_by_test_id(f"caption-{index + 1}")

    def settle(self) -> None:
        self.window.settle()

    def at(self, row: float, column: float, pane: int = 0) -> Place:
        """Where a place given in scene pixels lies on the screen."""
        box = self.pane(pane).bounding_box()
        assert box is not None
        x, y = ORIGIN[0] + column * 10, ORIGIN[1] - row * 10
        return (
            box["x"] + box["width"] / 2 + (x - CENTRE[0]) / RESOLUTION,
            box["y"] + box["height"] / 2 - (y - CENTRE[1]) / RESOLUTION,
        )

    def point_to(self, row: float, column: float, pane: int = 0) -> None:
        self.page.mouse.move(*self.at(row, column, pane))

    def click(self, row: float, column: float, pane: int = 0) -> None:
        self.page.mouse.click(*self.at(row, column, pane))

    def draw_outline(self, corners: list[Place], pane: int = 0) -> None:
        """A click per corner, the last one twice."""
        self.page.keyboard.press("o")
        for row, column in corners[:-1]:
            self.click(row, column, pane)
        self.page.mouse.dblclick(*self.at(*corners[-1], pane))

    def draw_rectangle(self, first: Place, second: Place, pane: int = 0) -> None:
        self.page.keyboard.press("r")
        self.click(*first, pane)
        self.point_to(*second, pane)
        self.click(*second, pane)

    def drag(self, start: Place, end: Place) -> None:
        mouse = self.page.mouse
        mouse.move(*self.at(*start))
        mouse.down()
        mouse.move(*self.at((start[0] + end[0]) / 2, (start[1] + end[1]) / 2), steps=4)
        mouse.move(*self.at(*end), steps=4)
        mouse.up()

    def class_row(self, name: str) -> Locator:
        return self.page.get_by_role("listitem").filter(
            has=self.page.get_by_role("button", name=f"Change {name}")
        )

    def add_class(self, name: str) -> None:
        self.page.get_by_label("Name of a new class").fill(name)
        self.page.get_by_role("button", name="Add class").click()

    def counts(self, name: str) -> tuple[int, int]:
        """Sites and pixels of a class as the card says."""
        texts = self.class_row(name).locator("p").all_inner_texts()
        numbers = [text.split(",")[0].replace("\u202f", "") for text in texts if text != name]
        return int(numbers[0]), int(numbers[1])

    def expect_counts(self, name: str, n_sites: int, n_pixels: int) -> None:
        eventually(lambda: self.counts(name) == (n_sites, n_pixels))

    def picture(self, pane: int) -> npt.NDArray[np.uint8]:
        """Pixels (rows, columns, 3) of a pane as they are on the screen."""
        content = self.pane(pane).screenshot()
        return np.asarray(Image.open(io.BytesIO(content)).convert("RGB"))

    def colour_at(self, row: float, column: float, pane: int) -> tuple[int, int, int]:
        box = self.pane(pane).bounding_box()
        assert box is not None
        x, y = self.at(row, column, pane)
        red, green, blue = self.picture(pane)[round(y - box["y"]), round(x - box["x"])]
        return int(red), int(green), int(blue)

    def stored_sites(self) -> list[dict[str, Any]]:
        answer = self.page.request.get(
            f"{self.address}/api/studies/{self.study_id}/sites?scene_id={self.scene_id}"
        )
        sites: list[dict[str, Any]] = answer.json()
        return sites

    @property
    def scene_id(self) -> int:
        answer = self.page.request.get(f"{self.address}/api/studies/{self.study_id}")
        return int(answer.json()["view"]["sceneId"])
