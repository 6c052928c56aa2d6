"""A browser window that one test after another may use.

Loading the page costs seconds of a processor, entering a study in a loaded page a fraction of
one. What belongs to a study ends with it (a test walks between studies); whatever else a test may
have left behind makes the window a spent one, and the next test gets a new one.
"""

from typing import Final

from playwright.sync_api import Browser, BrowserContext, Page, TimeoutError

SIZE: Final = {"width": 1280, "height": 800}
SETTLE_MS: Final = 30_000
LEAVE_MS: Final = 5_000
QUIET_FRAMES: Final = 8
QUIET = """(enough) => {
  const quiet = document.body.dataset.busy === 'false';
  window.quietFrames = quiet ? window.quietFrames + 1 : 0;
  return window.quietFrames > enough;
}"""
KEPT = "() => JSON.stringify(Object.entries(localStorage).sort())"
GO = """(path) => {
  history.pushState({}, '', path);
  dispatchEvent(new PopStateEvent('popstate'));
}"""


class Window:
    """``enter`` leads to a path of the page; ``spend`` when it is not to be used again."""

    def __init__(self, browser: Browser, address: str) -> None:
        self._browser = browser
        self._address = address
        self._context: BrowserContext | None = None
        self._page: Page | None = None
        self._kept = ""

    @property
    def page(self) -> Page:
        if self._page is None:
            self._context = self._browser.new_context(viewport=SIZE, accept_downloads=True)
            self._page = self._context.new_page()
        return self._page

    def enter(self, path: str) -> None:
        """By the page's own way when it is loaded, else by loading it."""
        if self.page.url.startswith(self._address):
            self.page.evaluate(GO, path)
        else:
            self.page.goto(self._address + path)

    def settle(self, timeout_ms: int = SETTLE_MS) -> None:
        """Wait until nothing that was asked for is on its way any more: requests, tiles,
        movements, pauses before asking or storing; and what came has been drawn."""
        self.page.evaluate("() => (window.quietFrames = 0)")
        self.page.wait_for_function(QUIET, arg=QUIET_FRAMES, timeout=timeout_ms)

    def remember(self) -> None:
        """What the browser keeps now is what a fresh window keeps."""
        self._kept = self.page.evaluate(KEPT)

    def leave(self) -> None:
        """To an address that names no study, once what was asked for has come; a window that
        waits in vain, or keeps something new, is spent."""
        page = self.page
        page.unroute_all(behavior="ignoreErrors")
        page.set_viewport_size(SIZE)
        try:
            self.settle(LEAVE_MS)
            page.evaluate(GO, "/studies/none/train")
            page.mouse.move(0, 0)
            page.get_by_text("The address names no study.").wait_for(timeout=LEAVE_MS)
            self.settle(LEAVE_MS)
        except TimeoutError:
            self.spend()
        else:
            if page.evaluate(KEPT) != self._kept:
                self.spend()

    def spend(self) -> None:
        if self._context is not None:
            self._context.close()
        self._context = self._page = None
