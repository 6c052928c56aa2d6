"""A part ends when its starter has gone, however that happened."""

import os
import signal
import threading
import time

LOOK_SECONDS = 0.5
GRACE_SECONDS = 5.0


def end_with_starter() -> None:
    """Watch, in the background, whether this process still belongs to the one that started it."""
    starter = os.getppid()

    def watch() -> None:
        while os.getppid() == starter:
            time.sleep(LOOK_SECONDS)
        os.kill(os.getpid(), signal.SIGTERM)
        time.sleep(GRACE_SECONDS)
        os._exit(1)  # the database is gone too, so that an orderly end may hang

    threading.Thread(target=watch, name="starter watch", daemon=True).start()
