"""Stops the database when its starter has gone, however that happened.

The other parts see to that themselves (``orphan``); the database's server does not. Run as a
script with the server's process id: it waits until its standard input, which only the starter
holds open, comes to its end.
"""

import os
import signal
import subprocess
import sys
import time

ORDERLY_SECONDS = 6.0


def guard_process(pid: int) -> "subprocess.Popen[bytes]":
    """A guard of a process; it ends with it, or after it has ended it."""
    return subprocess.Popen(
        [sys.executable, "-S", "-E", __file__, str(pid)],
        stdin=subprocess.PIPE,
        start_new_session=True,
    )


def _guard(pid: int) -> None:
    sys.stdin.buffer.read()
    try:
        os.kill(pid, signal.SIGINT)  # a fast shutdown: transactions are rolled back
        deadline = time.monotonic() + ORDERLY_SECONDS
        while time.monotonic() < deadline:
            os.kill(pid, 0)
            time.sleep(0.1)
        os.kill(pid, signal.SIGQUIT)  # at once; the log is read at the next start
    except ProcessLookupError:
        return


if __name__ == "__main__":
    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, signal.SIG_IGN)
    _guard(int(sys.argv[1]))
