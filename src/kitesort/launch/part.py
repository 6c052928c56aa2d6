"""A process of ours that is started again when it ends by itself."""

import pwd
import subprocess
import sys
import time
from dataclasses import dataclass, field

from kitesort.launch.rights import as_user

FIRST_PAUSE_SECONDS = 1.0
LONGEST_PAUSE_SECONDS = 15.0
# One that has lived so long had no trouble at its start.
SOUND_SECONDS = 60.0
STOP_SECONDS = 10.0


@dataclass
class Pause:
    """How long to wait before something is started again: longer each time that it ends at once."""

    seconds: float = 0.0
    due: float | None = None

    def begin(self, lived: float) -> None:
        longer = min(LONGEST_PAUSE_SECONDS, 2 * self.seconds)
        self.seconds = longer if self.seconds and lived < SOUND_SECONDS else FIRST_PAUSE_SECONDS
        self.due = time.monotonic() + self.seconds

    @property
    def over(self) -> bool:
        return self.due is not None and time.monotonic() >= self.due


@dataclass
class Part:
    """``name`` is the command's part; ``words`` what it is called on the terminal;
    ``user``: whom it runs as, ourselves where nobody is named."""

    name: str
    words: str
    arguments: tuple[str, ...] = ()
    user: pwd.struct_passwd | None = None
    process: subprocess.Popen[bytes] | None = field(default=None, repr=False)
    _started: float = 0.0
    _pause: Pause = field(default_factory=Pause)

    def start(self) -> None:
        # A session of its own: Ctrl-C in the terminal reaches us alone, and we stop in order.
        self.process = subprocess.Popen(
            [sys.executable, "-m", "kitesort.launch", self.name, *self.arguments],
            stdin=subprocess.DEVNULL,
            start_new_session=True,
            **as_user(self.user),
        )
        self._started = time.monotonic()
        self._pause.due = None

    @property
    def runs(self) -> bool:
        return self.process is not None and self.process.poll() is None

    def look_after(self) -> None:
        """Start it again once it has ended and a pause is over."""
        if self.runs:
            return
        if self._pause.due is None:
            print(f"{self.words} stopped; it is started again.", file=sys.stderr, flush=True)
            self._pause.begin(time.monotonic() - self._started)
        elif self._pause.over:
            self.start()

    def ask_to_stop(self) -> None:
        if self.process is not None and self.runs:
            self.process.terminate()

    def stop(self) -> None:
        """Wait until it has ended, and end it where that takes too long."""
        if self.process is None:
            return
        try:
            self.process.wait(STOP_SECONDS)
        except subprocess.TimeoutExpired:
            self.kill()

    def kill(self) -> None:
        if self.process is not None and self.runs:
            self.process.kill()
            self.process.wait()
