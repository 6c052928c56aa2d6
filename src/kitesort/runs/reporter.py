"""Progress of a run, stored now and then."""

import time

from kitesort.core.engine import Progress, Watch
from kitesort.store.runs import report_progress, shall_stop

SECONDS_BETWEEN_REPORTS = 0.25


class Reporter:
    """Stores progress now and then, and remembers whether the user wants to stop."""

    def __init__(self, run_id: int) -> None:
        self._run_id = run_id
        self._last = 0.0
        self.cancelled = False

    def __call__(self, progress: Progress) -> None:
        if self._is_due():
            self.cancelled = report_progress(
                self._run_id, 100 * progress.done, progress.seconds_left
            )

    def is_cancelled(self) -> bool:
        """Asked now and then too, of work that does not know how far it is."""
        if not self.cancelled and self._is_due():
            self.cancelled = shall_stop(self._run_id)
        return self.cancelled

    def _is_due(self) -> bool:
        """Whether the database may be asked again; if so, it is."""
        now = time.monotonic()
        if now - self._last < SECONDS_BETWEEN_REPORTS:
            return False
        self._last = now
        return True


def watch_run(run_id: int) -> Watch:
    """What a run is watched by."""
    reporter = Reporter(run_id)
    return Watch(reporter, reporter.is_cancelled)
