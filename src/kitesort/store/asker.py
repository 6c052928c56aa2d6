"""Which window of the browser asks, for as long as its request lasts."""

from contextvars import ContextVar

NOBODY = ""  # a program, or the start command

asking_window: ContextVar[str] = ContextVar("asking_window", default=NOBODY)
